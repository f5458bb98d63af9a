// The whole order of work from an empty book to lost motion, in the real window, on a machine with an inverted Z, a
// dead switch, a wrong lead and slack; what was found is then held against the machine's truth.
#include <QComboBox>
#include <QMenu>
#include <QTableWidget>
#include <set>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "core/book/record.h"
#include "core/book/worksheets/scale.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class Commissioning : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    close();
    QFile::remove(demo_.settings);
    write("oriel.ypsi", R"({"format": "ypsilograph-book", "version": 1})");
    edit_scenario([](nlohmann::json& s) {
      s["axes"]["Z"]["inverted"] = true;
      s["axes"]["Z"]["true_steps_per_mm"] = 400.3;  // a lead of 8 where the book will say 4
      s["axes"]["Z"]["stops_mm"] = {-112.0, 2.0};
      s["axes"]["Y"]["switch"]["wired"] = "never";
      s["axes"]["Y"]["lost_motion_mm"] = 0.11;
      // Its own limits, as whoever set it up left them: Z's are in units that are twice a millimetre.
      s["controller"]["Z"]["soft_min_mm"] = -52.0;
    });
    open();
  }
  void add_instrument(const QStringList& cells) {
    click("instrument-add");
    auto* table = find<QTableWidget>("instruments");
    const int row = table->rowCount() - 1;
    for (int column = 0; column < cells.size(); ++column) {
      table->item(row, column)->setText(cells[column]);
      QTest::qWait(5);
    }
  }
  void press(Axis axis) {
    session_->machine().bench()->hold_switch(axis, true);
    EXPECT_TRUE(told(6));
    session_->machine().bench()->hold_switch(axis, false);
    EXPECT_TRUE(told(6));
  }
  bool asked(const char* words) {
    return wait_for([&] { return text("inputs-asked").contains(words); });
  }
  /// Presses everything that the sheet asks for, as an owner would; the Y switch may be dead.
  void go_through_the_inputs(bool y_answers) {
    sheet("inputs");
    if (find<QPushButton>("inputs-begin")->isVisible()) click("inputs-begin");
    ASSERT_TRUE(asked("X's switch"));
    press(Axis::x);
    ASSERT_TRUE(asked("Y's switch"));
    press(Axis::y);
    if (!y_answers) {
      ASSERT_TRUE(asked("Y's switch"));
      click("inputs-nothing");
    }
    ASSERT_TRUE(asked("Z's switch"));
    press(Axis::z);
    ASSERT_TRUE(asked("plate"));
    session_->machine().bench()->lay_plate(PlatePlace::at_cutter);
    EXPECT_TRUE(told(6));
    session_->machine().bench()->lay_plate(PlatePlace::away);
    ASSERT_TRUE(asked("emergency stop"));
    session_->machine().bench()->press_emergency_stop(true);
    EXPECT_TRUE(told(6));
    session_->machine().bench()->press_emergency_stop(false);
  }
  /// Nudges an axis until it goes the way of its arrow.
  void settle_direction(Axis axis) {
    for (int tries = 0; tries < 2; ++tries) {
      const double before = session_->machine().bench()->tool_seen()[index(axis)];
      click(QString("nudge-%1").arg(QChar(letter(axis))).toUtf8());
      ASSERT_TRUE(wait_for([this] {
        return find<QPushButton>("directions-yes")->isVisible() && find<QPushButton>("directions-yes")->isEnabled();
      }));
      const bool right = session_->machine().bench()->tool_seen()[index(axis)] > before;
      click(right ? "directions-yes" : "directions-no");
      if (right) return;
    }
    FAIL() << "still the wrong way";
  }
  void read_scale(const char* told) {
    if (told) type("told", told);
    click("move-and-mark");
    ASSERT_TRUE(wait_for([this] { return text("hint").contains("It has moved"); }))
        << (told ? told : "proposed") << ": " << text("hint").toStdString() << text("notice-text").toStdString();
    click("read-instrument");
  }
  void choose_axis(Axis axis) { click(QString("axis-%1").arg(QChar(letter(axis))).toLower().toUtf8()); }
  void click(const QByteArray& name) { WindowTest::click(name.constData()); }
  void scale(Axis axis, const QString& instrument, const std::vector<const char*>& tolds) {
    sheet("steps_per_unit");
    choose_axis(axis);
    choose("instrument", instrument);
    for (const char* told : tolds) read_scale(told);
  }
  void lost_motion(Axis axis) {
    sheet("lost_motion");
    choose_axis(axis);
    choose("lost-instrument", "indicator");
    for (int i = 0; i < 5; ++i) {
      ASSERT_TRUE(wait_for([this] { return find<QPushButton>("arrive")->isEnabled(); }));
      click("arrive");
      for (int side = 0; side < 2; ++side) {
        ASSERT_TRUE(wait_for([this] { return find<QPushButton>("read-here")->isEnabled(); }));
        click("read-here");
      }
    }
    click("keep");
  }
  void expect_within_U(Axis axis) {
    const std::string name(1, letter(axis));
    const auto steps = newest(session_->editor().book(), "steps_per_unit", name);
    ASSERT_TRUE(steps) << name;
    const auto& truth = machine().scenario().axes[index(axis)];
    EXPECT_NEAR(session_->editor().book().machine.axis(axis).steps_per_mm, truth.true_steps_per_mm,
                session_->editor().book().history[*steps].result.at("U_new_steps_per_mm").get<double>())
        << name;
    EXPECT_DOUBLE_EQ(session_->machine().link()->setting(axis_setting(axis, "steps_per_mm")).value(),
                     session_->editor().book().machine.axis(axis).steps_per_mm);
    const auto lost = newest(session_->editor().book(), "lost_motion", name);
    ASSERT_TRUE(lost) << name;
    const auto& result = session_->editor().book().history[*lost].result;
    EXPECT_NEAR(result.at("lost_motion_mm").get<double>(), truth.lost_motion,
                result.at("U_lost_motion_mm").get<double>())
        << name;
  }
};

