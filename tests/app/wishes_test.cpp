// Nothing moves that was not asked for now: a wish is of one moment, one program, one machine; a start that waits, an
// old notice, a resume and a pause on changed ground, a zero that the controller holds otherwise.
#include "app/widgets/field.h"
#include "core/book/record.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

const char* const with_pause =
    "G21 G90\nT1 M6\nS12000 M3\nG0 Z8\nG0 X20 Y20\nG1 Z-1 F300\nG1 X60 F1500\nG0 Z8\nT2 M6\nS12000 M3\nG0 X20 "
    "Y30\nG1 Z-1 F300\nG1 X60 F1500\nG0 Z8\nM5\nM30\n";

/// A line that is cut for a second and more at twenty times the speed: it is seen on a busy computer too.
const char* const slow_part = "G21 G90\nS12000 M3\nG0 Z8\nG0 X20 Y20\nG1 Z-1 F300\nG1 X60 F100\nG0 Z8\nM5\nM30\n";

class Wishes : public WindowTest {
 protected:
  void ready_machine(const char* program = slow_part) {
    ready_for_a_job();
    write("part.ngc", program);
    load("part.ngc");
    sheet("cut");
    // The dial stands at its figure already: a start asks for nothing more.
    session_->editor().note_in_book([](Book& b) { b.machine.spindle.dial.clear(); });
    ASSERT_TRUE(wait_for([this] { return session_->job().checked(); }));
    ASSERT_EQ(session_->job().stops(), 0u);
  }
  /// Presses Start while the check is on its way.
  void press_start_too_early() {
    session_->editor().note_in_book([](Book& b) { b.job.stock_name += "."; });
    ASSERT_FALSE(session_->job().checked());
    click("start");
    ASSERT_TRUE(session_->job().start_waits());
  }
  void expect_it_was_dropped() {
    EXPECT_FALSE(session_->job().start_waits());
    EXPECT_TRUE(text("notice-text").contains("start was dropped")) << text("notice-text").toStdString();
    ASSERT_TRUE(wait_for([this] { return session_->job().checked(); }));
    EXPECT_TRUE(told(12));
    EXPECT_FALSE(session_->job().in_job());
    EXPECT_EQ(session_->machine().status().spindle_rpm, 0);
  }
  void abandon() {
    session_->job().abandon_cut();
    ASSERT_TRUE(wait_for([this] { return !session_->job().in_job(); }));
    ASSERT_TRUE(wait_ready());
  }
  /// Cuts, and abandons it in its middle.
  void cut_half() {
    session_->machine().connection()->set_speed(20);
    click("start");
    ASSERT_TRUE(wait_for([this] { return session_->job().cutting() && session_->job().cut_line() >= 4; }));
    abandon();
    session_->machine().connection()->set_speed(0);
    ASSERT_GT(session_->job().resume_line(), 0u);
  }
  /// Cuts as far as the program wants another tool.
  void cut_to_the_pause() {
    ready_machine(with_pause);
    click("start");
    ASSERT_TRUE(wait_for([this] { return session_->job().tool_awaited() > 0; }, 60000))
        << text("notice-text").toStdString();
    ASSERT_TRUE(wait_ready());
  }
  QPushButton* offered(const char* words) {
    for (auto* b : window_->findChildren<QPushButton*>())
      if (b->objectName().startsWith("notice-action") && b->isVisible() && b->text().contains(words)) return b;
    return nullptr;
  }
  bool moved_from(const MachinePosition& at) { return !(session_->machine().status().position == at); }
};

TEST_F(Wishes, AStartThatWaitsForTheCheckGoesOnWhenNothingElseHappens) {
  ready_machine();
  press_start_too_early();
  EXPECT_EQ(find<QPushButton>("start")->isEnabled(), false);
  EXPECT_TRUE(find<QPushButton>("start")->text().contains("Checking"));
  EXPECT_TRUE(wait_for([this] { return session_->job().cut_finished(); }, 60000)) << text("notice-text").toStdString();
}

TEST_F(Wishes, AStartThatWaitsIsDroppedByAJog) {
  ready_machine();
  press_start_too_early();
  session_->machine().jog(Axis::z, 1);
  expect_it_was_dropped();
}

TEST_F(Wishes, AStartThatWaitsIsDroppedByHold) {
  ready_machine();
  press_start_too_early();
  session_->machine().hold();
  expect_it_was_dropped();
}

TEST_F(Wishes, AStartThatWaitsIsDroppedByAnotherSheet) {
  ready_machine();
  press_start_too_early();
  window_->open_sheet("steps_per_unit");
  expect_it_was_dropped();
}

