// From the ready check to the end of a job with several tools, in the real window on the simulated machine.
#include <QComboBox>
#include <QFile>
#include <QListWidget>
#include <QSlider>
#include <QTableWidget>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/sheets/program_sheet.h"
#include "core/book/record.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class JobWindow : public WindowTest {
 protected:
  bool checked() {
    return wait_for([this] { return session_->job().checked() && !session_->job().loader().busy(); });
  }
  bool found(const char* code) {
    for (const Finding& f : session_->job().findings())
      if (f.code == code) return true;
    return false;
  }
  void choose(const char* code) {
    auto* table = find<QTableWidget>("findings");
    for (std::size_t i = 0; i < session_->job().findings().size(); ++i)
      if (session_->job().findings()[i].code == code) table->setCurrentCell(static_cast<int>(i), 2);
  }
  const Entry* newest_of(const std::string& sheet) {
    const auto at = newest(session_->editor().book(), sheet);
    return at ? &session_->editor().book().history[*at] : nullptr;
  }
};

TEST_F(JobWindow, WhatStopsTheStartIsMendedOrAnsweredFor) {
  ready_for_a_job();
  write("off.ngc", "G21 G90\nG0 Z8\nG0 X20 Y20\nG1 Z-1 F300\nG1 X60 F1500\nG0 Z8\nM30\n");
  load("off.ngc");
  sheet("ready_check");
  ASSERT_TRUE(found("spindle_off"));
  EXPECT_TRUE(text("ready-verdict").contains("Not ready")) << text("ready-verdict").toStdString();
  sheet("cut");
  start();
  EXPECT_TRUE(text("notice-text").contains("ready check found")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->job().cutting()) << "it did not start";
  EXPECT_EQ(newest_of("ready_check"), nullptr);

  sheet("ready_check");
  choose("spindle_off");
  EXPECT_TRUE(text("ready-text").contains("spindle is off"));
  click("override");
  EXPECT_TRUE(text("notice-text").contains("Say why"));
  type("override-why", "dry run over foam");
  EXPECT_FALSE(text("ready-verdict").contains("Not ready")) << text("ready-verdict").toStdString();
  sheet("cut");
  start();
  ASSERT_TRUE(wait_for(
      [this] { return session_->job().run().state() == RunState::finished && !session_->job().in_job(); }, 60000));
  const Entry* kept = newest_of("ready_check");
  ASSERT_NE(kept, nullptr);
  EXPECT_EQ(kept->readings.size(), 1u);
  EXPECT_EQ(kept->result.at("stops").get<int>(), 1);

  // Loaded anew, the reason counts no more.
  load("off.ngc");
  EXPECT_EQ(session_->job().stops(), 1u);
}

TEST_F(JobWindow, FindingsFollowTheBookAndTheFileOnTheDisk) {
  ready_for_a_job();
  write("part.ngc", good_part);
  load("part.ngc");
  EXPECT_EQ(session_->job().stops(), 0u);
  sheet("program");
  click("clamp-add");
  session_->editor().note_in_book([&](Book& b) {
    b.job.clamps.back().x_mm = *b.job.zero(Axis::x) + 40;
    b.job.clamps.back().y_mm = *b.job.zero(Axis::y) + 20;
  });
  ASSERT_TRUE(checked());
  EXPECT_TRUE(found("clamp"));
  undo();  // the clamp, as the owner added it
  ASSERT_TRUE(checked());
  EXPECT_FALSE(found("clamp"));
  auto* where = find<QComboBox>("zero-on-stock");
  where->setCurrentIndex(2);
  emit where->activated(2);
  ASSERT_TRUE(checked());
  EXPECT_TRUE(found("off_stock")) << "zero front right: the part lies beside the stock";
  undo();

  write("part.ngc", QByteArray(good_part).replace("X60", "X99"));
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("has changed on the disk"); }))
      << text("notice-text").toStdString();
  EXPECT_NEAR(session_->job().program()->program.cut.high.x, 60, 1e-9) << "until the owner agrees";
  for (auto* button : find<QWidget>("notice")->findChildren<QPushButton*>())
    if (button->isVisible() && button->text().startsWith("Load and check")) button->click();
  ASSERT_TRUE(wait_for([this] { return std::fabs(session_->job().program()->program.cut.high.x - 99) < 1e-9; }));
}

