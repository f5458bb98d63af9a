#pragma once
// What stands under the drawing of a page, alike on every page: what is set, then the acts in the order in which they
// are done, then a line of hint.
#include <QString>

#include "app/widgets/wrapped_row.h"

class QLabel;
class QVBoxLayout;
class QWidget;

namespace ypsi::app {

class PageFoot {
 public:
  static constexpr int beside_table_px = 13;  ///< in line with the text of a table that fills its card
  /// At the end of `column`, whose widget is `card`. `side_px`: kept free on both sides where the column keeps nothing.
  PageFoot(QVBoxLayout* column, QWidget* card, int side_px = 0);
  /// What is set, in as many rows as it needs; what does not belong to it begins another.
  WrappedRow* settings() { return row(settings_); }
  /// Acts, the same.
  WrappedRow* acts() { return row(acts_); }
  QLabel* hint(const QString& name, const char* role = "small", const QString& text = {});

 private:
  static WrappedRow* row(QVBoxLayout* in);
  QWidget* card_;
  QVBoxLayout *settings_, *acts_, *hints_;
};

}  // namespace ypsi::app
