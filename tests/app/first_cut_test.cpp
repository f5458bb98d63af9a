// The first cut in the real window: made, cut, measured, put right; and the certificate that comes of it.
#include <QComboBox>
#include <QFile>
#include <QTableWidget>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/sheets/certificate_sheet.h"
#include "core/book/worksheets/cut.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class FirstCutWindow : public WindowTest {
 protected:
  void make_and_cut() {
    zero_over_the_stock();
    session_->machine().set_work_zero_at({{Axis::z, -90.0}}, RecordJson::from_text("[]"), "");
    session_->editor().note_in_book([](Book& b) {
      b.job.stock_size = {150, 210, 18};
      b.job.checklist.clear();
      b.job.clamps.clear();
      for (Tool& t : b.tools)
        if (t.number == 1) t.diameter = 3;
    });
    sheet("measure_cut");
    find<QComboBox>("coupon-kind")->setCurrentIndex(1);
    click("make-coupon");
    ASSERT_TRUE(wait_for(
        [this] { return session_->job().program() && !session_->job().loader().busy() && session_->job().checked(); }));
    ASSERT_TRUE(session_->job().program()->path.endsWith("test-cut-frame.ngc"));
    answer_for_all();
    session_->job().start_cut(true);
    answer_for_the_dial();
    ASSERT_TRUE(wait_for(
        [this] { return session_->job().run().state() == RunState::finished && !session_->job().in_job(); }, 120000));
    sheet("measure_cut");
  }
  const CutWorksheet& worksheet() { return session_->editor().book().worksheets[cut_worksheet]; }
  /// The button of the cause whose words hold this; null where none is offered.
  QPushButton* cure(const QString& words) {
    for (int i = 0; i < 8; ++i) {
      auto* label = find<QLabel>(QString("cause-%1").arg(i).toUtf8());
      auto* button = find<QPushButton>(QString("apply-cause-%1").arg(i).toUtf8());
      if (label->isVisible() && label->text().contains(words)) return button->isVisible() ? button : nullptr;
    }
    return nullptr;
  }
  void measure_all() {
    for (std::size_t i = 0; i < worksheet().sizes.size(); ++i) click("read-size");
    for (const CutSize& s : worksheet().sizes) ASSERT_TRUE(s.measured_mm) << s.name;
  }
};

TEST_F(FirstCutWindow, IsMadeMeasuredAndPutRightWhereItBelongs) {
  make_and_cut();
  ASSERT_EQ(worksheet().sizes.size(), 13u);
  measure_all();
  // The demo's axes: 80 in the controller where the mechanics have 80.37 and 79.82, so X comes short, Y long.
  auto* x = cure("X goes");
  ASSERT_NE(x, nullptr);
  EXPECT_TRUE(x->text().startsWith("Steps of X to 80.")) << x->text().toStdString();
  EXPECT_TRUE(x->toolTip().contains("out of date")) << x->toolTip().toStdString();
  click(x->objectName().toUtf8());
  const auto steps = session_->machine().link()->setting("axis.x.steps_per_mm");
  ASSERT_TRUE(steps);
  const double U = last().result.value("U_new_steps_per_mm", 0.0);
  EXPECT_NEAR(*steps, 80.37, U) << "within the U that it tells";
  EXPECT_LT(U, 0.2);
  EXPECT_EQ(last().sheet, "steps_per_unit");
  EXPECT_EQ(last().note, "first cut");
  EXPECT_EQ(cure("X goes"), nullptr) << "the same cut corrects it once";
  undo();
  EXPECT_NEAR(*session_->machine().link()->setting("axis.x.steps_per_mm"), 80, 1e-9);
  EXPECT_NE(cure("X goes"), nullptr);
  redo();

  auto* y = cure("Y loses");
  ASSERT_NE(y, nullptr);
  click(y->objectName().toUtf8());
  EXPECT_EQ(last().sheet, "lost_motion");
  EXPECT_EQ(last().subject, "Y");
  EXPECT_NEAR(last().result.value("lost_motion_mm", 0.0), 0.11, last().result.value("U_lost_motion_mm", 0.0) + 0.0125);
  EXPECT_EQ(cure("Y loses"), nullptr);

  click("keep");
  EXPECT_EQ(last().sheet, "measure_cut");
  EXPECT_EQ(last().readings.size(), 13u);
  EXPECT_NEAR(last().result.value("tool_diameter_mm", 0.0), 2.96,
              last().result.value("U_tool_diameter_mm", 0.0) + 0.0125);
  EXPECT_FALSE(find<QPushButton>("keep")->isEnabled()) << "kept once";
}