TEST_F(Wishes, AStartThatWaitsIsDroppedByAChangeOfTheBook) {
  ready_machine();
  press_start_too_early();
  session_->editor().change_book("Other stock", [](Book& b) { b.job.stock_size[2] = 20; });
  expect_it_was_dropped();
}

TEST_F(Wishes, AnOldNoticeDoesNotCutAnotherProgram) {
  ready_machine();
  cut_half();
  ASSERT_NE(offered("Resume from line"), nullptr) << text("notice-text").toStdString();
  write("other.ngc", good_part);
  session_->job().load_program(folder_.filePath("other.ngc"));
  ASSERT_TRUE(wait_for([this] { return session_->job().program()->path.endsWith("other.ngc"); }));
  ASSERT_TRUE(wait_for([this] { return offered("Resume from line") == nullptr; }));
  EXPECT_EQ(session_->job().resume_line(), 0u);
  EXPECT_TRUE(told());
  EXPECT_EQ(find<QLineEdit>("resume-line")->text(), "") << "the line was of the other program";
}

TEST_F(Wishes, AnActThatIsPressedAsItsWorldGoesDoesNothing) {
  bool holds = true;
  int done = 0;
  session_->notices().notify(
      {NoticeLevel::attention, "Of one moment", {{"Do it", [&] { ++done; }, [&] { return holds; }}}});
  ASSERT_NE(offered("Do it"), nullptr);
  holds = false;
  QTest::mouseClick(offered("Do it"), Qt::LeftButton);
  EXPECT_EQ(done, 0);
  bool reason = true;
  session_->notices().notify({NoticeLevel::attention, "For a reason", {}, [&] { return reason; }});
  ASSERT_TRUE(find<QWidget>("notice")->isVisible());
  reason = false;
  EXPECT_TRUE(wait_for([this] { return !find<QWidget>("notice")->isVisible(); }));
}

TEST_F(Wishes, StartedTwiceTheWindowStillKnowsThatItCuts) {
  ready_machine();
  session_->editor().note_in_book([](Book& b) { b.job.checklist = {"clamped"}; });
  ASSERT_TRUE(wait_for([this] { return session_->job().checked(); }));
  session_->machine().connection()->set_speed(5);
  click("start");
  ASSERT_NE(offered("Start even so"), nullptr) << text("notice-text").toStdString();
  session_->job().start_cut(true);
  ASSERT_TRUE(wait_for([this] { return session_->job().cutting(); }));
  EXPECT_TRUE(wait_for([this] { return offered("Start even so") == nullptr; }));
  session_->job().start_cut(true);
  EXPECT_TRUE(session_->job().cutting());
  EXPECT_TRUE(text("notice-text").contains("being cut already")) << text("notice-text").toStdString();
  session_->job().lift_then_go_to_zero(5);
  EXPECT_TRUE(session_->job().cutting());
  session_->job().resume_cut(4);
  EXPECT_TRUE(session_->job().cutting());
  abandon();
}

TEST_F(Wishes, AMovedZeroIsSaidBeforeACutIsResumed) {
  ready_machine();
  cut_half();
  const auto line = session_->job().resume_line();
  jog_to(Axis::x, session_->machine().status().work_zero.x + 50);
  session_->machine().set_work_zero({Axis::x});
  ASSERT_TRUE(wait_for([this] { return session_->job().checked(); }));
  const MachinePosition at = session_->machine().status().position;
  session_->job().resume_cut(line);
  EXPECT_TRUE(text("notice-text").contains("zero of X was moved by 50.00 mm")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->job().in_job());
  EXPECT_FALSE(moved_from(at));
  ASSERT_NE(offered("Resume even so"), nullptr);
  QTest::mouseClick(offered("Resume even so"), Qt::LeftButton);
  EXPECT_TRUE(wait_for([this] { return session_->job().cut_finished(); }, 60000)) << text("notice-text").toStdString();
}

TEST_F(Wishes, AMovedZeroIsSaidAfterARestartToo) {
  ready_machine();
  cut_half();
  const QString book = session_->editor().book_path();
  // What a killed window leaves: progress that was not ended.
  QFile file(book + ".progress");
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  QByteArray left = file.readAll();
  file.close();
  left.replace("{\"ended\":true}\n", "");
  session_->machine().set_work_zero({Axis::y}, 0);
  close();
  ASSERT_TRUE(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
  file.write(left);
  file.close();
  open();
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("was broken off at line"); }))
      << text("notice-text").toStdString();
  home();
  ASSERT_TRUE(wait_for([this] { return session_->job().checked(); }));
  session_->job().resume_cut(session_->job().resume_line());
  EXPECT_TRUE(text("notice-text").contains("zero of Y was moved")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->job().in_job());
}

