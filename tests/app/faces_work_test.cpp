// The order of work through the window at machines whose controllers take G-code a line at a time, from an empty book
// to a part, with everything that can break on the line in between: each finding is held against the machine's truth.
#include <QTimer>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "core/book/first_book.h"
#include "core/book/record.h"
#include "core/book/worksheets/squareness.h"
#include "lines_window.h"

namespace ypsi::app {
namespace {

class WorkByALine : public LinesWindow {
 protected:
  void SetUp() override {
    demo_ = prepare_demo(YPSI_DEMO_DATA, folder_.path(), true).value();
    const Book book =
        first_book({"moving_gantry", "Oriel", {"ruler", "caliper", "indicator"}, {812, 600, 112}}).value();
    ASSERT_TRUE(write_file(demo_.book, write_book(book)));
    ASSERT_NO_FATAL_FAILURE(open());
    carries_.setInterval(1);
    QObject::connect(&carries_, &QTimer::timeout, [this] {
      if (session_ && session_->machine().cards() && !truly_moves()) do_cards();
    });
  }
  void TearDown() override {
    carries_.stop();
    close();
  }
  /// Real lines are slow, and a machine that tests may be slower.
  bool wait_for(const std::function<bool()>& condition, int ms = 300000) { return WindowTest::wait_for(condition, ms); }
  /// The owner goes to a card when nothing moves.
  bool truly_moves() { return !machine().controller().has_nothing_to_do(); }
  bool has_probe() const { return GetParam() != std::string("bare"); }
  bool ready() {
    const bool is =
        wait_for([this] { return session_->machine().standing_ready() && !session_->machine().cards()->card(); });
    EXPECT_TRUE(is) << why();
    return is;
  }
  /// What the window says when it does not go on.
  std::string why() {
    const link::HandCard* card = session_->machine().cards()->card();
    return text("state").toStdString() + "; " + text("notice-text").toStdString() + (card ? "; a card waits" : "") +
           (truly_moves() ? "; it moves: " + std::to_string(static_cast<int>(truly().state)) + truly().message : "");
  }
  void home_again() {
    ASSERT_TRUE(wait_for([this] { return !session_->machine().cards()->card() && !truly_moves(); })) << why();
    const auto is_homed = [this] {
      return session_->machine().status().all_homed() && session_->machine().standing_ready();
    };
    session_->machine().home(true);
    // What noise left before it is refused with it: pressed once more it goes.
    if (!WindowTest::wait_for(is_homed, 20000)) session_->machine().home(true);
    ASSERT_TRUE(wait_for(is_homed)) << why();
  }
  void click(const QByteArray& name) { WindowTest::click(name.constData()); }
  void choose_axis(Axis axis) { click(QString("axis-%1").arg(QChar(letter(axis))).toLower().toUtf8()); }
  bool asked(const char* words) {
    return wait_for([&] { return text("inputs-asked").contains(words); });
  }
  const MachineInputs& inputs() { return session_->machine().status().inputs; }
  /// A finger on it and off again; where the line does not say it, its owner tells what it shows.
  void on_and_off(const QByteArray& lamp, const std::function<void(Bench&, bool)>& put,
                  const std::function<bool()>& shows) {
    for (const bool on : {true, false}) {
      put(*session_->machine().bench(), on);
      if (!session_->machine().connection()->lines()->tells_inputs()) click(lamp);
      ASSERT_TRUE(wait_for([&] { return shows() == on; })) << lamp.toStdString();
      EXPECT_TRUE(told());
    }
  }
  void press_inputs() {
    sheet("inputs");
    click("inputs-begin");
    for (const Axis axis : all_axes) {
      ASSERT_TRUE(asked(QString("%1's switch").arg(QChar(letter(axis))).toUtf8()))
          << text("inputs-asked").toStdString();
      on_and_off(
          QByteArray("hand-lamp-").append(letter(axis)), [axis](Bench& bench, bool on) { bench.hold_switch(axis, on); },
          [&] { return inputs().home_switch[index(axis)]; });
    }
    ASSERT_TRUE(asked("plate")) << text("inputs-asked").toStdString();
    on_and_off(
        "hand-lamp-probe",
        [](Bench& bench, bool on) { bench.lay_plate(on ? PlatePlace::at_cutter : PlatePlace::away); },
        [&] { return inputs().probe; });
    ASSERT_TRUE(asked("emergency stop")) << text("inputs-asked").toStdString();
    on_and_off(
        "hand-lamp-stop", [](Bench& bench, bool on) { bench.press_emergency_stop(on); },
        [&] { return inputs().emergency_stop; });
    ASSERT_TRUE(asked("Every input was seen")) << text("inputs-asked").toStdString();
    EXPECT_EQ(last().sheet, "inputs");
    EXPECT_EQ(last().told_by_hand, !session_->machine().connection()->lines()->tells_inputs());
  }
  void see_directions() {
    sheet("directions");
    for (const Axis axis : {Axis::z, Axis::x, Axis::y}) {
      const double before = session_->machine().bench()->tool_seen()[index(axis)];
      click(QString("nudge-%1").arg(QChar(letter(axis))).toUtf8());
      ASSERT_TRUE(wait_for([this] {
        return find<QPushButton>("directions-yes")->isVisible() && find<QPushButton>("directions-yes")->isEnabled();
      })) << text("notice-text").toStdString();
      EXPECT_GT(session_->machine().bench()->tool_seen()[index(axis)], before) << letter(axis);
      click("directions-yes");
    }
  }
  void steps(Axis axis, const char* instrument, std::initializer_list<const char*> tolds) {
    sheet("steps_per_unit");
    choose_axis(axis);
    choose("instrument", instrument);
    for (const char* each : tolds) {
      type("told", each);
      ASSERT_TRUE(ready());
      click("move-and-mark");
      ASSERT_TRUE(wait_for([this] { return text("hint").contains("It has moved"); }))
          << each << ": " << text("hint").toStdString() << text("notice-text").toStdString();
      click("read-instrument");
    }
    click("apply");
    ASSERT_NO_FATAL_FAILURE(home_again());
    const auto found = newest(session_->editor().book(), "steps_per_unit", std::string(1, letter(axis)));
    ASSERT_TRUE(found) << letter(axis);
    const Entry& entry = session_->editor().book().history[*found];
    EXPECT_NEAR(entry.result.at("new_steps_per_mm").get<double>(),
                machine().scenario().axes[index(axis)].true_steps_per_mm,
                entry.result.at("U_new_steps_per_mm").get<double>())
        << letter(axis);
    // As many digits as the controller takes of it.
    EXPECT_NEAR(machine().controller().setting(axis_setting(axis, "steps_per_mm")).value(),
                session_->editor().book().machine.axis(axis).steps_per_mm, 0.01);
  }
  void lost_motion(Axis axis) {
    sheet("lost_motion");
    choose_axis(axis);
    choose("lost-instrument", "indicator");
    for (int place = 0; place < 4; ++place) {
      ASSERT_TRUE(wait_for([this] { return find<QPushButton>("arrive")->isEnabled(); }));
      click("arrive");
      for (int side = 0; side < 2; ++side) {
        ASSERT_TRUE(wait_for([this] { return find<QPushButton>("read-here")->isEnabled(); }))
            << text("notice-text").toStdString();
        click("read-here");
      }
    }
    click("keep");
    EXPECT_NEAR(last().result.at("lost_motion_mm").get<double>(), machine().scenario().axes[index(axis)].lost_motion,
                last().result.at("U_lost_motion_mm").get<double>());
  }
  void zero_over_stock() {
    ASSERT_TRUE(ready());
    sheet("work_zero");
    jog_to(Axis::z, -20);
    jog_to(Axis::x, 182);
    jog_to(Axis::y, 122);
    jog_to(Axis::z, -88);
    click("set-zero-all");
    ASSERT_TRUE(ready());
  }
  void squareness() {
    zero_over_stock();
    jog_to(Axis::z, -20);
    sheet("squareness");
    type("rail-spacing", QString::number(machine().scenario().rail_spacing));
    choose("square-instrument", "ruler");
    click("mark-points");
    ASSERT_TRUE(wait_for([this] { return text("square-hint").contains("The marks are down"); }))
        << text("square-hint").toStdString() << text("notice-text").toStdString();
    const auto typed = [this] {
      const auto& all = session_->editor().book().worksheets[square_worksheet]->distances;
      return std::all_of(all.begin(), all.end(), [](const MarkDistance& d) { return d.measured > 0; });
    };
    for (int i = 0; i < 12 && !typed(); ++i) click("read-between");
    click("keep");
    EXPECT_EQ(last().sheet, "squareness");
    EXPECT_NEAR(last().result.at("skew_mrad").get<double>(), machine().scenario().skew * 1000,
                last().result.at("U_skew_mrad").get<double>());
  }
  void limits_of_z() {
    sheet("limits");
    choose_axis(Axis::z);
    click("let-further");
    ASSERT_TRUE(ready());
    jog_to(Axis::z, -108);
    click("take-far-end");
    ASSERT_TRUE(ready());
    type("clearance-far", "3");
    click("set-limits");
    EXPECT_TRUE(wait_for([this] { return text("notice-text").contains("both limits are proved"); }))
        << text("notice-text").toStdString();
    ASSERT_TRUE(ready());
    EXPECT_EQ(standing_of(session_->editor().book(), "limits", Axis::z).standing, Standing::current);
    // It is still on its way over the line when the window has it.
    const double kept = *session_->editor().book().machine.axis(Axis::z).soft_min;
    EXPECT_TRUE(wait_for([&] {
      return std::fabs(machine().controller().setting("axis.z.soft_min_mm").value() - kept) < 0.01;
    })) << kept;
  }
  void homing_repeat() {
    sheet("homing");
    // Where it met its switches is not told: an indicator does.
    choose("homing-way", "indicator");
    choose_axis(Axis::x);
    type("homing-trials", "5");
    type("indicator-place", "70");
    ASSERT_TRUE(ready());
    click("homing-begin");
    for (int trial = 1; trial <= 5; ++trial) {
      ASSERT_TRUE(wait_for([this] { return find<QPushButton>("homing-read")->isEnabled(); }))
          << trial << text("notice-text").toStdString();
      click("homing-read");
    }
    ASSERT_TRUE(wait_for([this] { return find<QPushButton>("keep")->isEnabled(); }));
    click("keep");
    EXPECT_EQ(last().sheet, "homing");
  }
  void touch_plate() {
    sheet("touch_plate");
    type("plate-thickness", "12.5");
    jog_to(Axis::x, 250);
    jog_to(Axis::y, 200);
    jog_to(Axis::z, -72);
    see_the_circuit("circuit-check");
    session_->machine().bench()->lay_plate(PlatePlace::on_stock);
    click("touch-with");
    ASSERT_TRUE(wait_for([this] { return text("plate-verdict").contains("With the plate"); }))
        << text("notice-text").toStdString();
    ASSERT_TRUE(ready());
    session_->machine().bench()->lay_plate(PlatePlace::away);
    jog_to(Axis::z, -85);
    click("touch-without");
    ASSERT_TRUE(wait_for([this] { return text("plate-lead").contains("measures"); }))
        << text("notice-text").toStdString();
    click("keep");
    EXPECT_NEAR(session_->editor().book().plates.front().thickness, 12.07, 0.02);
  }
  /// Something breaks on the line while the machine is on its way. Its owner sees to what the window says is missing,
  /// and from then on it stands where the window says.
  void get_over(standin::FaultKind kind) {
    SCOPED_TRACE(static_cast<int>(kind));
    ASSERT_TRUE(ready());
    session_->machine().jog(Axis::x, 12);
    machine().break_down({0, kind, Axis::x, 0});
    session_->machine().jog(Axis::x, -7);
    const auto is_over = [this] {
      const MachineState is = session_->machine().status().state;
      return !truly_moves() && !session_->machine().cards()->card() &&
             (is == MachineState::offline || is == MachineState::not_homed || is == MachineState::stopped ||
              (is == MachineState::ready && session_->machine().standing_ready()));
    };
    // Noise may leave half a line with the controller, which then says that it is at work: its owner presses Hold.
    if (!WindowTest::wait_for(is_over, 10000)) click("hold");
    ASSERT_TRUE(wait_for(is_over)) << why();
    if (session_->machine().status().state == MachineState::offline) connect_as(GetParam());
    if (!session_->machine().status().all_homed() || session_->machine().status().state == MachineState::stopped) {
      ASSERT_NO_FATAL_FAILURE(home_again());
    }
    ASSERT_TRUE(ready());
    for (const Axis axis : {Axis::x, Axis::y})
      EXPECT_NEAR(session_->machine().status().position[axis], truly().position[axis], 0.02) << letter(axis);
  }
  /// Connected, and both agree on every setting.
  void begin() {
    connect_as(GetParam());
    carries_.start();
    ASSERT_TRUE(wait_for([this] { return !session_->machine().cards()->card(); }));
    for (const SettingDifference& each : session_->machine().setting_differences())
      session_->machine().settle(each, true);
    ASSERT_TRUE(wait_for([this] { return !session_->machine().cards()->card(); }));
  }
  void cut_a_part() {
    zero_over_stock();
    EXPECT_NEAR(*session_->editor().book().job.zero(Axis::x), 182, 0.02);
    cut_the_good_part();
  }
  QTimer carries_;
};
INSTANTIATE_TEST_SUITE_P(Faces, WorkByALine, ::testing::Values("bare", "asked", "telling"),
                         [](const auto& face) { return std::string(face.param); });

TEST_P(WorkByALine, FromAnEmptyBookToAPart) {
  ASSERT_NO_FATAL_FAILURE(begin());
  sheet("build");
  click("keep-build");
  ASSERT_TRUE(wait_for([this] { return !session_->machine().cards()->card(); }));
  ASSERT_NO_FATAL_FAILURE(press_inputs());
  ASSERT_NO_FATAL_FAILURE(see_directions());
  home();
  ASSERT_NO_FATAL_FAILURE(steps(Axis::x, "ruler", {"600", "400", "250", "500"}));
  ASSERT_NO_FATAL_FAILURE(get_over(standin::FaultKind::answer_lost));
  ASSERT_NO_FATAL_FAILURE(steps(Axis::y, "ruler", {"500", "400", "250", "450"}));
  ASSERT_NO_FATAL_FAILURE(get_over(standin::FaultKind::answer_twice));
  ASSERT_NO_FATAL_FAILURE(steps(Axis::z, "caliper", {"-80", "-60", "-40"}));
  ASSERT_NO_FATAL_FAILURE(get_over(standin::FaultKind::answer_late));
  ASSERT_NO_FATAL_FAILURE(lost_motion(Axis::y));
  ASSERT_NO_FATAL_FAILURE(get_over(standin::FaultKind::answer_garbled));
  if (has_probe()) {
    ASSERT_NO_FATAL_FAILURE(touch_plate());
  }
  ASSERT_NO_FATAL_FAILURE(get_over(standin::FaultKind::report_in_answer));
  ASSERT_NO_FATAL_FAILURE(squareness());
  ASSERT_NO_FATAL_FAILURE(limits_of_z());
  ASSERT_NO_FATAL_FAILURE(homing_repeat());
  ASSERT_NO_FATAL_FAILURE(get_over(standin::FaultKind::buffer_full));
  ASSERT_NO_FATAL_FAILURE(cut_a_part());
  EXPECT_TRUE(ready());
}

/// What throws the machine out of what it does, and leaves it to its owner.
TEST_P(WorkByALine, GetsOverARestartAndNoise) {
  ASSERT_NO_FATAL_FAILURE(begin());
  session_->machine().home(true);
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().all_homed(); })) << why();
  ASSERT_NO_FATAL_FAILURE(get_over(standin::FaultKind::brownout));
  ASSERT_NO_FATAL_FAILURE(get_over(standin::FaultKind::link_garbage));
}

}  // namespace
}  // namespace ypsi::app
