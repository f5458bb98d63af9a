#pragma once
#include "app/sheets/sheet.h"
#include "core/book/book.h"
#include "core/procedures/setter_touch.h"

namespace ypsi::app {

/// A section through tool, setter and bed.
class SetterSection : public QWidget {
  Q_OBJECT
 public:
  explicit SetterSection(QWidget* parent);
  void show(const std::optional<ToolSetter>& setter, LengthUnit unit);
  LengthField* x() { return x_; }
  LengthField* y() { return y_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  std::optional<ToolSetter> setter_;
  LengthUnit unit_ = LengthUnit::millimetre;
  LengthField *x_, *y_;
};

/// The tool setter: its place, what the reference tool finds on it, how well it repeats.
class ToolSetterSheet : public Sheet {
  Q_OBJECT
 public:
  explicit ToolSetterSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  void set_place(std::optional<double> x, std::optional<double> y);
  void measure();
  void keep();
  void show_finding();

  SetterSection* section_;
  LengthField* touches_;
  QPushButton *take_, *circuit_button_, *measure_, *keep_;
  QLabel *hint_, *lead_, *figure_, *spread_, *verdict_, *text_;
  std::shared_ptr<SetterTouch> touch_ = std::make_shared<SetterTouch>();
  std::vector<double> triggers_;  ///< of the reference tool, not kept yet
};

/// How a tool is brought to the setter of a book. Precondition: it has one.
SetterWay setter_way(const Book& book, int touches);

}  // namespace ypsi::app
