// The engraver's own sheet through the real window: a ladder of grooves by the nose, typed and by the simulated person,
// told in a section of the plate, kept and undone; with no machine and no heads too.
#include <QDoubleSpinBox>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "core/book/worksheets/cut.h"
#include "core/book/worksheets/trials.h"
#include "core/engraver_book.h"
#include "core/tasks/cut_reading.h"
#include "core/tasks/engraving.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace engraver_window {

class EngraverWindow : public WindowTest {
 protected:
  void SetUp() override {
    open_machine("tansy");
    session_->editor().change_book("tools", [](Book& b) {
      Tool v = pointed_t3();
      v.name = "60° engraver";
      b.tools = {v};
      b.job.stock_size = {100, 57, 1.6};
    });
  }
  const Book& book() { return session_->editor().book(); }
  const DepthSheet& typed() { return book().worksheets[trials_worksheet].depth; }
  void click(const QByteArray& name) { WindowTest::click(name.constData()); }
  QString text(const QByteArray& name) { return WindowTest::text(name.constData()); }
  void material(const QString& name) {
    find<QComboBox>("trial-material")->lineEdit()->setText(name);
    QTest::keyClick(find<QLineEdit>("trial-material-name"), Qt::Key_Return);
  }
  void tool(int number) {
    auto* box = find<QComboBox>("trial-tool");
    box->setCurrentIndex(box->findData(number));
    emit box->activated(box->currentIndex());
  }
  void groove(double tick, double depth) {
    type("depth-tick", QString::number(tick));
    type("depth-measured", QString::number(depth));
    click("depth-take");
  }
};

TEST_F(EngraverWindow, ALadderByTheNoseIsToldKeptAndUndone) {
  sheet("trials");
  ASSERT_TRUE(find<QWidget>("depth-section")->isVisible()) << "an engraver is tried by its grooves";
  EXPECT_FALSE(find<QWidget>("trial-curve")->isVisible());
  EXPECT_FALSE(find<QPushButton>("keep")->isEnabled());
  material("red over white");
  tool(3);
  type("depth-cap", "0.2");
  type("depth-total", "1.6");
  type("depth-wanted", "0.28");
  EXPECT_FALSE(find<QPushButton>("depth-take")->isEnabled()) << "nothing is typed";
  for (const auto& [tick, depth] : {std::pair{6, 0.12}, {8, 0.17}, {10, 0.22}, {12, 0.27}, {14, 0.33}})
    groove(tick, depth);
  ASSERT_EQ(typed().grooves.size(), 5u);
  const auto found = evaluate_engraving(book());
  ASSERT_TRUE(found);
  EXPECT_TRUE(text("trials-figure").startsWith("0.02")) << text("trials-figure").toStdString();
  EXPECT_TRUE(text("trials-verdict").contains("0.28")) << text("trials-verdict").toStdString();
  EXPECT_TRUE(text("trials-text").contains("Set the nose to 12.")) << text("trials-text").toStdString();
  EXPECT_TRUE(text("trials-text").contains("wide at the top"));
  shoot("extra-depth");
  click("depth-back");
  EXPECT_EQ(typed().grooves.size(), 4u);
  groove(14, 0.33);
  click("keep");
  ASSERT_TRUE(engraving_for(book(), "red over white", 3));
  EXPECT_TRUE(typed().grooves.empty());
  EXPECT_TRUE(text("trials-verdict").contains("in the book")) << text("trials-verdict").toStdString();
  session_->editor().undo_stack().undo();
  EXPECT_FALSE(engraving_for(book(), "red over white", 3)) << "taken back with its entry";
  EXPECT_EQ(typed().grooves.size(), 5u);
}

TEST_F(EngraverWindow, ThePersonAtTheMachineMakesGrooves) {
  sheet("trials");
  material("red over white");
  type("depth-wanted", "0.3");
  for (int tick = 6; tick <= 16; tick += 2) {
    type("depth-tick", QString::number(tick));
    click("depth-make");
    ASSERT_TRUE(told());
    click("depth-take");
  }
  const auto found = evaluate_engraving(book());
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->ticks.mm_per_tick, 0.0254, 0.004);
  EXPECT_NEAR(found->ticks.tick, 1.3 + 0.3 / 0.0254, 1.5);
  click("trials-looks");
  EXPECT_TRUE(find<QWidget>("trial-curve")->isVisible()) << "yes and no by depth as well";
  click("trials-depth");
  EXPECT_TRUE(find<QWidget>("depth-section")->isVisible());
}

