#include "app/sheets/budget_bars.h"

#include <QMouseEvent>
#include <algorithm>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/phrases.h"
#include "app/to_q.h"

namespace ypsi::app {

BudgetBars::BudgetBars(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("budget");
  setAccessibleName(tr("Error budget"));
  setToolTip(tr("Click a bar to see the measurement that it comes from"));
}

void BudgetBars::show(const Budget& budget) {
  budget_ = budget;
  update();
}

double BudgetBars::row_px() const {
  return std::min(38.0, height() / std::max(1.0, static_cast<double>(budget_.parts.size())));
}

void BudgetBars::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  double largest = 1e-9;
  for (const auto& p : budget_.parts) largest = std::max(largest, p.mm.value_or(0));
  constexpr double row_with_caption = 34;
  const double row = row_px();
  const bool below = row >= row_with_caption;
  const double left = 150, room = width() - left - (below ? 70 : 260);
  double y = 0;
  for (const auto& p : budget_.parts) {
    draft.text({0, y + 15}, part_name(p), theme().ink, 12, true);
    const bool stale = p.stale;
    QString source;
    double beside = left + 128;  // of a bar that is not known
    if (p.mm) {
      const double w = std::max(2.0, room * *p.mm / largest);
      draft.box(QRectF(left, y + 3, w, 14), Qt::transparent, stale ? theme().ochre : theme().teal, 0);
      if (stale) draft.hatch(QRectF(left, y + 3, w, 14), theme().sheet, 5);
      draft.text({left + w + 8, y + 15}, to_q(format_length(*p.mm, session_.editor().unit(), 2)), theme().ink, 12,
                 true);
      beside = left + w + 60;
      const Entry& e = session_.editor().book().history[*p.entry];
      source = entry_words(e, session_.editor().unit()) + ", " + entry_date(e).section(' ', 0, 1);
      if (stale) source += tr(", out of date");
    } else {
      draft.box(QRectF(left, y + 3, 120, 14), theme().second_ink, Qt::transparent, 1, Qt::DashLine);
      source = tr("not measured: unknown, not zero");
    }
    // Under its bar, or where rows are close together beside it.
    painter.setFont(text_font(10));
    if (below)
      draft.text({left, y + 30}, source, theme().second_ink, 10);
    else
      draft.text({beside, y + 14},
                 painter.fontMetrics().elidedText(source, Qt::ElideRight, static_cast<int>(width() - beside)),
                 theme().second_ink, 10);
    y += row;
  }
}

void BudgetBars::mousePressEvent(QMouseEvent* event) {
  const int part = static_cast<int>(event->position().y() / row_px());
  if (part >= 0 && part < static_cast<int>(budget_.parts.size())) emit chosen(part);
}

}  // namespace ypsi::app
