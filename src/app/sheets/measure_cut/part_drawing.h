#pragma once
#include <vector>

#include "app/widgets/field.h"
#include "core/book/worksheets/cut.h"
#include "core/tasks/cut_reading.h"

namespace ypsi::app {

/// The part that was cut, from above: its sizes with their letters, each typed beside it, and what they are off by,
/// drawn exaggerated.
class PartDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit PartDrawing(QWidget* parent);
  /// `reading` may be null: nothing is measured yet.
  void show(const CutWorksheet& sheet, const CutReading* reading, LengthUnit unit);
  LengthField* field(std::size_t size) { return fields_[size]; }
  std::size_t count() const { return fields_.size(); }
  /// The size whose field has the focus; the first that is not measured where none has.
  std::optional<std::size_t> chosen() const;
  /// How many times deviations are drawn larger than they are.
  double exaggeration() const { return exaggeration_; }

 signals:
  void measured(std::size_t size, double mm);
  void cleared(std::size_t size);
  void next_wanted(std::size_t size);
  void refused(const QString& sentence);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  struct Slot {  ///< a size's place in one of the columns beside the part
    bool left = true;
    QRectF box;
  };
  struct Map {
    double scale = 1;
    QPointF origin;  ///< px of the part's front left corner
    QPointF operator()(double x, double y) const { return {origin.x() + x * scale, origin.y() - y * scale}; }
  };
  bool narrow() const;
  double column() const;  ///< px, of the fields on either side
  void arrange();
  Map map() const;
  QPointF anchor(const Map& map, std::size_t size) const;
  void paint_lines(QPainter& p, const Map& m, const CutSize& s) const;
  void paint_part(class Draft& draft, const Map& map) const;
  void paint_size(class Draft& draft, const Map& map, std::size_t size) const;
  void paint_words(class Draft& draft, std::size_t size) const;

  CutWorksheet sheet_;
  std::vector<std::optional<double>> deviations_, residuals_;
  LengthUnit unit_ = LengthUnit::millimetre;
  double exaggeration_ = 1;
  std::vector<LengthField*> fields_;
  std::vector<Slot> slots_of_;
};

/// "inside along X".
QString size_words(const CutSize& size);

}  // namespace ypsi::app