TEST_F(EngraverWindow, NonsenseIsRefusedAndChangesNothing) {
  sheet("trials");
  type("depth-total", "1.6");
  type("depth-cap", "2");
  EXPECT_TRUE(text("notice-text").contains("not thicker than its plate")) << text("notice-text").toStdString();
  EXPECT_EQ(plate_material(book()).cap_mm, 0);
  type("depth-tick", "5");
  type("depth-measured", "-0.1");
  click("depth-take");
  EXPECT_TRUE(typed().grooves.empty());
}

TEST_F(EngraverWindow, InchesAndASpindleAloneAreServedToo) {
  session_->editor().change_book("plain", [](Book& b) {
    b.machine.heads.clear();
    b.length_unit = "in";
  });
  sheet("trials");
  ASSERT_TRUE(find<QWidget>("depth-section")->isVisible());
  EXPECT_FALSE(find<QWidget>("depth-by")->isVisible()) << "there is no nose";
  EXPECT_FALSE(find<QWidget>("depth-make")->isVisible());
  for (const auto& [sent, depth] : {std::pair{"0.004", "0.0035"}, {"0.008", "0.0075"}, {"0.012", "0.0115"}}) {
    type("depth-tick", sent);
    type("depth-measured", depth);
    click("depth-take");
  }
  ASSERT_EQ(typed().grooves.size(), 3u);
  EXPECT_NEAR(typed().grooves[0].tick, 0.1016, 1e-9);
  type("depth-wanted", "0.01");
  EXPECT_NEAR(evaluate_engraving(book())->ticks.tick, 0.0105 * 25.4, 1e-6);
  shoot("extra-depth-by-z-inch");
  window_->resize(1024, 700);
  shoot("extra-depth-1024");
}

/// From the drawing to the plate as it will look, in its colours; what the tool is too wide for is said.
TEST_F(EngraverWindow, ThePlateIsShownAsItWillLook) {
  session_->editor().change_book("plate", [](Book& b) {
    b.job.stock_size = {110, 110, 1.6};
    b.job.stock_corner = {-5, -5};
    b.job.stock_name = "red over white";
    b.job.materials = {{.name = "red over white", .cap_mm = 0.2, .cap_colour = "#7a1f2b", .core_colour = "#f4efe2"}};
    b.job.drawing.emplace();
    b.job.drawing->file = YPSI_DEMO_DATA "/hour-ring.svg";
    for (const auto& [layer, act] : {std::pair{"numerals", DrawnAct::hatch}, {"minutes", DrawnAct::engrave}}) {
      LayerAct a;
      a.layer = layer;
      a.act = act;
      a.tool = 3;
      a.depth_mm = 0.28;
      b.job.drawing->acts.push_back(a);
    }
  });
  sheet("program");
  ASSERT_TRUE(wait_for([this] { return text("program-details").contains("About"); }))
      << text("program-details").toStdString();
  EXPECT_FALSE(find<QWidget>("drawing-looks")->isVisible());
  EXPECT_FALSE(text("program-details").contains("stay uncut")) << text("program-details").toStdString();
  click("drawing-look");
  ASSERT_TRUE(find<QWidget>("drawing-looks")->isVisible());
  shoot("extra-engraved-look");
  /// Pixels of the plate that are lighter than its cap: where the core is seen.
  const auto core_seen = [this] {
    const QImage plate = find<QWidget>("drawing-looks")->grab().toImage();
    std::size_t seen = 0;
    const int half = (QColor("#7a1f2b").green() + QColor("#f4efe2").green()) / 2;
    for (int x = plate.width() / 4; x < plate.width() * 3 / 4; ++x)
      for (int y = 20; y < plate.height() - 60; ++y) seen += plate.pixelColor(x, y).green() > half ? 1 : 0;
    return seen;
  };
  const std::size_t deep = core_seen();
  EXPECT_GT(deep, 100u) << "the numerals pass the cap";
  const auto change = [this](double depth, double tip) {
    session_->editor().change_book("depth", [&](Book& b) {
      for (LayerAct& a : b.job.drawing->acts) a.depth_mm = depth;
      b.tools[0].tip = tip;
    });
  };
  change(0.1, 0.2);
  EXPECT_LT(core_seen(), deep / 10) << "not as deep as the cap is thick";
  change(0.28, 1.2);
  EXPECT_TRUE(text("program-details").contains("stay uncut"))
      << "as wide as a stroke of a numeral: " << text("program-details").toStdString();
  shoot("extra-engraved-uncut");
}

