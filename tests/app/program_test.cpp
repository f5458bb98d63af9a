// Programs in the window: broken ones say where, and nothing is loaded half.
#include <QMimeData>
#include <QPainter>

#include "app/drawing/toolpath.h"
#include "app/session/job_session.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class Programs : public WindowTest {
 protected:
  void expect_refused(const QByteArray& bytes, const QString& part) {
    write("broken.ngc", bytes);
    load("broken.ngc");
    EXPECT_TRUE(text("notice-text").contains(part))
        << text("notice-text").toStdString() << "\nwanted: " << part.toStdString();
    ASSERT_TRUE(session_->job().program());
    EXPECT_TRUE(session_->job().program()->path.endsWith("dial-blank.ngc")) << "the program before must stay";
  }
};

TEST_F(Programs, EachBrokenFileGetsASentenceWithLineAndColumn) {
  sheet("program");
  load("dial-blank.ngc");
  expect_refused("G21\nG1 X1 F100\nG68 R30\n", "Line 3, column 1: G68 asks the controller to turn");
  expect_refused("G21\nG0 X1 (to the left\n", "Line 2, column 7: this comment is not closed");
  expect_refused("G21 F100\nG0 X0 Y0\nG2 X10 Y0 I3 J0\n", "Line 3, column 11: the radius does not fit");
  expect_refused(QByteArray("\x89PNG\r\n\x1a\n\0\0\0", 11), "Line 1, column 1: a byte 0x89");
  expect_refused("", "empty file");
  expect_refused("G0 X1\n" + QByteArray(1 << 20, 'X') + "\n",
                 "Line 2, column 65537: this line is 1048576 characters long");
}

/// Pixels in one column of a picture that were painted.
int painted(const QImage& image, int x) {
  int count = 0;
  for (int y = 0; y < image.height(); ++y) count += qAlpha(image.pixel(x, y)) > 127;
  return count;
}

TEST_F(Programs, APointedToolIsDrawnAsWideAsItCutsAtItsDepth) {
  const auto program = std::make_shared<LoadedProgram>();
  program->program =
      *read_program("G21 G90\nG0 X10 Y10 Z5\nG1 Z-2 F100\nX40 F500\nZ-0.5\nX70\nG0 Z5\nM2\n", ReadSetting{});
  Tool v;
  v.diameter = 6;
  v.angle = 90;
  v.tip = 0.2;
  Tool flat;
  flat.diameter = 6;
  const auto drawn = [&](const Tool& tool, double top) {
    CutWidths widths;
    widths.cutters[0] = {tool, top};
    QImage image(800, 200, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    draw_path(painter, *program, QTransform(10, 0, 0, -10, 0, 200), 0, program->program.motions.size(),
              PathLook::cut_width, Qt::black, widths);
    painter.end();
    return std::pair(painted(image, 250), painted(image, 600));
  };
  // Full width = tip + 2 depth tan(45 degrees), never more than the tool is wide; 10 px a mm.
  EXPECT_EQ(drawn(v, 0), std::pair(42, 12));
  EXPECT_EQ(drawn(v, 0.5), std::pair(52, 22)) << "with zero below the top";
  EXPECT_EQ(drawn(v, 3), std::pair(60, 60));
  EXPECT_EQ(drawn(flat, 0), std::pair(60, 60));
}

TEST_F(Programs, DropAndRecentListLoad) {
  sheet("program");
  load("dial-blank.ngc");
  write("other.ngc", "G21 G90\nG1 X10 F100\nM2\n");
  QMimeData data;
  data.setUrls({QUrl::fromLocalFile(folder_.filePath("other.ngc"))});
  QWidget* page = find<QWidget>("sheet-program");
  QDropEvent drop(QPointF(50, 50), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QDragEnterEvent enter(QPoint(50, 50), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(page, &enter);
  EXPECT_TRUE(enter.isAccepted());
  QApplication::sendEvent(page, &drop);
  ASSERT_TRUE(
      wait_for([this] { return session_->job().program() && session_->job().program()->path.endsWith("other.ngc"); }));
  EXPECT_TRUE(told());
  click("recent-0");
  EXPECT_TRUE(wait_for([this] { return session_->job().program()->path.endsWith("dial-blank.ngc"); }));
}

TEST_F(Programs, EverySheetOpensAtEverySizeByKeys) {
  for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)}) {
    window_->resize(size);
    sheet("standing");
    QStringList seen;
    for (int i = 0; i < 21; ++i) {
      QTest::keyClick(window_.get(), Qt::Key_PageDown, Qt::ControlModifier);
      seen << window_->current_sheet();
      EXPECT_FALSE(text("sheet-title").isEmpty());
    }
    EXPECT_EQ(seen.removeDuplicates(), 0);
    EXPECT_EQ(seen.last(), "certificate");
    EXPECT_LE(window_->width(), size.width()) << "a sheet forced the window wider";
    EXPECT_LE(window_->height(), size.height()) << "a sheet forced the window higher";
  }
}

}  // namespace
}  // namespace ypsi::app
