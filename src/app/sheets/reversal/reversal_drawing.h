#pragma once
#include "app/widgets/field.h"

namespace ypsi::app {

/// What is done along a square's blade.
struct ReversalWords {
  QString caption{};
  QString along{}, first{}, turned{};  ///< what the fields take
  QString leaves{};                    ///< "leaves it towards +X by"
  QString other_way{};                 ///< "turned over"
  bool stands = false;                 ///< upright on the bed, seen from the front; else it lies, seen from above
};

/// The square, twice, with the indicator's reading typed at the end of its blade.
class ReversalDrawing : public QWidget {
  Q_OBJECT
 public:
  ReversalDrawing(const QString& name, const ReversalWords& words, QWidget* parent);
  /// The words of another direction.
  void set_words(const ReversalWords& words);
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
  ReversalWords words_;
  LengthField *length_, *first_, *turned_;
};

}  // namespace ypsi::app