TEST_F(Wishes, WhatStopsAStartStopsAResumeToo) {
  ready_machine();
  cut_half();
  session_->editor().change_book("A clamp", [](Book& b) {
    const auto x = *b.job.zero(Axis::x), y = *b.job.zero(Axis::y);
    b.job.clamps = {{"clamp 1", x.mm + 40, y.mm + 20, 40, 40, 30}};
  });
  ASSERT_TRUE(wait_for([this] { return session_->job().checked(); }));
  ASSERT_GT(session_->job().stops(), 0u);
  session_->job().resume_cut(session_->job().resume_line());
  EXPECT_TRUE(text("notice-text").contains("ready check found")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->job().in_job());
}

TEST_F(Wishes, APauseAtOneMachineIsNotGoneOnWithAtAnother) {
  cut_to_the_pause();
  ASSERT_TRUE(session_->machine().use_connection(Connection::to_stand_in({demo_.scenario, demo_.settings}).value()));
  EXPECT_FALSE(session_->job().in_job());
  const auto cut = newest(session_->editor().book(), "cut");
  ASSERT_TRUE(cut);
  EXPECT_EQ(session_->editor().book().history[*cut].result.at("ended"), "abandoned");
  session_->job().continue_after_pause();
  EXPECT_TRUE(told(6));
  EXPECT_FALSE(session_->job().in_job());
}

TEST_F(Wishes, AMovedZeroIsSaidBeforeAPauseIsGoneOnWith) {
  cut_to_the_pause();
  session_->job().tool_is_in();
  jog_to(Axis::z, -20);
  jog_to(Axis::x, session_->machine().status().work_zero.x + 50);
  session_->machine().set_work_zero({Axis::x});
  ASSERT_TRUE(wait_for([this] { return session_->job().checked(); }));
  session_->job().continue_after_pause();
  EXPECT_TRUE(text("notice-text").contains("zero of X was moved by 50.00 mm")) << text("notice-text").toStdString();
  EXPECT_TRUE(session_->job().awaited());
  EXPECT_FALSE(session_->job().cutting());
}

TEST_F(Wishes, TheZeroThatIsShownIsTheOneThatIsGoneTo) {
  ready_machine();
  const double shown = *session_->editor().book().job.zero(Axis::x);
  ASSERT_TRUE(session_->machine().link()->set_setting("work.g54.x_mm", shown + 70));
  session_->job().lift_then_go_to_zero(5);
  ASSERT_TRUE(wait_for([this] { return session_->job().run().state() == RunState::finished; }, 60000));
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(session_->machine().status().position.x, shown, 0.05);
}

TEST_F(Wishes, WithoutAZeroInTheBookNothingGoesToOne) {
  home();
  session_->editor().note_in_book([](Book& b) { b.job.frames[0] = {}; });
  const MachinePosition at = session_->machine().status().position;
  session_->job().lift_then_go_to_zero(5);
  EXPECT_TRUE(text("notice-text").contains("Set work zero first")) << text("notice-text").toStdString();
  EXPECT_TRUE(told(6));
  EXPECT_FALSE(moved_from(at));
}

TEST_F(Wishes, SetThemAllTheSameIsOfTheAxisItWasSaidOf) {
  home();
  sheet("limits");
  const auto z_before = session_->editor().book().machine.axis(Axis::z);
  click("axis-x");
  type("overtravel", "0.01");
  click("set-limits");
  ASSERT_NE(offered("Set them all the same"), nullptr) << text("notice-text").toStdString();
  auto* act = offered("Set them all the same");
  click("axis-z");
  QTest::mouseClick(act, Qt::LeftButton);
  EXPECT_TRUE(told());
  const auto& z = session_->editor().book().machine.axis(Axis::z);
  EXPECT_EQ(z.soft_min, z_before.soft_min);
  EXPECT_EQ(z.soft_max, z_before.soft_max);
  EXPECT_EQ(offered("Set them all the same"), nullptr);
}

TEST_F(Wishes, WhatIsBeingTypedKeepsTheUnitItWasBegunIn) {
  sheet("program");
  auto* field = find<LengthField>("stock-x");
  ASSERT_NE(field, nullptr);
  field->setFocus();
  field->selectAll();
  QTest::keyClicks(field, "300");
  session_->editor().note_in_book([](Book& b) { b.length_unit = "in"; });
  QTest::keyClick(field, Qt::Key_Return);
  EXPECT_NEAR(session_->editor().book().job.stock_size[0], 300, 1e-9) << "not 7620";
  EXPECT_EQ(field->text(), "11.811") << "and shown in inches from now on";
}

