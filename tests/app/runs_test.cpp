// A run is never left to itself: whichever sheet began it, and whichever way out is taken, the machine stands, what it
// was lent is back, and nothing wakes when the sheet is opened again.
#include <QComboBox>
#include <map>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "core/book/record.h"
#include "core/book/worksheets/homing.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

/// How a run is begun on its sheet; the machine is homed and slow by then.
struct Begun {
  const char* name;
  const char* sheet;  ///< or a part of one
  std::function<void(class Runs&)> begin;
};
std::ostream& operator<<(std::ostream& out, const Begun& b) {
  return out << b.name;
}

class Runs : public WindowTest {
 public:
  using WindowTest::click;
  MachineSession& machine_session() { return session_->machine(); }
  Bench& bench() { return *session_->machine().bench(); }
  BookEditor& editor() { return session_->editor(); }
  void circuit(const char* button) { see_the_circuit(button); }
  bool wait(const std::function<bool()>& condition) { return wait_for(condition); }

 protected:
  static constexpr double real_time = 1;
  void prepare(const Begun& run) {
    open_with([](nlohmann::json& s) { s["axes"]["X"]["far_switch"] = {{"at_mm", 806.0}}; });
    home();
    for (const auto& [axis, at] : {std::pair{Axis::x, 250.0}, {Axis::y, 200.0}, {Axis::z, -72.0}}) jog_to(axis, at);
    for (const char* name : {"axis.x.soft_max_mm", "axis.x.soft_min_mm", "axis.z.soft_min_mm"})
      before_[name] = setting(name);
    session_->editor().note_in_book([](Book& b) {
      b.setter = ToolSetter{300, 220, 0, {}};
      b.plates = {{"corner plate", 12, 10, 10, {}}};
    });
    window_->open_sheet(run.sheet);
    session_->machine().connection()->set_speed(real_time);
    run.begin(*this);
    ASSERT_TRUE(session_->machine().runner().running()) << text("notice-text").toStdString();
  }
  double setting(const char* name) { return session_->machine().link()->setting(name).value(); }
  bool stands() { return ypsi::stands(session_->machine().status().state); }
  void expect_all_is_put_back() {
    ASSERT_TRUE(wait_for([this] { return stands() && !session_->machine().runner().running(); }));
    if (!session_->machine().up()) return;
    for (const auto& [name, value] : before_) EXPECT_EQ(setting(name.c_str()), value) << name;
  }
  /// Opens the sheet again and watches: nothing moves.
  void expect_nothing_wakes(const Begun& run) {
    window_->open_sheet("standing");
    const MachinePosition at = session_->machine().status().position;
    const auto homings = session_->machine().status().homing.count;
    window_->open_sheet(run.sheet);
    EXPECT_TRUE(told(12));
    EXPECT_EQ(session_->machine().status().position, at);
    EXPECT_EQ(session_->machine().status().homing.count, homings);
    EXPECT_FALSE(session_->machine().runner().running());
  }
  std::map<std::string, double> before_;
};

class EachRun : public Runs, public testing::WithParamInterface<Begun> {};

TEST_P(EachRun, EndsWhenItsSheetIsLeft) {
  prepare(GetParam());
  window_->open_sheet("certificate");
  EXPECT_TRUE(text("notice-text").contains("was left")) << text("notice-text").toStdString();
  expect_all_is_put_back();
  expect_nothing_wakes(GetParam());
}

TEST_P(EachRun, EndsWhenAnotherMachineIsChosen) {
  prepare(GetParam());
  // A machine that moves is not left; one that waits for a person is.
  if (session_->machine().runner().current()->waits_for() == WaitsFor::machine) {
    EXPECT_FALSE(session_->machine().use_connection(Connection::to_stand_in({demo_.scenario, demo_.settings}).value()));
    session_->machine().end_procedure();
    ASSERT_TRUE(wait_for([this] { return stands(); }));
  }
  ASSERT_TRUE(session_->machine().use_connection(Connection::to_stand_in({demo_.scenario, demo_.settings}).value()));
  EXPECT_FALSE(session_->machine().runner().running());
  expect_all_is_put_back();
  // What the sheet's buttons do now is refused or asked of the new machine; none uses the old link.
  for (const char* act :
       {"move-and-mark", "read-instrument", "arrive",      "read-here",     "start-test",        "read-deviation",
        "mark-points",   "search-far",      "let-further", "take-far-end",  "creep-out",         "homing-begin",
        "homing-read",   "map-begin",       "touch-with",  "touch-without", "measure-reference", "touch-corner",
        "touch-top",     "touch-edge",      "touch-right"})
    for (auto* b : window_->findChildren<QPushButton*>(act))
      if (b->isVisible() && b->isEnabled()) QTest::mouseClick(b, Qt::LeftButton);
  EXPECT_TRUE(told());
  EXPECT_EQ(session_->machine().status().position, (MachinePosition{}));
}

