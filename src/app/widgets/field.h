#pragma once
// A reading on its dimension line: a length typed with dot or comma, in mm or inch, or as a sum; shows what it became.
#include <QLineEdit>
#include <optional>

#include "core/units/length.h"

namespace ypsi::app {

class LengthField : public QLineEdit {
  Q_OBJECT
 public:
  explicit LengthField(const QString& name, const QString& what, QWidget* parent);

  /// Takes it at once, or after what is being typed, which is of the unit that the field shows.
  void set_unit(LengthUnit unit);
  void set_decimals(int decimals_mm) { decimals_ = decimals_mm; }
  /// Shows a value in mm, or nothing. Leaves what is being typed alone.
  void show_value(std::optional<double> mm);
  std::optional<double> value() const { return value_; }
  /// Whether emptying it takes its value away; else the value comes back.
  void set_clearable(bool clearable) { clearable_ = clearable; }

 signals:
  void committed(double mm);
  void next_wanted();  ///< Enter: on to the next reading
  void cleared();
  void refused(const QString& sentence);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;

 private:
  void commit();
  void take_unit();
  void set_wrong(bool wrong);
  LengthUnit unit_ = LengthUnit::millimetre, wanted_unit_ = LengthUnit::millimetre;
  int decimals_ = 2;
  bool clearable_ = false;
  std::optional<double> value_;
};

/// Puts what is typed into or pressed on a drawing with its centre at `centre`, or as near as its parent has room.
void put_on_drawing(QWidget& widget, QPointF centre);

}  // namespace ypsi::app
