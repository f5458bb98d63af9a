#include "app/theme/large.h"

#include <private/qhighdpiscaling_p.h>
#include <qcustomplot.h>

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QEvent>
#include <QFileDialog>
#include <QHeaderView>
#include <QLayout>
#include <QLineEdit>
#include <QMainWindow>
#include <QMessageBox>
#include <QScreen>
#include <QScrollArea>
#include <QSettings>
#include <QSpinBox>
#include <QStyle>
#include <QTableView>
#include <QVBoxLayout>
#include <QWindow>
#include <cmath>

#include "app/theme/theme.h"

namespace ypsi::app {
namespace {

constexpr double glove_px = 44;
constexpr int usual_field_px = 28;
constexpr const char* large_kept_as = "view/large";
constexpr const char* usual_size = "usual-size";
double factor_now = 1;

/// The toolkit has no public way but at its start, which would take the machine's connection with it. It warns that
/// open windows do not follow; they are made to.
void scale_the_toolkit(double factor) {
  static const double at_start = QHighDpiScaling::factor(static_cast<QScreen*>(nullptr));
  const auto usual = qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString&) {});
  QHighDpiScaling::setGlobalFactor(at_start * factor);
  qInstallMessageHandler(usual);
}

bool is_target(const QWidget& widget) {
  const QWidget* around = widget.parentWidget();
  const bool part_of_another = qobject_cast<const QComboBox*>(around) || qobject_cast<const QAbstractSpinBox*>(around);
  return !part_of_another &&
         (qobject_cast<const QAbstractButton*>(&widget) || qobject_cast<const QLineEdit*>(&widget) ||
          qobject_cast<const QComboBox*>(&widget) || qobject_cast<const QAbstractSpinBox*>(&widget));
}

/// A drawing with fields at places of its own: it lays them out for fields of the usual height.
bool is_board_of_fields(const QWidget& widget) {
  return !is_target(widget) && !widget.layout() && widget.minimumHeight() > 0 &&
         widget.findChild<QLineEdit*>(QString(), Qt::FindDirectChildrenOnly);
}

/// As large as a finger in a glove needs it, or as it was made.
void fit_target(QWidget& widget) {
  if (is_board_of_fields(widget)) {
    if (!widget.property(usual_size).isValid()) widget.setProperty(usual_size, widget.minimumHeight());
    const int usual = widget.property(usual_size).toInt();
    const bool fixed = widget.minimumHeight() == widget.maximumHeight();
    widget.setMinimumHeight(usual * target_px(usual_field_px) / usual_field_px);
    if (fixed) widget.setFixedHeight(widget.minimumHeight());
    return;
  }
  if (auto* table = qobject_cast<QTableView*>(&widget)) {
    QHeaderView* rows = table->verticalHeader();
    if (!rows->property(usual_size).isValid()) rows->setProperty(usual_size, rows->defaultSectionSize());
    rows->setDefaultSectionSize(target_px(rows->property(usual_size).toInt()));
  }
  if (!is_target(widget)) return;
  if (!widget.property(usual_size).isValid()) {
    if (least_target_px() == 0) return;
    widget.setProperty(usual_size, QRect(widget.minimumWidth(), widget.minimumHeight(), widget.maximumWidth(),
                                         widget.maximumHeight()));
  }
  const QRect usual = widget.property(usual_size).toRect();  // least and most, as two sizes
  const int least = least_target_px();
  // Where it says no least width of its own it is as wide as its text, which may be more than a target.
  const bool wide_by_text = std::max(usual.x(), widget.minimumSizeHint().width()) >= least;
  widget.setMinimumSize(wide_by_text ? usual.x() : least, std::max(usual.y(), least));
  widget.setMaximumSize(std::max(usual.width(), least), std::max(usual.height(), least));
}

/// The main window has its own way with little room, and the toolkit's own dialogs have theirs.
bool is_ours_to_fit(const QWidget& widget) {
  return widget.isWindow() && (widget.windowType() == Qt::Dialog || widget.windowType() == Qt::Window) &&
         widget.layout() && !qobject_cast<const QMainWindow*>(&widget) && !qobject_cast<const QMessageBox*>(&widget) &&
         !qobject_cast<const QFileDialog*>(&widget);
}

