// A new user's first hour: home, steps per unit of X, work zero, the demo dial cut to its end, and the book after it.
#include <QAbstractItemView>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "core/book/record.h"
#include "core/book/worksheets/scale.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

using Story = WindowTest;

TEST_F(Story, FromTheFirstHomingToTheLastLine) {
  home();
  sheet("steps_per_unit");
  for (const char* told : {"600", "400", "250"}) {
    type("told", told);
    click("move-and-mark");
    ASSERT_TRUE(wait_for([this] { return text("hint").contains("It has moved"); })) << told;
    click("read-instrument");
  }
  ASSERT_EQ(session_->editor().book().worksheets[scale_worksheets][0].readings.size(), 3u);
  EXPECT_TRUE(text("verdict").contains("Sure enough to apply")) << text("verdict").toStdString();
  EXPECT_TRUE(text("explanation").contains("80 × 250 /")) << text("explanation").toStdString();
  click("apply");
  const auto last = newest(session_->editor().book(), "steps_per_unit", "X");
  ASSERT_TRUE(last);
  const Entry entry = session_->editor().book().history[*last];
  EXPECT_DOUBLE_EQ(entry.as_found.at("axis.x.steps_per_mm").get<double>(), 80.0);
  const double applied = entry.as_left.at("axis.x.steps_per_mm").get<double>();
  const double U = entry.result.at("U_new_steps_per_mm").get<double>();
  EXPECT_NEAR(applied, machine().scenario().axes[0].true_steps_per_mm, U);
  EXPECT_DOUBLE_EQ(machine().link().setting("axis.x.steps_per_mm").value(), applied);

  // The stand-in now moves right within the stated U: the truth is read off its mechanics, not off the program.
  // Its positions mean other places now, so it is homed first.
  EXPECT_EQ(session_->machine().status().state, MachineState::not_homed);
  EXPECT_TRUE(text("notice-text").contains("Home it")) << text("notice-text").toStdString();
  click("notice-action-0");
  ASSERT_TRUE(wait_ready());
  session_->machine().jog(Axis::x, 300);
  ASSERT_TRUE(wait_ready());
  session_->machine().jog(Axis::x, 10);
  ASSERT_TRUE(wait_ready());
  const double before = machine().true_place(Axis::x);
  session_->machine().jog(Axis::x, 300);
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(std::abs(machine().true_place(Axis::x) - before), 300, 300 * U / applied + 0.05 + 1 / applied);

  // To the corner of the stock and down to its top by keys, as an owner would.
  sheet("work_zero");
  auto* plan = find<QWidget>("plan");
  plan->setFocus();
  const auto jog_to = [&](Axis axis, double machine_mm) {
    session_->machine().jog(axis, machine_mm - session_->machine().status().position[axis]);
    ASSERT_TRUE(wait_ready());
  };
  jog_to(Axis::x, 182);
  jog_to(Axis::y, 122);
  jog_to(Axis::z, -89.5);
  QTest::mouseClick(plan, Qt::LeftButton);
  session_->machine().set_jog_step(0.1);
  for (int i = 0; i < 30 && session_->machine().bench()->gap_seen() > 0; ++i) {
    QTest::keyClick(plan, Qt::Key_Down, Qt::ShiftModifier);
    ASSERT_TRUE(wait_ready());
  }
  EXPECT_EQ(session_->machine().bench()->gap_seen(), 0);
  click("set-zero-all");
  EXPECT_NEAR(*session_->editor().book().job.zero(Axis::z), session_->machine().status().position.z, 1e-9);
  click("go-to-zero");
  ASSERT_TRUE(wait_for([this] { return session_->job().run().state() == RunState::finished; }));
  EXPECT_NEAR(session_->machine().status().position.z - session_->machine().status().work_zero.z, 5, 0.01);

  sheet("program");
  load("dial-blank.ngc");
  ASSERT_TRUE(session_->job().program());
  EXPECT_TRUE(text("program-size").startsWith("Cuts 283")) << text("program-size").toStdString();

  sheet("cut");
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().cutting() && session_->job().run().line_in_hand() > 20; }));
  ASSERT_TRUE(wait_for([this] { return !session_->job().cutting(); }, 60000));
  EXPECT_EQ(session_->job().run().state(), RunState::finished);
  EXPECT_EQ(text("cut-percent"), "Done");

  // On the disk, and after a restart.
  close();
  open();
  const Book& book = session_->editor().book();
  EXPECT_EQ(book.history.back().sheet, "cut");
  EXPECT_EQ(book.history.back().result.at("ended"), "finished");
  EXPECT_DOUBLE_EQ(book.machine.axis(Axis::x).steps_per_mm, applied);
  EXPECT_DOUBLE_EQ(machine().link().setting("axis.x.steps_per_mm").value(), applied);
  sheet("standing");
  auto* history = find<QAbstractItemView>("history");
  EXPECT_TRUE(history->model()->index(0, 1).data().toString().contains("cut to its end"));
  EXPECT_EQ(standing_of(book, "squareness").standing, Standing::out_of_date);
}

TEST_F(Story, AppliedStepsCarryLimitsOverAndTellWhatIsOutOfDate) {
  home();
  sheet("steps_per_unit");
  type("told", "600");
  type("measured", "597.5");
  type("told", "400");
  type("measured", "398");
  type("told", "600");
  type("measured", "597");
  EXPECT_TRUE(text("also").contains("Squareness")) << text("also").toStdString();
  click("apply");
  const double steps = session_->editor().book().machine.axis(Axis::x).steps_per_mm;
  EXPECT_NEAR(steps, 80.36, 0.05);
  EXPECT_NEAR(*session_->editor().book().machine.axis(Axis::x).soft_max, 808.0 * 80 / steps, 1e-9);
  EXPECT_NEAR(machine().link().setting("axis.x.soft_max_mm").value(), 808.0 * 80 / steps, 1e-9);
  EXPECT_TRUE(session_->editor().book().places.front().carried_over);
}

}  // namespace
}  // namespace ypsi::app