TEST_F(Wishes, LimitsThatOnlyTheControllerHasAreCarriedWithTheSteps) {
  home();
  session_->editor().note_in_book([](Book& b) {
    AxisSetup& x = b.machine.axis(Axis::x);
    x.soft_min.reset();
    x.soft_max.reset();
    x.steps_per_mm = 80;
  });
  auto& link = *session_->machine().link();
  ASSERT_TRUE(link.set_setting("axis.x.steps_per_mm", 80));
  ASSERT_TRUE(link.set_setting("axis.x.soft_min_mm", 10));
  ASSERT_TRUE(link.set_setting("axis.x.soft_max_mm", 500));
  const double at_home = link.setting("axis.x.home_coordinate_mm").value();
  ASSERT_TRUE(session_->machine().apply_steps(Axis::x, 100, {}, "Apply"));
  // The same places of the carriage, counted in longer millimetres.
  EXPECT_NEAR(link.setting("axis.x.soft_max_mm").value(), at_home + (500 - at_home) * 80 / 100, 1e-9);
  EXPECT_NEAR(link.setting("axis.x.soft_min_mm").value(), at_home + (10 - at_home) * 80 / 100, 1e-9);
  EXPECT_TRUE(session_->machine().setting_differences().empty());
  undo();
  EXPECT_NEAR(link.setting("axis.x.soft_max_mm").value(), 500, 1e-9);
  EXPECT_EQ(link.setting("axis.x.steps_per_mm").value(), 80);
}

TEST_F(Wishes, WhatWasUndoneOfflineIsToldWhenTheLineIsThereAgain) {
  home();
  Entry entry;
  ASSERT_TRUE(session_->machine().apply_steps(Axis::x, 85, entry, "Apply"));
  machine().break_down({0, standin::FaultKind::link_drop, Axis::x, 0});
  ASSERT_TRUE(wait_for([this] { return !session_->machine().up(); }));
  undo();
  ASSERT_NE(session_->editor().book().machine.axis(Axis::x).steps_per_mm, 85);
  ASSERT_TRUE(connect_again());
  EXPECT_TRUE(text("notice-text").contains("set otherwise than the book")) << text("notice-text").toStdString();
  EXPECT_EQ(session_->machine().link()->setting("axis.x.steps_per_mm"), 85);
}

TEST_F(Wishes, ABookThatIsOpenForReadingChangesNoController) {
  close();
  std::string later = read_file(demo_.book).value();
  later.replace(later.find("\"version\": 1"), 12, "\"version\": 9");
  QFile file(demo_.book);
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write(later.data(), static_cast<qint64>(later.size()));
  file.close();
  open();
  ASSERT_TRUE(session_->editor().read_only());
  auto& link = *session_->machine().link();
  const auto set = [&link](const char* name) { return link.setting(name).value_or(-1); };
  ASSERT_TRUE(link.set_setting("work.g54.x_mm", 7));
  session_->machine().home(true);
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().all_homed(); }, 60000));
  session_->machine().set_work_zero({Axis::x, Axis::y, Axis::z});
  EXPECT_TRUE(text("notice-text").contains("reading only")) << text("notice-text").toStdString();
  Entry entry;
  EXPECT_FALSE(session_->machine().apply_steps(Axis::x, 85, entry, "Apply"));
  ASSERT_TRUE(wait_ready());
  const auto seek = set("axis.x.home_seek_mm_min");
  sheet("limits");
  EXPECT_FALSE(find<QPushButton>("set-limits")->isEnabled());
  emit find<QPushButton>("slow-approach")->clicked();
  EXPECT_EQ(set("axis.x.home_seek_mm_min"), seek);
  // What is cut by would be another than what is shown: nothing starts.
  ASSERT_TRUE(link.set_setting("work.frame", 2));
  EXPECT_FALSE(session_->machine().send_work_zero());
  EXPECT_EQ(set("work.frame"), 2);
  session_->editor().change_book("Steps", [](Book& b) { b.machine.axis(Axis::x).steps_per_mm = 90; });
  undo();
  EXPECT_EQ(set("work.g54.x_mm"), 7);
  EXPECT_NE(set("axis.x.steps_per_mm"), 90);
  EXPECT_NE(set("axis.x.steps_per_mm"), 85);
}

}  // namespace
}  // namespace ypsi::app
