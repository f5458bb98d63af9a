#pragma once
#include <QTableWidget>

#include "app/sheets/bed/bed_page.h"
#include "app/sheets/sheet.h"
#include "core/book/worksheets/bed.h"
#include "core/calibration/bed.h"

namespace ypsi::app {

/// The readings along an edge, drawn large, with the line through them.
class EdgeDrawing : public QWidget {
 public:
  explicit EdgeDrawing(QWidget* parent);
  void show(const BedWorksheet& sheet, const std::optional<EdgeRun>& run, LengthUnit unit);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  BedWorksheet sheet_;
  std::optional<EdgeRun> run_;
  LengthUnit unit_ = LengthUnit::millimetre;
};

/// A fence or a vice jaw along an axis: an indicator carried along it says how far to tap its far end.
class EdgePage : public BedPage {
  Q_OBJECT
 public:
  explicit EdgePage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  std::optional<EdgeRun> run() const;
  Axis along() const { return worksheet().edge_along_y ? Axis::y : Axis::x; }
  EdgeDrawing* drawing_;
  QTableWidget* table_;
  LengthField *position_, *reading_;
  QPushButton *along_x_, *along_y_, *take_;
};

}  // namespace ypsi::app