TEST_F(JobWindow, TheOwnersPointsAreTickedBeforeTheStart) {
  ready_for_a_job();
  write("part.ngc", good_part);
  load("part.ngc");
  sheet("ready_check");
  type("new-point", "vacuum hose on");
  ASSERT_TRUE(checked());
  EXPECT_TRUE(told());
  EXPECT_TRUE(text("ready-verdict").contains("one point is not ticked")) << text("ready-verdict").toStdString();
  sheet("cut");
  start();
  EXPECT_TRUE(text("notice-text").contains("not ticked")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->job().cutting());
  sheet("ready_check");
  find<QListWidget>("checklist")->item(0)->setCheckState(Qt::Checked);
  EXPECT_EQ(session_->job().unticked(), 0u);
  sheet("cut");
  start();
  ASSERT_TRUE(wait_for(
      [this] { return session_->job().run().state() == RunState::finished && !session_->job().in_job(); }, 60000));
  EXPECT_EQ(session_->job().unticked(), 1u) << "the next part is held down anew";
}

TEST_F(JobWindow, ThePerimeterIsTracedAtTheSafeHeight) {
  ready_for_a_job();
  write("part.ngc", good_part);
  load("part.ngc");
  sheet("ready_check");
  const double safe = session_->editor().book().machine.safe_height;
  session_->machine().connection()->set_speed(3);
  click("trace");
  // At every slice of the machine's own time, however long this program was kept waiting between two of them.
  double lowest = 1e9, far = -1e9;
  const double x_zero = session_->machine().status().work_zero.x;
  const auto watch = QObject::connect(session_->machine().connection(), &Connection::ticked, [&] {
    const double x = machine().plant().place(Axis::x) - x_zero;
    if (x > 25) lowest = std::min(lowest, machine().plant().place(Axis::z));
    far = std::max(far, x);
  });
  ASSERT_TRUE(wait_for([&] { return session_->job().run().state() == RunState::finished; }, 60000));
  QObject::disconnect(watch);
  EXPECT_GE(lowest, safe - 0.05);
  EXPECT_NEAR(far, 60, 2);
  EXPECT_EQ(machine().plant().cut().sweeps().size(), 0u);
}

const char* const two_tools =
    "G21 G90\nT1 M6\nS12000 M3\nG0 Z20\nG0 X20 Y20\nG1 Z-1 F300\nG1 X60 F1500\nG0 Z20\nT2 M6\nS12000 M3\nG0 Z20\nG0 "
    "X20 "
    "Y40\nG1 Z-1 F300\nG1 X60 F1500\nG0 Z20\nM5\nM30\n";

TEST_F(JobWindow, AToolChangeWaitsForItsLengthAndGoesOn) {
  ready_for_a_job();
  session_->editor().note_in_book([](Book& b) {
    b.setter = ToolSetter{700, 40, 1, {-60}};
    for (auto& t : b.tools) t.offset = t.number == 2 ? std::optional(7.4) : std::nullopt;
  });
  write("two.ngc", two_tools);
  load("two.ngc");
  ASSERT_EQ(session_->job().stops(), 0u);
  const double zero = session_->machine().status().work_zero.z;
  const auto before = newest(session_->editor().book(), "cut");
  sheet("cut");
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().tool_awaited() == 2; }, 60000))
      << text("notice-text").toStdString();
  ASSERT_TRUE(wait_ready());
  EXPECT_TRUE(told());
  EXPECT_TRUE(session_->job().in_job());
  EXPECT_TRUE(find<QWidget>("awaited-tool")->isVisible());
  EXPECT_EQ(newest(session_->editor().book(), "cut"), before) << "it has not ended";
  EXPECT_FALSE(find<QPushButton>("start")->isVisible());
  EXPECT_TRUE(find<QPushButton>("continue")->text().contains("Tool 2 is in"));
  click("continue");
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().tool == 2; }));
  EXPECT_NEAR(session_->machine().status().work_zero.z - zero, 7.4, 1e-9) << "Z alone, by the tools' lengths";
  EXPECT_TRUE(told());
  EXPECT_TRUE(find<QPushButton>("continue")->text().contains("Continue with T2"));
  click("continue");
  ASSERT_TRUE(wait_for([this] { return !session_->job().in_job(); }, 10000))
      << text("notice-text").toStdString() << text("state").toStdString() << text("cut-message").toStdString()
      << session_->job().run().line_in_hand() << " awaited " << session_->job().tool_awaited();
  const Entry* cut = newest_of("cut");
  ASSERT_NE(cut, nullptr);
  EXPECT_EQ(cut->result.at("ended"), "finished");
  EXPECT_EQ(machine().plant().tool().number, 2);
}

