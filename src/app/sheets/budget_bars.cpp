#include "app/sheets/budget_bars.h"

#include <QMouseEvent>
#include <algorithm>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/part_words.h"
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
  const auto [low, high] = budget_.span();
  constexpr double row_with_caption = 34, figures = 108, bar_high = 14;
  const double row = row_px();
  const bool below = row >= row_with_caption;
  const double left = 150, room = width() - left - (below ? figures : 300);
  const auto at = [&, low = low, wide = std::max(high - low, 1e-9)](double mm) {
    return left + room * (mm - low) / wide;
  };
  draft.line({at(0), 0}, {at(0), row * static_cast<double>(budget_.parts.size())}, theme().rule);
  double y = 0;
  for (const auto& p : budget_.parts) {
    draft.text({0, y + 15}, part_name(p), theme().ink, 12, true);
    double beside = at(0) + 128;
    if (p.off) {
      beside = draw_share(draft, p, y + 3, bar_high, at);
    } else {
      draft.box(QRectF(at(0), y + 3, 120, bar_high), theme().second_ink, Qt::transparent, 1, Qt::DashLine);
    }
    // Under its bar, or where rows are close together beside it.
    painter.setFont(text_font(10));
    if (below)
      draft.text({left, y + 30}, source_of(p), theme().second_ink, 10);
    else
      draft.text({beside, y + 14},
                 painter.fontMetrics().elidedText(source_of(p), Qt::ElideRight, static_cast<int>(width() - beside)),
                 theme().second_ink, 10);
    y += row;
  }
}

double BudgetBars::draw_share(Draft& draft, const BudgetPart& p, double y, double high,
                              const std::function<double(double)>& at) const {
  const LengthUnit unit = session_.editor().unit();
  const QColor colour = p.stale ? theme().ochre : theme().teal;
  const QRectF band(at(p.off->bias - p.off->U), y,
                    std::max(2.0, at(p.off->bias + p.off->U) - at(p.off->bias - p.off->U)), high);
  draft.line({at(0), y + high / 2}, {at(p.off->bias), y + high / 2}, colour, 3);
  draft.box(band, colour, theme().teal_soft, 1);
  if (p.stale) draft.hatch(band, theme().ochre, 5);
  draft.line({at(p.off->bias), y - 1}, {at(p.off->bias), y + high + 1}, colour, 4);
  const double right = std::max(at(0), band.right()) + 8;
  const QString figures = off_words(*p.off, unit);
  draft.text({right, y + high - 2}, figures, theme().ink, 12, true);
  draft.painter().setFont(text_font(12, true));
  return right + draft.painter().fontMetrics().horizontalAdvance(figures) + 14;
}

QString BudgetBars::source_of(const BudgetPart& p) const {
  if (!p.off) return tr("not measured: unknown, not zero");
  if (!p.entry) return tr("of the frame, by what is not known of the workshop's warmth");
  const Entry& e = session_.editor().book().history[*p.entry];
  const QString source = entry_words(e, session_.editor().unit()) + ", " + entry_date(e).section(' ', 0, 1);
  return p.stale ? source + tr(", out of date") : source;
}

void BudgetBars::mousePressEvent(QMouseEvent* event) {
  const int part = static_cast<int>(event->position().y() / row_px());
  if (part >= 0 && part < static_cast<int>(budget_.parts.size())) emit chosen(part);
}

}  // namespace ypsi::app
