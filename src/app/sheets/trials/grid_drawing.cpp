#include "app/sheets/trials/grid_drawing.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/sheets/trials/level_text.h"
#include "core/book/worksheets/trials.h"

namespace ypsi::app {
namespace {
constexpr double grid_left_px = 92, below_px = 52, grid_top_px = 8, grid_right_px = 8, gap_px = 5;
}

GridDrawing::GridDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("grid-drawing");
  setAccessibleName(tr("Squares by power and speed"));
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(320, 220);
}

void GridDrawing::show(const std::optional<BeamGrid>& grid, const std::vector<BeamSetting>& wanted,
                       const std::optional<BeamSetting>& chosen, const QString& power_words) {
  grid_ = grid;
  wanted_ = wanted;
  chosen_ = chosen;
  power_words_ = power_words;
  if (grid_) {
    column_ = std::min(column_, grid_->powers.size() - 1);
    row_ = std::min(row_, grid_->feeds.size() - 1);
  }
  update();
}

QRectF GridDrawing::square(std::size_t column, std::size_t row) const {
  const auto columns = static_cast<double>(grid_->powers.size()), rows = static_cast<double>(grid_->feeds.size());
  const double w = (width() - grid_left_px - grid_right_px) / columns, h = (height() - grid_top_px - below_px) / rows;
  return {grid_left_px + w * static_cast<double>(column) + gap_px / 2,
          grid_top_px + h * (rows - 1 - static_cast<double>(row)) + gap_px / 2, w - gap_px, h - gap_px};
}

BeamSetting GridDrawing::setting(std::size_t column, std::size_t row) const {
  return {grid_->powers[column], grid_->feeds[row]};
}

std::optional<std::pair<std::size_t, std::size_t>> GridDrawing::at(QPointF place) const {
  if (!grid_) return std::nullopt;
  for (std::size_t c = 0; c < grid_->powers.size(); ++c)
    for (std::size_t r = 0; r < grid_->feeds.size(); ++r)
      if (square(c, r).contains(place)) return std::pair(c, r);
  return std::nullopt;
}

void GridDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  if (!grid_) {
    draft.text(QPointF(width() / 2.0, height() / 2.0),
               tr("The squares will stand here, once powers and speeds are said."), theme().second_ink, 13, false,
               Qt::AlignHCenter);
    return;
  }
  const double strongest = grid_->powers.back() / grid_->feeds.front();
  for (std::size_t c = 0; c < grid_->powers.size(); ++c)
    for (std::size_t r = 0; r < grid_->feeds.size(); ++r) {
      const BeamSetting s = setting(c, r);
      const QRectF box = square(c, r);
      // The more heat, the browner: how it will look cannot be known, which is hotter can.
      QColor burnt = theme().cut_deep;
      burnt.setAlphaF(static_cast<float>(0.12 + 0.78 * std::sqrt(s.power / s.feed_mm_min / strongest)));
      const bool wanted = std::find(wanted_.begin(), wanted_.end(), s) != wanted_.end(), chosen = chosen_ == s;
      draft.box(box, wanted ? theme().teal : theme().rule, burnt, wanted ? 3 : 1);
      if (wanted) {
        const QRectF badge(box.right() - 22, box.top() + 4, 18, 18);
        const QColor tick = chosen ? theme().paper : theme().teal;
        draft.box(badge, theme().teal, chosen ? theme().teal : theme().paper, 1);
        draft.line(badge.topLeft() + QPointF(4, 9), badge.topLeft() + QPointF(8, 13), tick, 2);
        draft.line(badge.topLeft() + QPointF(8, 13), badge.topLeft() + QPointF(14, 5), tick, 2);
      }
      if (hasFocus() && c == column_ && r == row_)
        draft.box(box.adjusted(3, 3, -3, -3), theme().ink, Qt::transparent, 1.5, Qt::DashLine);
    }
  for (std::size_t c = 0; c < grid_->powers.size(); ++c)
    draft.text({square(c, 0).center().x(), height() - below_px + 20}, level_text(grid_->powers[c]), theme().ink, 13,
               true, Qt::AlignHCenter);
  for (std::size_t r = 0; r < grid_->feeds.size(); ++r)
    draft.text({grid_left_px - 10, square(0, r).center().y() + 5}, QString::number(grid_->feeds[r], 'f', 0),
               theme().ink, 13, true, Qt::AlignRight);
  draft.text({grid_left_px + (width() - grid_left_px) / 2.0, height() - 8.0}, power_words_, theme().second_ink, 12,
             false, Qt::AlignHCenter);
  painter.save();
  painter.translate(16, grid_top_px + (height() - grid_top_px - below_px) / 2.0);
  painter.rotate(-90);
  draft.text({0, 0}, tr("speed, mm/min"), theme().second_ink, 12, false, Qt::AlignHCenter);
  painter.restore();
}

void GridDrawing::mousePressEvent(QMouseEvent* event) {
  const auto found = at(event->position());
  if (!found) return;
  std::tie(column_, row_) = *found;
  emit marked(setting(column_, row_));
}

void GridDrawing::keyPressEvent(QKeyEvent* event) {
  if (!grid_) return QWidget::keyPressEvent(event);
  switch (event->key()) {
    case Qt::Key_Left:
      column_ = column_ > 0 ? column_ - 1 : 0;
      break;
    case Qt::Key_Right:
      column_ = std::min(column_ + 1, grid_->powers.size() - 1);
      break;
    case Qt::Key_Down:
      row_ = row_ > 0 ? row_ - 1 : 0;
      break;
    case Qt::Key_Up:
      row_ = std::min(row_ + 1, grid_->feeds.size() - 1);
      break;
    case Qt::Key_Space:
      emit marked(setting(column_, row_));
      break;
    default:
      return QWidget::keyPressEvent(event);
  }
  update();
}

bool GridDrawing::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    auto* help = static_cast<QHelpEvent*>(event);
    if (const auto found = at(help->pos())) {
      const BeamSetting s = setting(found->first, found->second);
      QToolTip::showText(help->globalPos(), tr("power %1 at %2 mm/min").arg(s.power).arg(s.feed_mm_min, 0, 'f', 0),
                         this);
    } else {
      QToolTip::hideText();
    }
    return true;
  }
  return QWidget::event(event);
}

}  // namespace ypsi::app