/// A dialog that asks for more room than the screen has scrolls.
void fit_dialog(QWidget& dialog) {
  const QSize room = dialog.screen()->availableSize();
  const QSize wanted = dialog.minimumSizeHint().expandedTo(dialog.minimumSize());
  const bool scrolls = dialog.findChild<QScrollArea*>(QStringLiteral("dialog-area"), Qt::FindDirectChildrenOnly);
  if (!scrolls && (wanted.width() > room.width() || wanted.height() > room.height())) {
    auto* area = new QScrollArea(&dialog);
    area->setObjectName(QStringLiteral("dialog-area"));
    area->setWidgetResizable(true);
    auto* inner = new QWidget;
    inner->setLayout(dialog.layout());  // takes what is in it along
    area->setWidget(inner);
    auto* all = new QVBoxLayout(&dialog);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(area);
    dialog.setMinimumSize(0, 0);
  }
  dialog.resize(dialog.size().boundedTo(room));
}

/// Looks at what is shown for the first time; only while something is enlarged.
class Fitting : public QObject {
 public:
  using QObject::QObject;
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() == QEvent::Polish || event->type() == QEvent::Show)
      if (auto* widget = qobject_cast<QWidget*>(object)) {
        if (event->type() == QEvent::Polish) {
          widget->style()->polish(widget);  // its size by its text is known only then
          fit_target(*widget);
        }
        if (event->type() == QEvent::Show && is_ours_to_fit(*widget)) fit_dialog(*widget);
      }
    return false;
  }
};

void watch(bool on) {
  static Fitting* fitting = nullptr;
  if (on && !fitting) {
    fitting = new Fitting(qApp);
    qApp->installEventFilter(fitting);
    QObject::connect(fitting, &QObject::destroyed, [] { fitting = nullptr; });
  } else if (!on && fitting) {
    delete fitting;
  }
}

double one_of_them(double factor) {
  return std::find(std::begin(large_factors), std::end(large_factors), factor) != std::end(large_factors) ? factor : 1;
}

void take(double factor) {
  const double ratio = factor_now / factor;
  if (ratio == 1) return;
  QWidgetList open;
  for (QWidget* window : QApplication::topLevelWidgets())
    if (window->windowHandle()) open << window;
  factor_now = factor;
  scale_the_toolkit(factor);
  watch(factor != 1);
  qApp->setStyleSheet(style_sheet());
  for (QWidget* window : open) {
    for (QWidget* widget : window->findChildren<QWidget*>()) fit_target(*widget);
    if (is_ours_to_fit(*window)) {
      const QSize inside = window->size();  // as much is in it as before; it takes more of the screen
      window->resize(inside * ratio);
      window->resize(inside);
      fit_dialog(*window);
    } else {
      window->resize(window->size() * ratio);
    }
    for (auto* plot : window->findChildren<QCustomPlot*>())
      plot->setBufferDevicePixelRatio(window->devicePixelRatioF());
    for (QWidget* widget : window->findChildren<QWidget*>()) widget->update();
    window->update();
  }
}

}  // namespace

double large() {
  return factor_now;
}

int least_target_px() {
  return factor_now > 1 ? static_cast<int>(std::ceil(glove_px / factor_now)) : 0;
}

void set_large(double factor) {
  take(one_of_them(factor));
  QSettings().setValue(large_kept_as, factor_now);
}

void step_large(int by) {
  const auto at = std::find(std::begin(large_factors), std::end(large_factors), factor_now) - std::begin(large_factors);
  const std::ptrdiff_t last = std::size(large_factors) - 1;
  set_large(large_factors[std::clamp<std::ptrdiff_t>(at + by, 0, last)]);
}

void restore_large() {
  take(one_of_them(QSettings().value(large_kept_as, 1.0).toDouble()));
}

}  // namespace ypsi::app
