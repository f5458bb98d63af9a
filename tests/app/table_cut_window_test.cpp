// A table's first cut in the real window: from switching on to causes told apart and put right.
#include <QComboBox>
#include <QTableWidget>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "core/book/worksheets/cut.h"
#include "core/tasks/heads.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class TableCutWindow : public WindowTest {
 protected:
  void SetUp() override { open_machine("fathom"); }
  const Book& book() { return session_->editor().book(); }
  const CutWorksheet& worksheet() { return book().worksheets[cut_worksheet]; }
  /// Switched on in its order, then homed; its inputs were looked at weeks ago.
  void arm_and_home() {
    session_->machine().home(false);
    ASSERT_TRUE(asks("Before the first move, 1 of 3: air.")) << text("notice-text").toStdString();
    see_to_the_first_move();
    ASSERT_TRUE(
        wait_for([this] { return session_->machine().status().all_homed() && session_->machine().standing_ready(); }));
  }
  /// Heads as the book has them after a crash: the pen 0.5 to the left of where it is, the knife said to trail 0.15
  /// less.
  void believe_wrongly() {
    session_->editor().note_in_book([](Book& b) {
      const auto counted = [&](double x, double y) {
        return HeadPlace{x * 50.81 / b.machine.axis(Axis::x).steps_per_mm,
                         y * 51.05 / b.machine.axis(Axis::y).steps_per_mm, 0.1};
      };
      b.machine.heads[1].place = counted(75.12, 3.04);
      b.machine.heads[1].place->x_mm = b.machine.heads[1].place->x_mm - 0.5;
      b.machine.heads[2].place = counted(149.6, -1.2);
      b.machine.heads[3].place = counted(224.9, 0.8);
      b.machine.heads[3].trailing_mm = 0.2;
      b.machine.heads[4].place = counted(-42.3, 35.8);
      b.job.stock_size = {700, 500, 5};
      b.job.checklist.clear();
      b.job.clamps.clear();
      // As the sheet before has found them.
      for (const auto& [axis, lost] : {std::pair{"X", 0.15}, {"Y", 0.2}}) {
        Entry e;
        e.time = "2026-11-29T08:00:00+00:00";
        e.sheet = "lost_motion";
        e.subject = axis;
        e.result = {{"lost_motion_mm", lost}, {"U_lost_motion_mm", 0.01}};
        b.history.push_back(e);
      }
    });
    session_->machine().set_work_zero_at({{Axis::x, 260.0}, {Axis::y, 170.0}, {Axis::z, -40.0}},
                                         RecordJson::from_text("[]"), "");
  }
  int cause(const QString& words) {
    for (int i = 0; i < 12; ++i) {
      const auto* label = find<QLabel>(QString("cause-%1").arg(i).toUtf8());
      if (label->isVisible() && label->text().contains(words)) return i;
    }
    return -1;
  }
  QPushButton* cure(const QString& words) {
    const int i = cause(words);
    return i < 0 ? nullptr : find<QPushButton>(QString("apply-cause-%1").arg(i).toUtf8());
  }
};