TEST_F(JobWindow, ThePassIsToldAndTheDialIsWaitedFor) {
  ready_for_a_job();
  session_->editor().note_in_book([](Book& b) {
    b.machine.spindle.controlled = false;
    b.machine.spindle.dial = {{1, 10000}, {5, 14000}};
  });
  write("passes.ngc",
        "G21 G90\nS12000 M3\nG0 Z8\nG0 X20 Y20\nG1 Z-1 F300\nG1 X260 F400\nG0 Z8\nS13000 M3\nG0 X20\nG1 Z-2 F300\nG1 "
        "X260 F400\nG0 Z8\nM5\nM30\n");
  load("passes.ngc");
  sheet("cut");
  session_->machine().connection()->set_speed(20);
  click("start");
  EXPECT_TRUE(text("notice-text").contains("dial to 3.0")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->job().in_job()) << "before the dial is set nothing turns";
  click("notice-action-0");
  ASSERT_TRUE(wait_for([this] { return text("cut-facts").contains("Pass  1 of 2"); }))
      << text("cut-facts").toStdString();
  session_->machine().connection()->set_speed(0);
  ASSERT_TRUE(wait_for([this] { return session_->job().awaited().has_value(); }, 60000));
  ASSERT_TRUE(wait_ready());
  EXPECT_TRUE(told());
  EXPECT_TRUE(session_->job().in_job());
  EXPECT_TRUE(text("notice-text").contains("dial to 4.0")) << text("notice-text").toStdString();
  EXPECT_EQ(find<QPushButton>("continue")->text(), "Dial at 4.0, continue");
  EXPECT_EQ(text("state"), "Held");
  EXPECT_NEAR(session_->machine().status().position.x - session_->machine().status().work_zero.x, 260, 0.05)
      << "before the second pass";
  session_->machine().connection()->set_speed(20);
  click("continue");
  ASSERT_TRUE(wait_for([this] { return text("cut-facts").contains("Pass  2 of 2"); }, 20000))
      << text("cut-facts").toStdString();
  session_->machine().connection()->set_speed(0);
  ASSERT_TRUE(wait_for([this] { return !session_->job().in_job(); }, 60000));
  EXPECT_EQ(newest_of("cut")->result.at("ended"), "finished");
  // The dial stands at 4 now: the start asks for 3 again.
  ASSERT_TRUE(wait_ready());
  ASSERT_TRUE(checked());
  EXPECT_TRUE(told());
  click("start");
  EXPECT_TRUE(text("notice-text").contains("dial to 3.0")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->job().in_job());
}

TEST_F(JobWindow, AWayToZeroIsNoCut) {
  ready_for_a_job();
  write("part.ngc", good_part);
  load("part.ngc");
  session_->job().lift_then_go_to_zero(5);
  ASSERT_TRUE(wait_for([this] { return session_->job().run().state() == RunState::finished; }, 60000));
  sheet("cut");
  EXPECT_TRUE(told());
  EXPECT_EQ(text("cut-percent"), "0 %") << "nothing of the program was cut";
  EXPECT_TRUE(text("cut-line").contains("not started")) << text("cut-line").toStdString();
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().cut_finished(); }, 60000));
  ASSERT_TRUE(wait_ready());
  session_->job().lift_then_go_to_zero(5);
  ASSERT_TRUE(wait_ready());
  EXPECT_TRUE(told());
  EXPECT_EQ(text("cut-percent"), "Done") << "still, after the way home";
  load("part.ngc");
  EXPECT_TRUE(told());
  EXPECT_EQ(text("cut-percent"), "0 %") << "loaded anew";
}

