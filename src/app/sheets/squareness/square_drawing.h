#pragma once
#include <vector>

#include "app/widgets/field.h"
#include "core/book/book.h"
#include "core/book/worksheets/squareness.h"
#include "core/calibration/squareness.h"

namespace ypsi::app {

/// The marks with their distances typed on the lines, the beam on its rails and the end to move. The lean is drawn
/// exaggerated.
class SquareDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit SquareDrawing(QWidget* parent);
  void show(const SquareWorksheet& sheet, const std::optional<SquareFit>& fit, std::optional<double> rail_spacing,
            LengthUnit unit);
  LengthField* field(std::size_t distance) { return fields_[distance]; }
  LengthField* rails() { return rails_; }
  /// How many times the lean is drawn larger than it is; 1 where there is none to draw.
  double exaggeration() const;
  /// Where a mark is drawn.
  QPointF mark_at(std::size_t point) const;

 signals:
  void measured(std::size_t distance, double mm);
  void next_wanted(std::size_t distance);
  void edge_wanted(std::size_t distance);  ///< a click on its words: the next of centre, outer, inner
  void pair_wanted(std::size_t from, std::size_t to);
  void refused(const QString& sentence);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  QPointF place(const Point2& p, double lean) const;
  QPointF words_at(std::size_t distance) const;
  QRectF words_box(std::size_t distance) const;
  std::optional<std::size_t> mark_under(QPointF p) const;
  void place_fields();
  void paint_beam(class Draft& draft) const;

  SquareWorksheet sheet_;
  std::optional<SquareFit> fit_;
  LengthUnit unit_ = LengthUnit::millimetre;
  std::vector<LengthField*> fields_;
  LengthField* rails_;
  std::optional<std::size_t> drag_from_;
  QPointF drag_to_;
};

/// "A to C, outer edges".
QString distance_words(const SquareWorksheet& sheet, const MarkDistance& distance);

}  // namespace ypsi::app
