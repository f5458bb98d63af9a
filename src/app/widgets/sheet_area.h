#pragma once
// Where the sheets are shown. A window that has too little room for one, since everything is large or the screen is
// small, scrolls it; nothing is cut off.
#include <QScrollArea>
#include <QStackedWidget>

namespace ypsi::app {

class SheetArea : public QScrollArea {
 public:
  explicit SheetArea(QWidget* parent);
  QStackedWidget* sheets() { return sheets_; }
  /// Where a strip below the sheets, and what lies over them, has its place.
  QWidget* board() { return widget(); }
  /// Stands below the sheets where it is shown; its parent is the board.
  void set_strip(QWidget* strip);

 private:
  QStackedWidget* sheets_;
};

}  // namespace ypsi::app
