// A drawing through the real window, on the demo table: dropped on the sheet, its layers given what is done with them,
// made into a program that is loaded; measured, damaged, and with an empty book.
#include <QDropEvent>
#include <QMimeData>
#include <QTableWidget>

#include "app/sheets/program/drawing_view.h"
#include "app/sheets/program_sheet.h"
#include "core/drawing_in/drawing_program.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace drawing_window {

class DrawingWindow : public WindowTest {
 protected:
  void SetUp() override {
    demo_ = prepare_demo(YPSI_DEMO_DATA, folder_.path(), true, "fathom").value();
    open();
    window_->resize(1280, 800);
    QFile::copy(QString(YPSI_DEMO_DATA) + "/gnomon-case.dxf", folder_.filePath("gnomon-case.dxf"));
    session_->editor().change_book("places", [](Book& b) {
      for (std::size_t i = 1; i < b.machine.heads.size(); ++i)
        b.machine.heads[i].place = HeadPlace{20.0 * static_cast<double>(i), 3, 0.1};
      b.job.stock_size = {700, 500, 1};
    });
  }
  const Book& book() { return session_->editor().book(); }
  const DrawingJob& job() { return *book().job.drawing; }
  void drop(const QString& path) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(path)});
    auto* sheet = window_->findChild<ProgramSheet*>();
    QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(sheet, &enter);
    QDropEvent event(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(sheet, &event);
  }
  void opened(const QString& path) {
    sheet("program");
    drop(path);
    ASSERT_TRUE(wait_for([this] { return find<QTableWidget>("drawing-layers")->rowCount() > 0; }));
  }
  int row(const QString& layer) {
    const auto* table = find<QTableWidget>("drawing-layers");
    for (int i = 0; i < table->rowCount(); ++i)
      if (table->item(i, 0)->text().startsWith(layer + ":")) return i;
    ADD_FAILURE() << "no layer " << layer.toStdString();
    return 0;
  }
  void choose(const char* box_name, int row, const QString& words) {
    auto* box = find<QComboBox>(QString("%1-%2").arg(box_name).arg(row + 1).toLatin1().constData());
    const int at = box->findText(words, Qt::MatchStartsWith);
    ASSERT_GE(at, 0) << words.toStdString();
    box->setCurrentIndex(at);
    emit box->activated(at);
  }
  void say_all() {
    const std::array<std::array<QString, 3>, 3> acts{
        {{"outline", "cut on the line", "wheel"}, {"fold", "creased", "creaser"}, {"names", "marked", "pen"}}};
    for (const auto& [layer, act, head] : acts) {
      ASSERT_NO_FATAL_FAILURE(choose("layer-with", row(layer), head));
      ASSERT_NO_FATAL_FAILURE(choose("layer-act", row(layer), act));
    }
  }
  void shoot(const QString& name) {
    find<QWidget>("notice")->hide();
    EXPECT_TRUE(told(6));
    const QString folder = qEnvironmentVariable("YPSI_PICTURES", folder_.path());
    ASSERT_TRUE(window_->grab().save(folder + "/" + name + ".png")) << folder.toStdString();
  }
};

TEST_F(DrawingWindow, FromTheFileToALoadedProgram) {
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  EXPECT_TRUE(find<QWidget>("drawing-view")->isVisible());
  EXPECT_EQ(find<QTableWidget>("drawing-layers")->rowCount(), 4);
  EXPECT_TRUE(find<QTableWidget>("drawing-layers")->item(row("outline"), 0)->text().contains("3 closed"));
  EXPECT_FALSE(find<QPushButton>("drawing-write")->isEnabled()) << "nobody has said what is done";
  EXPECT_TRUE(text("program-details").contains("0.400 mm apart")) << text("program-details").toStdString();
  EXPECT_TRUE(text("program-details").contains("gnomon case No. 4"));
  ASSERT_NO_FATAL_FAILURE(say_all());
  ASSERT_EQ(job().acts.size(), 3u);
  EXPECT_TRUE(text("program-details").contains("About ")) << text("program-details").toStdString();
  EXPECT_TRUE(text("program-size").contains("2.63 m to cut")) << text("program-size").toStdString();
  shoot("drawing");
  window_->resize(1024, 700);
  shoot("extra-drawing-1024");
  window_->resize(1280, 800);
  click("drawing-write");
  ASSERT_TRUE(wait_for([this] { return session_->job().program() != nullptr; }));
  const QString path = session_->job().program()->path;
  EXPECT_TRUE(path.endsWith("/gnomon-case.ngc")) << path.toStdString();
  const std::string& text_of = session_->job().program()->text;
  EXPECT_LT(text_of.find("(names)"), text_of.find("(fold)"));
  EXPECT_LT(text_of.find("(fold)"), text_of.find("(outline)"));
  EXPECT_EQ(text_of.find("(frame)"), std::string::npos);
  EXPECT_TRUE(find<QWidget>("open-program")->isVisible()) << "the program is shown";
  // Once more: what is there is not overwritten unasked.
  click("part-drawing");
  type("drawing-columns", "2");
  click("drawing-write");
  ASSERT_TRUE(wait_for([&] { return session_->job().program() && session_->job().program()->path != path; }));
}

