#pragma once
#include <QWidget>

#include "core/book/book.h"

namespace ypsi::app {

QString head_words(HeadKind kind);  ///< "drag knife"
/// "+75.12", in the screen's unit without its name.
QString signed_length(double mm, LengthUnit unit);

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

/// Where the marks lie, and what is left over at each, so many times as large.
class LeftOverDrawing : public QWidget {
  Q_OBJECT
 public:
  struct At {
    QString name;
    double x = 0, y = 0;
    double left_x = 0, left_y = 0;  ///< mm
    bool told = false;              ///< there is something left over to show
  };
  explicit LeftOverDrawing(QWidget* parent);
  void show(std::vector<At> marks);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<At> marks_;
};

}  // namespace ypsi::app
