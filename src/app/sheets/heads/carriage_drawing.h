#pragma once
#include <QWidget>

#include "core/book/book.h"

namespace ypsi::app {

/// The carriage from above, to scale, with every head at its place against the first.
class CarriageDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit CarriageDrawing(QWidget* parent);
  /// `shown`: the head that the sheet is about; `found`: where its marks say that it is, not kept yet.
  void show(const std::vector<Head>& heads, std::size_t shown, std::optional<HeadPlace> found, LengthUnit unit);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<Head> heads_;
  std::size_t shown_ = 0;
  std::optional<HeadPlace> found_;
  LengthUnit unit_ = LengthUnit::millimetre;
};

}  // namespace ypsi::app