TEST_F(Commissioning, FromAnEmptyBookToLostMotionAndWhatGoesOutOfDate) {
  // Build: what the owner knows of it. Z's screw has another lead than its seller said.
  EXPECT_TRUE(text("notice-text").contains("set otherwise than the book")) << "and nothing was changed";
  EXPECT_EQ(session_->machine().link()->setting("axis.x.steps_per_mm").value(), 80);
  sheet("build");
  choose("kind", "Moving gantry");
  type("machine-name", "Oriel");
  click("build-instruments");
  add_instrument({"ruler", "0.5", "2", "0.15", "0", "0.05"});
  add_instrument({"caliper", "0.01", "1", "0,01", "0.015", "0"});
  add_instrument({"indicator", "0.001", "1", "0.002", "0", "0"});
  EXPECT_EQ(session_->editor().book().instruments.size(), 3u);
  click("keep-build");
  EXPECT_EQ(standing_of(session_->editor().book(), "build").standing, Standing::current);
  EXPECT_EQ(*session_->editor().book().machine.axis(Axis::z).soft_min, -52) << "read back from the controller";
  EXPECT_TRUE(session_->machine().setting_differences().empty());

  // The dead switch is named, and nothing homes.
  go_through_the_inputs(false);
  ASSERT_TRUE(asked("Mend these"));
  EXPECT_TRUE(text("inputs-what").contains("Y's switch never changed")) << text("inputs-what").toStdString();
  QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier);
  EXPECT_TRUE(told(6));
  EXPECT_TRUE(text("notice-text").contains("An input did not answer"));
  EXPECT_NE(session_->machine().status().state, MachineState::moving);
  EXPECT_FALSE(session_->machine().status().all_homed());

  // Mended, and pressed again.
  close();
  edit_scenario([](nlohmann::json& s) { s["axes"]["Y"]["switch"]["wired"] = "ok"; });
  open();
  EXPECT_EQ(standing_of(session_->editor().book(), "inputs").standing, Standing::failed);
  go_through_the_inputs(true);
  ASSERT_TRUE(asked("Every input was seen to change"));

  sheet("directions");
  for (const Axis a : {Axis::z, Axis::x, Axis::y}) settle_direction(a);
  EXPECT_TRUE(text("directions-asked").contains("All three"));
  EXPECT_EQ(session_->machine().link()->setting("axis.z.reversed").value(), 1);
  home();

  // Z: the first, short move shows the wrong lead; the drive is corrected, not scaled away.
  scale(Axis::z, "caliper", {nullptr});
  EXPECT_TRUE(text("verdict").contains("That has a cause")) << text("verdict").toStdString();
  EXPECT_TRUE(text("explanation").contains("a screw of 8 mm lead instead of 4"));
  QAction* lead = nullptr;
  for (QAction* action : find<QPushButton>("correct-drive")->menu()->actions())
    if (action->text().contains("8 mm lead")) lead = action;
  ASSERT_NE(lead, nullptr);
  lead->trigger();
  EXPECT_EQ(window_->current_sheet(), "build");
  EXPECT_TRUE(text("build-changes").contains("steps per mm of Z: 800 → 400")) << text("build-changes").toStdString();
  click("keep-build");
  EXPECT_EQ(session_->machine().link()->setting("axis.z.steps_per_mm").value(), 400);
  EXPECT_EQ(session_->machine().link()->setting("axis.z.soft_min_mm").value(), -104) << "the same place, new number";
  home();
  sheet("steps_per_unit");
  choose_axis(Axis::z);
  ASSERT_EQ(session_->editor().book().worksheets[scale_worksheets][2].readings.size(), 1u)
      << "told anew by as many steps";
  scale(Axis::z, "caliper", {"-80", "-60", "-40"});
  click("apply");
  home();

  scale(Axis::x, "ruler", {"700", "500", "300", "650"});
  EXPECT_TRUE(text("verdict").contains("Sure enough to apply")) << text("verdict").toStdString();
  click("apply");
  home();
  scale(Axis::y, "ruler", {"500", "400", "250", "450"});
  click("apply");
  home();
  for (const Axis a : all_axes) lost_motion(a);
  for (const Axis a : all_axes) expect_within_U(a);

  // What later sheets will have found, so that each could go out of date.
  const auto add = [this](const char* of, const char* subject) {
    session_->editor().note_in_book([&](Book& b) {
      Entry e;
      e.time = session_->editor().now().toStdString();
      e.sheet = of;
      e.subject = subject;
      b.history.push_back(e);
    });
  };
  for (const char* of : {"squareness", "homing", "bed_spindle", "touch_plate", "tool_setter", "tools", "work_zero"})
    add(of, "");
  for (const char* axis : {"X", "Y", "Z"}) add("limits", axis);
  add("measure_cut", "");
  const auto out_of_date = [this] {
    std::set<std::string> found;
    for (const char* id : {"build", "inputs", "directions", "steps_per_unit", "lost_motion", "squareness", "limits",
                           "homing", "bed_spindle", "touch_plate", "tool_setter", "tools", "work_zero", "measure_cut"})
      if (standing_of(session_->editor().book(), id).standing == Standing::out_of_date) found.insert(id);
    return found;
  };
  EXPECT_TRUE(out_of_date().empty());

  // A second change of X.
  sheet("steps_per_unit");
  choose_axis(Axis::x);
  for (const char* measured : {"698,5", "599", "499"}) {
    type("told", QString(measured).startsWith("698") ? "700" : QString(measured).startsWith("599") ? "600" : "500");
    type("measured", measured);
  }
  click("apply");
  home();
  EXPECT_EQ(out_of_date(), (std::set<std::string>{"lost_motion", "squareness", "limits", "touch_plate", "tool_setter",
                                                  "tools", "work_zero", "measure_cut"}));
  EXPECT_EQ(standing_of(session_->editor().book(), "lost_motion", Axis::y).standing, Standing::current);
  EXPECT_EQ(standing_of(session_->editor().book(), "limits", Axis::z).standing, Standing::current);
  sheet("standing");
  EXPECT_TRUE(text("stale").contains("Lost motion\nSteps per unit of X changed on")) << text("stale").toStdString();
  EXPECT_TRUE(text("stale").contains("Travel and limits\nCarried over")) << text("stale").toStdString();
}

}  // namespace
}  // namespace ypsi::app
