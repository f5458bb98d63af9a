#pragma once
#include "app/widgets/field.h"

namespace ypsi::app {

/// The square on the bed, twice, with the indicator's reading typed at the end of its blade.
class ReversalDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit ReversalDrawing(QWidget* parent);
  void show(double length, std::optional<double> first, std::optional<double> turned, LengthUnit unit);
  LengthField* length() { return length_; }
  LengthField* first() { return first_; }
  LengthField* turned() { return turned_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QPointF corner(bool turned) const;
  double blade() const { return height() - 150.0; }
  LengthField *length_, *first_, *turned_;
};

}  // namespace ypsi::app