TEST_F(JobWindow, AnAbandonedJobAtAToolChangeCanBeResumed) {
  ready_for_a_job();
  write("two.ngc", two_tools);
  load("two.ngc");
  sheet("cut");
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().tool_awaited() == 2; }, 60000));
  // One click, one key do not abandon.
  auto* abandon = find<QPushButton>("abandon");
  QTest::mouseClick(abandon, Qt::LeftButton);
  QTest::keyClick(abandon, Qt::Key_Space);
  EXPECT_TRUE(session_->job().in_job());
  QTest::mousePress(abandon, Qt::LeftButton);
  ASSERT_TRUE(wait_for([this] { return !session_->job().in_job(); }));
  QTest::mouseRelease(abandon, Qt::LeftButton);
  EXPECT_EQ(newest_of("cut")->result.at("ended"), "abandoned");
  EXPECT_EQ(session_->job().resume_line(), 9u);
  ASSERT_TRUE(wait_ready());
  EXPECT_TRUE(told());
  EXPECT_EQ(find<QLineEdit>("resume-line")->text(), "9");
  // Only to stand over it: lifted, no spindle.
  click("stand-over");
  ASSERT_TRUE(wait_for([this] { return session_->job().run().state() == RunState::finished; }, 60000));
  EXPECT_EQ(session_->machine().status().spindle_rpm, 0);
  EXPECT_NEAR(session_->machine().status().position.x - session_->machine().status().work_zero.x, 60, 0.05);
}

TEST_F(JobWindow, ACutThatWasBrokenOffIsOfferedAfterARestart) {
  ready_for_a_job();
  write("part.ngc", good_part);
  load("part.ngc");
  // What a killed window leaves: its progress, not ended.
  const std::string text_of_it = session_->job().program()->text;
  const QString path = session_->job().program()->path;
  write("left", QByteArray::fromStdString(progress_begins(path.toStdString(), text_of_it) + progress_line(4) +
                                          progress_line(6) + "{\"li"));
  const QString book = session_->editor().book_path();
  close();
  QFile::remove(book + ".progress");
  ASSERT_TRUE(QFile::copy(folder_.filePath("left"), book + ".progress"));
  open();
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("was broken off at line 6"); }))
      << text("notice-text").toStdString();
  EXPECT_EQ(session_->job().resume_line(), 6u);
  home();
  session_->job().resume_cut(6);
  answer_for_the_dial();
  ASSERT_TRUE(wait_for([this] { return newest_of("cut") && !session_->job().in_job(); }, 60000));
  EXPECT_EQ(newest_of("cut")->result.at("ended"), "finished");
  close();
  open();
  EXPECT_TRUE(told(12));
  EXPECT_EQ(session_->job().resume_line(), 0u) << "it has come to its end";
}

TEST_F(JobWindow, WhatTheWindowDiedOfIsAskedAboutBeforeItIsOpenedAgain) {
  ready_for_a_job();
  write("part.ngc", good_part);
  load("part.ngc");
  const QString mark = session_->editor().book_path() + ".opening";
  EXPECT_FALSE(QFile::exists(mark)) << "it was opened, and nothing died of it";
  close();
  // What is left where the window dies in the middle of it.
  write(QFileInfo(mark).fileName(), folder_.filePath("part.ngc").toUtf8());
  open();
  EXPECT_TRUE(text("notice-text").contains("ended while “part.ngc” was being opened"))
      << text("notice-text").toStdString();
  EXPECT_TRUE(told(12));
  EXPECT_FALSE(session_->job().program());
  click("notice-action-0");
  EXPECT_TRUE(wait_for([this] { return session_->job().program() && session_->job().checked(); }));
  EXPECT_FALSE(QFile::exists(mark));
}

TEST_F(JobWindow, AnotherProgramFollowsOnTheSameZero) {
  ready_for_a_job();
  write("one.ngc", good_part);
  write("next.ngc", QByteArray(good_part).replace("Y20", "Y50"));
  load("one.ngc");
  sheet("program");
  find<ProgramSheet>("sheet-program")->queue(folder_.filePath("next.ngc"));
  ASSERT_TRUE(checked());
  EXPECT_TRUE(told());
  EXPECT_TRUE(text("program-details").contains("After it: next.ngc")) << text("program-details").toStdString();
  sheet("cut");
  start();
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("Next on this zero"); }, 60000))
      << text("notice-text").toStdString();
  for (auto* button : find<QWidget>("notice")->findChildren<QPushButton*>())
    if (button->isVisible() && button->text() == "Load it") button->click();
  ASSERT_TRUE(wait_for([this] { return session_->job().program()->path.endsWith("next.ngc"); }));
  EXPECT_TRUE(session_->editor().book().job.queue.empty());
}

}  // namespace
}  // namespace ypsi::app