TEST_F(FirstCutWindow, OneSizeAMillimetreSmallNeverChangesSteps) {
  home();
  sheet("measure_cut");
  find<QComboBox>("coupon-kind")->setCurrentIndex(6);
  click("make-coupon");
  EXPECT_TRUE(worksheet().coupon.empty());
  type("size-nominal", "50");
  click("add-size");
  ASSERT_EQ(worksheet().sizes.size(), 1u);
  type("size-0", "49");
  ASSERT_TRUE(worksheet().sizes[0].measured_mm);
  const auto nothing_offered = [this] {
    for (int i = 0; i < 8; ++i)
      if (find<QPushButton>(QString("apply-cause-%1").arg(i).toUtf8())->isVisible()) return false;
    return true;
  };
  EXPECT_TRUE(nothing_offered());
  EXPECT_TRUE(text("cut-undetermined").contains("the scale of X")) << text("cut-undetermined").toStdString();
  EXPECT_TRUE(text("cut-undetermined").contains("the cutter's diameter"));
  EXPECT_TRUE(text("cut-undetermined").contains("Measure ")) << "it says what would settle it";
  // Another of the same kind and size settles nothing.
  type("size-nominal", "50");
  click("add-size");
  type("size-1", "49.01");
  EXPECT_TRUE(nothing_offered());
  // Spacing as drawn: the scale is right, whatever else is not.
  find<QComboBox>("size-kind")->setCurrentIndex(4);  // like edges along X
  type("size-nominal", "120");
  click("add-size");
  type("size-2", "120.0");
  EXPECT_EQ(cure("X goes"), nullptr);
  EXPECT_TRUE(nothing_offered()) << "cutter and lost motion are not told apart yet";
  find<QComboBox>("size-kind")->setCurrentIndex(2);  // outside along X
  type("size-nominal", "60");
  click("add-size");
  type("size-3", "61");
  auto* cutter = cure("The cutter cuts");
  ASSERT_NE(cutter, nullptr) << "pocket small and tenon large by the same: the cutter";
  const int tool = worksheet().tool;
  const double before = session_->editor().book().tool(tool)->diameter;
  click(cutter->objectName().toUtf8());
  EXPECT_NEAR(session_->editor().book().tool(tool)->diameter, before - 1, 0.06);
  EXPECT_TRUE(session_->editor().book().tool(tool)->diameter_reason.starts_with("first cut of"));
  EXPECT_EQ(cure("X goes"), nullptr);
  EXPECT_EQ(session_->editor().book().machine.axis(Axis::x).steps_per_mm, 80);
}

TEST_F(FirstCutWindow, RefusesSizesThatCannotBeAndSaysWhatIsMissing) {
  home();
  session_->editor().note_in_book([](Book& b) { b.job.stock_size = {0, 0, 0}; });
  sheet("measure_cut");
  find<QComboBox>("coupon-kind")->setCurrentIndex(1);
  click("make-coupon");
  EXPECT_TRUE(text("notice-text").contains("stock's size")) << text("notice-text").toStdString();
  EXPECT_TRUE(worksheet().sizes.empty());
  click("add-size");
  EXPECT_TRUE(text("notice-text").contains("how large it was drawn"));
  type("size-nominal", "40");
  click("add-size");
  type("size-0", "-3");
  EXPECT_TRUE(text("notice-text").contains("above zero"));
  EXPECT_FALSE(worksheet().sizes[0].measured_mm);
  type("size-0", "0");
  EXPECT_FALSE(worksheet().sizes[0].measured_mm) << "an inside size of nothing is none";
  auto* table = find<QTableWidget>("cut-sizes");
  table->setCurrentCell(0, 0);
  QTest::keyClick(table, Qt::Key_Delete);
  EXPECT_TRUE(worksheet().sizes.empty());
  undo();
  EXPECT_EQ(worksheet().sizes.size(), 1u);
  close();
  open();
  EXPECT_EQ(worksheet().sizes.size(), 1u) << "what was typed is in the book's file";
}