/// What no sensor sees is asked in the order of setting a plate up, the nose's tick by what was tried.
TEST_F(EngraverWindow, ThePointsOfAPlateAreAskedInTheirOrder) {
  const auto points = session_->job().points();
  ASSERT_GE(points.size(), 3u);
  EXPECT_NE(points[0].find("liner"), std::string::npos);
  EXPECT_NE(points[1].find("corner"), std::string::npos);
  EXPECT_NE(points[2].find("lid"), std::string::npos);
}

/// What was said of a material on Trials is known where it lies on the machine, and the other way round.
TEST_F(EngraverWindow, APlateIsTheSameOnEverySheet) {
  sheet("trials");
  session_->editor().change_book("not measured", [](Book& b) { b.job.stock_size = {0, 0, 0}; });
  material("red over white");
  type("depth-cap", "0.2");
  type("depth-total", "1.6");
  sheet("program");
  click("part-program");
  type("stock-x", "100");
  type("stock-y", "60");
  EXPECT_TRUE(find<QLineEdit>("stock-cap")->text().isEmpty()) << "nobody said what lies there";
  auto* name = find<QComboBox>("stock-material");
  EXPECT_GE(name->findText("red over white"), 0) << "it is offered";
  name->setCurrentText("red over white");
  emit name->lineEdit()->editingFinished();
  EXPECT_EQ(find<QLineEdit>("stock-cap")->text().toDouble(), 0.2);
  EXPECT_EQ(book().job.stock_size[2], 1.6) << "as thick as its maker says, until it is measured";
  type("stock-cap", "0.25");
  type("stock-sheet", "0.15");
  type("stock-board", "6");
  EXPECT_EQ(book().job.sheet_mm, 0.15);
  EXPECT_EQ(book().job.board_mm, 6);
  shoot("extra-layers");
  type("stock-board", "-1");
  EXPECT_EQ(book().job.board_mm, 6);
  EXPECT_TRUE(text("notice-text").contains("not below zero")) << text("notice-text").toStdString();
  find<QLineEdit>("stock-sheet")->clear();
  QTest::keyClick(find<QLineEdit>("stock-sheet"), Qt::Key_Return);
  EXPECT_EQ(book().job.sheet_mm, 0);
  sheet("trials");
  EXPECT_EQ(find<QLineEdit>("depth-cap")->text().toDouble(), 0.25);
  session_->editor().change_book("a router", [](Book& b) {
    b.machine.kind = "router";
    b.machine.heads.clear();
  });
  sheet("program");
  EXPECT_FALSE(find<QLineEdit>("stock-cap")->isVisible());
  EXPECT_TRUE(find<QLineEdit>("stock-board")->isVisible());
}