TEST_F(DrawingWindow, ADimensionThatIsTypedTellsTheUnit) {
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  EXPECT_TRUE(text("drawing-unit").contains("millimetres")) << text("drawing-unit").toStdString();
  type("drawing-width", "15240");
  EXPECT_EQ(job().unit, "in");
  ASSERT_TRUE(wait_for([this] { return text("drawing-unit").contains("25.4"); })) << text("drawing-unit").toStdString();
  EXPECT_TRUE(text("program-details").contains("reaches")) << "it is larger than the bed then";
  session_->editor().undo_stack().undo();
  ASSERT_TRUE(wait_for([this] { return text("drawing-unit").contains("millimetres"); }));
}

TEST_F(DrawingWindow, CopiesZeroAndDepthsAreKept) {
  session_->editor().change_book("no stock", [](Book& b) { b.job.stock_size = {0, 0, 0}; });
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  type("drawing-columns", "2");
  type("drawing-gap", "12");
  EXPECT_EQ(job().columns, 2);
  EXPECT_EQ(job().gap_mm, 12);
  type("drawing-rows", "0");
  EXPECT_EQ(job().rows, 1) << "refused";
  find<QTableWidget>("drawing-layers")->item(row("outline"), 3)->setText("2,5");
  ASSERT_TRUE(wait_for([this] { return !job().acts.empty() && job().acts[0].depth_mm == 2.5; }));
  // The middle of the drawing lies in the middle of its room.
  auto* view = find<DrawingView>("drawing-view");
  EXPECT_FALSE(find<QPushButton>("drawing-corner")->isEnabled());
  QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(view->width() / 2, 16 + (view->height() - 16 - 44) / 2));
  ASSERT_TRUE(job().zero_mm);
  EXPECT_NEAR((*job().zero_mm)[0], 300, 12);
  EXPECT_NEAR((*job().zero_mm)[1], 230, 12);
  click("drawing-corner");
  EXPECT_FALSE(job().zero_mm);
}

TEST_F(DrawingWindow, WhatIsDamagedIsSaidWithItsLineAndNothingIsLost) {
  QFile bad(folder_.filePath("bad.dxf"));
  ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
  bad.write("0\nSECTION\n2\nENTITIES\n0\nLINE\n8\ncut\n10\nabc\n");
  bad.close();
  sheet("program");
  drop(folder_.filePath("bad.dxf"));
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("Line 10"); }))
      << text("notice-text").toStdString();
  EXPECT_EQ(find<QTableWidget>("drawing-layers")->rowCount(), 0);
  EXPECT_FALSE(find<QPushButton>("drawing-write")->isEnabled());
}

TEST_F(DrawingWindow, NothingIsThereAndInches) {
  sheet("program");
  click("part-drawing");
  EXPECT_TRUE(text("program-details").contains("DXF")) << text("program-details").toStdString();
  shoot("extra-drawing-none");
  session_->editor().change_book("inches", [](Book& b) { b.length_unit = "in"; });
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  EXPECT_EQ(find<LengthField>("drawing-width")->value(), 600);
  EXPECT_TRUE(find<QLineEdit>("drawing-width")->text().startsWith("23.6"))
      << find<QLineEdit>("drawing-width")->text().toStdString();
}

}  // namespace drawing_window
}  // namespace ypsi::app
