#pragma once
#include <QWidget>
#include <optional>

#include "core/book/book.h"

namespace ypsi::app {

/// The bed with its fences and stops, and the piece that is cut along the chosen one.
class FenceDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit FenceDrawing(QWidget* parent);
  void show(const Book& book, std::optional<std::size_t> chosen);

 signals:
  void chosen(int fence);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  QRectF bed() const;
  QLineF line_of(const Fence& fence) const;
  std::vector<Fence> fences_;
  std::optional<std::size_t> chosen_;
  double width_mm_ = 100, height_mm_ = 100, expected_ = 0;
  LengthUnit unit_ = LengthUnit::millimetre;
};

}  // namespace ypsi::app
