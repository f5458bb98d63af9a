#pragma once
#include <QWidget>
#include <vector>

namespace ypsi::app {

/// "A", "B" and so on, as marks are called on a drawing.
QString mark_letter(std::size_t i);

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