TEST_F(FirstCutWindow, ADepthIsReadFromTheTopBesideIt) {
  home();
  sheet("measure_cut");
  auto* kind = find<QComboBox>("size-kind");
  kind->setCurrentIndex(kind->count() - 1);
  ASSERT_TRUE(kind->currentText().contains("depth"));
  for (const char* drawn : {"1", "2", "3"}) {
    type("size-nominal", drawn);
    click("add-size");
  }
  auto* table = find<QTableWidget>("cut-sizes");
  EXPECT_FALSE(find<QLineEdit>("size-top")->isVisible());
  const std::pair<const char*, const char*> measured[] = {{"1.35", "0.3"}, {"1.85", "-0.2"}, {"1.85", "-1.2"}};
  for (int i = 0; i < 3; ++i) {
    type(("size-" + std::to_string(i)).c_str(), measured[i].first);
    table->setCurrentCell(i, 0);
    EXPECT_TRUE(find<QLineEdit>("size-top")->isVisible());
    type("size-top", measured[i].second);
  }
  click("keep");
  EXPECT_NEAR(last().result.at("z_zero_mm").get<double>(), 0.05, 0.002) << "a level cut, 0.05 too deep";
  EXPECT_EQ(last().readings.at(2).at("top_mm"), -1.2);
  type("size-2", "0");
  EXPECT_EQ(worksheet().sizes[2].measured_mm, 0) << "it did not reach";
}

class CertificateWindow : public WindowTest {
 protected:
  QByteArray written(const QString& name) {
    auto* sheet_widget = window_->findChild<CertificateSheet*>();
    sheet_widget->write(folder_.filePath(name));
    QFile file(folder_.filePath(name));
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
  }
};

TEST_F(CertificateWindow, GoesToPdfHtmlAndReadings) {
  sheet("certificate");
  const QByteArray pdf = written("c.pdf");
  EXPECT_TRUE(pdf.startsWith("%PDF-"));
  EXPECT_TRUE(pdf.trimmed().endsWith("%%EOF"));
  EXPECT_EQ(pdf.count("/Type /Page\n"), 2) << "results, and how they went over time";
  const QString html = QString::fromUtf8(written("c.html"));
  for (const char* held :
       {"Quillfeather Dials", "Oriel", "Steps per mm, X", "never measured", "current", "<svg", "95 %"})
    EXPECT_TRUE(html.contains(held)) << held;
  EXPECT_FALSE(html.contains("http")) << "it needs nothing from elsewhere";
  const QList<QByteArray> rows = written("c.csv").trimmed().split('\n');
  EXPECT_EQ(rows.front(), "time,sheet,subject,instrument,reading,what,value");
  EXPECT_GT(rows.size(), 10);
  EXPECT_TRUE(text("notice-text").contains("c.csv"));
  EXPECT_TRUE(written("no-such-folder/c.pdf").isEmpty());
  EXPECT_TRUE(text("notice-text").contains("could not be written")) << text("notice-text").toStdString();
}

TEST_F(CertificateWindow, TellsWhatIsOldAndNamesTheWorkshop) {
  sheet("certificate");
  EXPECT_TRUE(text("certificate-counts").contains("never measured"));
  type("certificate-workshop", "Made-up & <Sons>");
  EXPECT_EQ(session_->editor().book().machine.workshop, "Made-up & <Sons>");
  EXPECT_TRUE(QString::fromUtf8(written("c.html")).contains("Made-up &amp; &lt;Sons&gt;"));
  undo();
  EXPECT_EQ(session_->editor().book().machine.workshop, "Quillfeather Dials");
  click("certificate-page-2");
  EXPECT_TRUE(find<QPushButton>("certificate-page-2")->isChecked());
}

}  // namespace
}  // namespace ypsi::app