TEST_F(TableCutWindow, FromArmingToTheMeasuredFirstCut) {
  ASSERT_NO_FATAL_FAILURE(arm_and_home());
  believe_wrongly();
  sheet("measure_cut");
  EXPECT_EQ(find<QComboBox>("coupon-kind")->count(), 3) << "what tells most, the heads' own, another part";
  EXPECT_FALSE(find<QComboBox>("coupon-material")->isVisible());
  find<QComboBox>("cut-instrument")->setCurrentText("tape");
  emit find<QComboBox>("cut-instrument")->activated(find<QComboBox>("cut-instrument")->currentIndex());
  click("make-coupon");
  ASSERT_TRUE(wait_for(
      [this] { return session_->job().program() && !session_->job().loader().busy() && session_->job().checked(); }));
  EXPECT_TRUE(session_->job().program()->path.endsWith("test-cut-heads.ngc"));
  EXPECT_EQ(worksheet().instrument, "tape");
  EXPECT_EQ(worksheet().short_instrument, "caliper");
  EXPECT_TRUE(find<QComboBox>("cut-short-instrument")->isVisible());
  const auto points = session_->job().points();
  ASSERT_GE(points.size(), 2u);
  EXPECT_NE(points[0].find("flat"), std::string::npos);
  EXPECT_NE(points[1].find("vacuum"), std::string::npos);
  for (const Finding& f : session_->job().findings()) EXPECT_NE(f.weight, Weight::stops) << f.message;
  for (const std::string& p : points) session_->job().tick_point(p, true);
  session_->job().start_cut(true);
  ASSERT_TRUE(wait_for(
      [this] { return session_->job().run().state() == RunState::finished && !session_->job().in_job(); }, 120000))
      << text("notice-text").toStdString();
  sheet("measure_cut");
  ASSERT_EQ(worksheet().sizes.size(), 16u);
  for (std::size_t i = 0; i < 16; ++i) click("read-size");
  for (const CutSize& s : worksheet().sizes) ASSERT_TRUE(s.measured_mm) << s.name;
  shoot("extra-table-cut");
  // The pen and the knife are told and put right; the creaser, which the book has right, is not offered.
  ASSERT_GE(cause("pen: its lines lie X +0.5"), 0);
  ASSERT_GE(cause("drag knife trails 0.1"), 0);
  EXPECT_GE(cause("creaser: stands where the book has it"), 0);
  EXPECT_FALSE(cure("creaser:")->isVisible());
  click(cure("pen: its lines")->objectName().toUtf8());
  EXPECT_EQ(last().sheet, heads_id);
  EXPECT_NEAR(book().machine.heads[1].place->x_mm, 75.12 * 50.81 / 50.9296, 0.12);
  EXPECT_TRUE(text(QString("cause-%1").arg(cause("pen: its lines")).toUtf8()).contains("Put right"));
  click(cure("drag knife trails")->objectName().toUtf8());
  EXPECT_NEAR(*book().machine.heads[3].trailing_mm, 0.35, 0.1);
  click("keep");
  EXPECT_EQ(last().sheet, "measure_cut");
  EXPECT_TRUE(last().result.contains("heads")) << "what was found of each head is in the record";
}

/// A wheel has no diameter that a size could depend on: what is small inside and large outside is its place.
TEST_F(TableCutWindow, AnotherPartIsReadWithoutACutter) {
  ASSERT_NO_FATAL_FAILURE(arm_and_home());
  sheet("measure_cut");
  find<QComboBox>("coupon-kind")->setCurrentIndex(2);
  click("make-coupon");
  EXPECT_EQ(worksheet().tool_diameter_mm, 0);
  const auto add = [this](int kind, const char* nominal, const char* measured) {
    find<QComboBox>("size-kind")->setCurrentIndex(kind);
    type("size-nominal", nominal);
    click("add-size");
    type(QString("size-%1").arg(worksheet().sizes.size() - 1).toUtf8(), measured);
  };
  add(0, "300", "299.4");
  EXPECT_TRUE(text("cut-undetermined").contains("the blade stands beside its way"))
      << text("cut-undetermined").toStdString();
  EXPECT_FALSE(text("cut-undetermined").contains("cutter"));
  add(4, "400", "400");  // like edges along X: the scale
  add(2, "200", "200.6");
  const int blade = cause("The blade stands 0.30");
  ASSERT_GE(blade, 0) << "half of what an inside size is small by, on each side";
  EXPECT_TRUE(text(QString("cause-%1").arg(blade).toUtf8()).contains("right"));
  EXPECT_EQ(cause("The cutter"), -1);
  shoot("extra-table-another-part");
}

TEST_F(TableCutWindow, WhatIsMissingLeadsToWhereItIsMeasured) {
  sheet("measure_cut");
  session_->editor().note_in_book([](Book& b) { b.job.stock_size = {0, 0, 0}; });
  click("make-coupon");
  EXPECT_TRUE(text("notice-text").contains("Stock and drawing")) << text("notice-text").toStdString();
  session_->editor().note_in_book([](Book& b) { b.job.stock_size = {700, 500, 5}; });
  click("make-coupon");
  EXPECT_TRUE(text("notice-text").contains("was not measured yet")) << text("notice-text").toStdString();
  click("notice-action-0");
  EXPECT_TRUE(find<QWidget>("head-2")->isVisible()) << "the sheet Heads";
}

}  // namespace
}  // namespace ypsi::app
