#pragma once
#include "app/widgets/field.h"
#include "core/book/book.h"

namespace ypsi::app {

/// A section through tool, plate, stock and bed, and the plate over the corner from above, dimensions typed on it.
class PlateSection : public QWidget {
  Q_OBJECT
 public:
  explicit PlateSection(QWidget* parent);
  void show(const TouchPlate& plate, double tool_diameter, double stock_thickness, LengthUnit unit);
  LengthField* thickness() { return thickness_; }
  LengthField* wall_x() { return wall_x_; }
  LengthField* wall_y() { return wall_y_; }
  LengthField* tool() { return tool_; }
  LengthField* stock() { return stock_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  struct Places {
    double left, right, bed, stock_top, plate_top, tool_x;
  };
  Places places() const;
  QRectF corner() const;  ///< the stock's corner in the plan
  void place_fields();
  bool has_walls_ = false;
  LengthField *thickness_, *wall_x_, *wall_y_, *tool_, *stock_;
};

}  // namespace ypsi::app