TEST_P(EachRun, EndsWhenTheLineIsLost) {
  prepare(GetParam());
  machine().break_down({0, standin::FaultKind::link_drop, Axis::x, 0});
  ASSERT_TRUE(wait_for([this] { return !session_->machine().up(); }));
  ASSERT_TRUE(wait_for([this] { return !session_->machine().runner().running(); }));
  ASSERT_TRUE(connect_again());
  expect_all_is_put_back();
}

TEST_P(EachRun, EndsWithTheEmergencyStop) {
  prepare(GetParam());
  bench().press_emergency_stop(true);
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::emergency_stop; }));
  ASSERT_TRUE(wait_for([this] { return !session_->machine().runner().running(); }));
  expect_all_is_put_back();
}

TEST_P(EachRun, EndsBeforeTheWindowCloses) {
  prepare(GetParam());
  window_->close();
  ASSERT_TRUE(wait_for([this] { return !window_->isVisible(); }));
  EXPECT_TRUE(stands());
  for (const auto& [name, value] : before_) EXPECT_EQ(setting(name.c_str()), value) << name;
}

const Begun runs[] = {
    {"move_and_mark", "steps_per_unit", [](Runs& r) { r.click("move-and-mark"); }},
    {"two_approaches", "lost_motion", [](Runs& r) { r.click("arrive"); }},
    {"positioning", "lost_motion#positioning", [](Runs& r) { r.click("start-test"); }},
    {"marks", "squareness",
     [](Runs& r) {
       r.machine_session().set_work_zero({Axis::z}, 5);
       r.click("mark-points");
     }},
    {"far_switch_waits", "limits", [](Runs& r) { r.click("search-far"); }},
    {"far_switch_creeps", "limits",
     [](Runs& r) {
       r.click("search-far");
       for (const bool held : {true, false}) {
         r.bench().hold_far_switch(Axis::x, held);
         EXPECT_TRUE(r.wait([&] { return r.machine_session().status().inputs.far_switch[0] == held; }));
       }
       EXPECT_TRUE(r.wait([&] { return r.machine_session().status().state == MachineState::moving; }));
     }},
    {"limit_lifted", "limits", [](Runs& r) { r.click("let-further"); }},
    {"homing", "homing", [](Runs& r) { r.click("homing-begin"); }},
    {"homing_read", "homing",
     [](Runs& r) {
       r.machine_session().connection()->set_speed(0);
       r.editor().note_in_book([](Book& b) { b.worksheets[homing_worksheet].instrument = "indicator"; });
       r.click("homing-begin");
       EXPECT_TRUE(r.wait([&] { return r.machine_session().runner().current()->waits_for() == WaitsFor::reading; }));
     }},
    {"map", "bed_spindle#map",
     [](Runs& r) {
       r.circuit("map-begin");
       r.click("map-begin");
     }},
    {"plate", "touch_plate",
     [](Runs& r) {
       r.circuit("circuit-check");
       r.click("touch-with");
     }},
    {"setter", "tool_setter",
     [](Runs& r) {
       r.circuit("setter-circuit");
       r.click("measure-reference");
     }},
    {"corner", "work_zero",
     [](Runs& r) {
       r.circuit("touch-corner");
       r.click("touch-corner");
     }},
    {"top", "work_zero",
     [](Runs& r) {
       r.circuit("touch-top");
       r.click("touch-top");
     }},
    {"edge", "work_zero#turned",
     [](Runs& r) {
       r.circuit("touch-edge");
       r.click("touch-edge");
     }},
    {"centre", "work_zero#centre",
     [](Runs& r) {
       r.circuit("touch-right");
       r.click("touch-right");
     }},
};
INSTANTIATE_TEST_SUITE_P(All, EachRun, testing::ValuesIn(runs),
                         [](const auto& run) { return std::string(run.param.name); });

TEST_F(Runs, OnlyOneAtATimeAndNoProgramMeanwhile) {
  prepare(runs[4]);  // waits for a finger, so that the machine stands ready
  session_->machine().home();
  EXPECT_TRUE(text("notice-text").contains("under way")) << text("notice-text").toStdString();
  session_->job().lift_then_go_to_zero(5);
  EXPECT_TRUE(text("notice-text").contains("under way"));
  session_->job().start_cut();
  EXPECT_FALSE(session_->job().cutting());
  EXPECT_TRUE(session_->machine().runner().running()) << "the one under way goes on";
  EXPECT_TRUE(stands());
}

TEST_F(Runs, UndoingAKeptPlateTakesItsEntryBackInOneStep) {
  home();
  sheet("touch_plate");
  type("plate-thickness", "12,5");
  click("keep");
  const auto kept = newest(session_->editor().book(), "touch_plate");
  ASSERT_TRUE(kept);
  undo();
  EXPECT_NE(newest(session_->editor().book(), "touch_plate"), kept) << "the record says current no more";
}

}  // namespace
}  // namespace ypsi::app
