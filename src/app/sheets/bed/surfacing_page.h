#pragma once
#include "app/sheets/bed/bed_page.h"
#include "app/sheets/sheet.h"
#include "core/book/worksheets/bed.h"
#include "core/program/surfacing.h"

namespace ypsi::app {

/// The area, and the path of the tool's centre over it.
class SurfacingDrawing : public QWidget {
 public:
  explicit SurfacingDrawing(QWidget* parent);
  /// `room`: where the tool may go, work coordinates.
  void show(const QRectF& room, const BedWorksheet& sheet, const std::optional<Surfacing>& made, LengthUnit unit);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QRectF room_;
  BedWorksheet sheet_;
  std::optional<Surfacing> made_;
  LengthUnit unit_ = LengthUnit::millimetre;
};

/// A program that makes the bed flat.
class SurfacingPage : public BedPage {
  Q_OBJECT
 public:
  explicit SurfacingPage(Session& session);
  void refresh() override;
  PageFinding finding() const override;
  void keep() override;
  void second() override;

 private:
  QRectF room() const;
  Result<Surfacing> make() const;
  std::optional<Result<Surfacing>> made_;  ///< of the worksheet as it is
  SurfacingDrawing* drawing_;
  LengthField *cutter_, *stepover_, *depth_, *layer_, *feed_, *rpm_, *x_, *y_, *width_, *height_;
  QPushButton *along_x_, *along_y_, *both_, *one_;
};

}  // namespace ypsi::app
