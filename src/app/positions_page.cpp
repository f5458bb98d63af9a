#include "app/positions_page.h"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

#include "app/drawing/draft.h"
#include "app/rail.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/sheets/sheet.h"
#include "app/state_shown.h"
#include "app/theme/text_fit.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr int edge_px = 28, hold_most_px = 96, least_figure_px = 12;
constexpr double figure_share = 0.72, figure_ends = 0.86;  // of a line's width, the letter before it, the unit after

}  // namespace

PositionsPage::PositionsPage(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName(QStringLiteral("positions-page"));
  setFocusPolicy(Qt::StrongFocus);
  hold_ = new HoldButton(session, QStringLiteral("positions-hold"), this);
  back_ = make_button("positions-back", tr("Back to the sheets"), tr("Escape, or F11"), this);
  back_->setFocusPolicy(Qt::NoFocus);
  connect(back_, &QPushButton::clicked, this, &PositionsPage::left);
  hide();
}

void PositionsPage::refresh() {
  if (isVisible()) update();
}

void PositionsPage::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  const int high = std::clamp(height() / 6, 48, hold_most_px);
  hold_->setGeometry(edge_px, height() - high - edge_px / 2, std::min(width() / 2, 4 * high), high);
  hold_->setStyleSheet(QStringLiteral("font-size: %1px;").arg(high * 2 / 5));
  const QSize back = back_->sizeHint();
  back_->setGeometry({{width() - back.width() - edge_px, hold_->geometry().bottom() - back.height()}, back});
}

void PositionsPage::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return emit left();
  QWidget::keyPressEvent(event);
}

void PositionsPage::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const MachineStatus& now = session_.machine().status();
  const double wide = width() - 2.0 * edge_px, foot = hold_->y() - edge_px / 2.0;
  const double line = foot / (axis_count + 1);
  const auto place_text = [&](Axis axis) {
    return to_q(format_length(work_place(session_, axis), session_.editor().unit(axis), 3));
  };
  const StateShown state = state_shown(session_);
  draft.text({edge_px, line * 0.72}, state.word, state.colour,
             px_that_fits(state.word, wide, static_cast<int>(line * 0.65), least_figure_px), true);
  int px = static_cast<int>(line * 0.95);  // of one size, whatever each says
  for (const Axis axis : all_axes) px = px_that_fits(place_text(axis), wide * figure_share, px, least_figure_px);
  for (const Axis axis : all_axes) {
    const double base = line * (static_cast<double>(index(axis)) + 1.85);
    const bool known = now.homed[index(axis)];
    draft.line({edge_px, base - line * 0.9}, {edge_px + wide, base - line * 0.9}, theme().rule);
    draft.text({edge_px, base}, QString(QChar(letter(axis))), theme().ink, static_cast<int>(line * 0.7), true);
    draft.text({edge_px + wide * figure_ends, base}, place_text(axis), known ? theme().ink : theme().second_ink, px,
               true, Qt::AlignRight);
    draft.text({edge_px + wide, base}, to_q(unit_name(session_.editor().unit(axis))), theme().second_ink,
               static_cast<int>(line * 0.2), false, Qt::AlignRight);
    if (!known)
      draft.text({edge_px + wide, base - line * 0.35}, tr("not homed"), theme().second_ink,
                 static_cast<int>(line * 0.16), false, Qt::AlignRight);
  }
}

}  // namespace ypsi::app
