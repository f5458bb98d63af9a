#pragma once
#include <QWidget>

#include "core/book/book.h"

namespace ypsi::app {

/// A tool to scale, with its diameter, angle, tip and length out.
class ToolDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit ToolDrawing(QWidget* parent);
  void show(const std::optional<Tool>& tool, LengthUnit unit);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::optional<Tool> tool_;
  LengthUnit unit_ = LengthUnit::millimetre;
};

}  // namespace ypsi::app