/// From the liner to a measured engraving: the nose tried, the plate laid, the tool put in, zero set, crosses and
/// square engraved, each size read, and what its lines say put right.
TEST_F(EngraverWindow, FromTheLinerToTheMeasuredEngraving) {
  session_->editor().change_book("tools", [](Book& b) {
    b.tools[0].number = 2;
    b.job.stock_size = {96, 53, 3};
    b.job.stock_name = "red over white";
  });
  sheet("trials");
  material("red over white");
  tool(2);
  type("depth-cap", "0.2");
  type("depth-total", "3");
  type("depth-wanted", "0.3");
  for (int tick = 6; tick <= 16; ++tick) {
    type("depth-tick", QString::number(tick));
    click("depth-make");
    ASSERT_TRUE(told());
    click("depth-take");
  }
  click("keep");
  ASSERT_TRUE(engraving_for(book(), "red over white", 2));
  session_->machine().home(true);
  ASSERT_TRUE(wait_for([this] {
    return session_->machine().status().all_homed() && session_->machine().standing_ready();
  })) << text("notice-text").toStdString();
  ASSERT_TRUE(session_->machine().tool_put_in(2));
  jog_to(Axis::x, 60);
  jog_to(Axis::y, 60);
  jog_to(Axis::z, -35);
  const double top = session_->machine().status().position.z - session_->machine().bench()->gap_seen();
  session_->machine().set_work_zero_at({{Axis::x, 44.0}, {Axis::y, 40.0}, {Axis::z, top}}, RecordJson::from_text("[]"),
                                       "");
  sheet("measure_cut");
  EXPECT_TRUE(find<QComboBox>("coupon-kind")->itemText(0).contains("crosses and a square, engraved"));
  click("make-coupon");
  ASSERT_TRUE(wait_for([this] {
    return session_->job().program() && !session_->job().loader().busy() && session_->job().checked();
  })) << text("notice-text").toStdString();
  const CutWorksheet& engraved = book().worksheets[cut_worksheet];
  EXPECT_EQ(engraved.short_instrument, "magnifier");
  ASSERT_TRUE(engraved.set_to);
  for (const Finding& f : session_->job().findings()) EXPECT_NE(f.weight, Weight::stops) << f.message;
  shoot("extra-engraving-asked");
  sheet("ready");
  for (const std::string& p : session_->job().points()) session_->job().tick_point(p, true);
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  EXPECT_TRUE(find<QDoubleSpinBox>("tray-nose")->isVisible());
  sheet("cut");
  start();
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::held; }))
      << text("notice-text").toStdString();
  EXPECT_TRUE(text("cut-message").contains("turn the nose to")) << text("cut-message").toStdString();
  find<QDoubleSpinBox>("tray-nose")->setValue(*engraved.set_to);
  ASSERT_TRUE(told());
  click("continue");
  ASSERT_TRUE(wait_for(
      [this] { return session_->job().run().state() == RunState::finished && !session_->job().in_job(); }, 120000))
      << session_->job().run().why() << text("notice-text").toStdString();
  sheet("measure_cut");
  ASSERT_EQ(engraved.sizes.size(), 14u);
  for (std::size_t i = 0; i < 14; ++i) click("read-size");
  for (const CutSize& s : engraved.sizes) ASSERT_TRUE(s.measured_mm) << s.name;
  shoot("measured-engraving");
  const auto said = read_cut(book());
  ASSERT_TRUE(said) << said.error().message;
  const standin::Scenario& truth = machine().scenario();
  const double really = truth.nose->mm_per_tick * (*engraved.set_to - truth.nose->zero_tick);
  std::size_t told_of = 0;
  for (const CutCause& c : said->causes) {
    told_of += c.kind == CutCauseKind::nose || c.kind == CutCauseKind::tip || c.kind == CutCauseKind::steps ||
                       c.kind == CutCauseKind::lean
                   ? 1
                   : 0;
    if (c.kind == CutCauseKind::nose) {
      EXPECT_NEAR(c.value, really - 0.3, c.U + truth.nose->s);
    }
    if (c.kind == CutCauseKind::tip) {
      EXPECT_NEAR(c.value, truth.tools[1].tip - 0.2, c.U);
    }
    if (c.kind == CutCauseKind::steps) {
      EXPECT_TRUE(c.significant) << "its steps were never measured";
    }
    if (c.kind == CutCauseKind::lean) {
      EXPECT_NEAR(c.value, truth.skew, c.U);
    }
  }
  EXPECT_EQ(told_of, 5u) << "both scales, the lean, the nose and the tip";
  // X's steps are put right from here, and it is said.
  bool offered = false;
  for (int i = 0; i < 12 && !offered; ++i) {
    const QByteArray row = QString("cause-%1").arg(i).toUtf8();
    if (!find<QLabel>(row)->isVisible() || !text(row).contains("X goes")) continue;
    click(QString("apply-cause-%1").arg(i).toUtf8());
    EXPECT_NEAR(book().machine.axis(Axis::x).steps_per_mm, 803.1, 1.2);
    EXPECT_TRUE(text(row).contains("Put right"));
    offered = true;
  }
  EXPECT_TRUE(offered);
  click("keep");
  EXPECT_EQ(last().sheet, "measure_cut");
  EXPECT_TRUE(last().result.contains("too_deep_mm"));
}

/// What is missing for it leads to where it is found.
TEST_F(EngraverWindow, AnEngravingAsksForItsNoseAndItsTool) {
  sheet("measure_cut");
  click("make-coupon");
  EXPECT_TRUE(text("notice-text").contains("try it on Trials")) << text("notice-text").toStdString();
  click("notice-action-0");
  EXPECT_EQ(window_->current_sheet(), "trials");
  session_->editor().change_book("tools", [](Book& b) { b.tools.clear(); });
  sheet("measure_cut");
  click("make-coupon");
  EXPECT_TRUE(text("notice-text").contains("no pointed tool")) << text("notice-text").toStdString();
  click("notice-action-0");
  EXPECT_EQ(window_->current_sheet(), "tools");
}

}  // namespace engraver_window
}  // namespace ypsi::app
