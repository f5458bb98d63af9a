#include "app/widgets/sheet_area.h"

#include <QEvent>
#include <QLayout>
#include <QScroller>
#include <algorithm>

#include "app/theme/large.h"

namespace ypsi::app {
namespace {

constexpr QSize least_room(740, 500);  // what the sheets are laid out for
constexpr int strip_gap_px = 8;

/// Lays its two out by itself: a layout would ask for the height that the sheets' texts would like, not for what they
/// can do with.
class Board : public QWidget {
 public:
  QStackedWidget* sheets = nullptr;
  QWidget* strip = nullptr;

  QSize minimumSizeHint() const override {
    QSize least = least_room;
    if (const QWidget* shown = sheets->currentWidget()) {
      least = least.expandedTo(shown->minimumSizeHint());
      // Texts that wrap ask for more where there is less room beside them.
      if (least_target_px() > 0 && shown->layout() && shown->layout()->hasHeightForWidth())
        least.setHeight(std::max(
            least.height(), shown->layout()->minimumHeightForWidth(std::max(parentWidget()->width(), least.width()))));
    }
    if (below() > 0) least = QSize(std::max(least.width(), strip->minimumSizeHint().width()), least.height() + below());
    return least;
  }

 protected:
  bool event(QEvent* event) override {
    if (event->type() == QEvent::LayoutRequest) updateGeometry();
    if (event->type() == QEvent::LayoutRequest || event->type() == QEvent::Resize) {
      const int high = below();
      sheets->setGeometry(0, 0, width(), height() - high);
      if (high > 0) strip->setGeometry(0, height() - high + strip_gap_px, width(), high - strip_gap_px);
    }
    return QWidget::event(event);
  }

 private:
  int below() const {
    return strip && !strip->isHidden()
               ? std::max(strip->minimumHeight(), strip->minimumSizeHint().height()) + strip_gap_px
               : 0;
  }
};

}  // namespace

SheetArea::SheetArea(QWidget* parent) : QScrollArea(parent) {
  setObjectName(QStringLiteral("sheet-area"));
  setWidgetResizable(true);
  setFocusPolicy(Qt::NoFocus);
  QScroller::grabGesture(viewport(), QScroller::TouchGesture);  // a finger pushes it
  auto* board = new Board;
  board->sheets = sheets_ = new QStackedWidget(board);
  setWidget(board);
}

void SheetArea::set_strip(QWidget* strip) {
  static_cast<Board*>(widget())->strip = strip;
}

}  // namespace ypsi::app
