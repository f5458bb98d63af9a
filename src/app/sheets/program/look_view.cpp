#include "app/sheets/program/look_view.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/drawing/draft.h"
#include "app/sheets/sheet.h"

namespace ypsi::app {
namespace {

constexpr double look_edge_px = 14, foot_px = 40;
constexpr int darker_percent = 125;

void swatch(QPushButton* button, const QColor& colour) {
  QPixmap square(14, 14);
  square.fill(colour);
  button->setIcon(square);
}

}  // namespace

LookView::LookView(QWidget* parent) : QWidget(parent) {
  setObjectName("drawing-looks");
  setAccessibleName(tr("The plate as it will look, each line as wide as its tool leaves it"));
  setMinimumHeight(136);
  cap_ = make_button("cap-colour", tr("Cap"), tr("The colour of the cap, or of a plate of one piece"), this);
  core_ = make_button("core-colour", tr("Core"), tr("The colour of the core"), this);
  connect(cap_, &QPushButton::clicked, this, [this] { emit colour_wanted(true); });
  connect(core_, &QPushButton::clicked, this, [this] { emit colour_wanted(false); });
}

QColor LookView::top_colour() const {
  return shown_.cap_colour.isValid() ? shown_.cap_colour : shown_.cap > 0 ? theme().cut : theme().stock;
}

/// Of what is deeper than the cap; in a plate of one piece a groove is its own colour in the shade.
QColor LookView::floor_colour() const {
  if (shown_.cap <= 0) return top_colour().darker(darker_percent);
  return shown_.core_colour.isValid() ? shown_.core_colour : theme().stock;
}

void LookView::show(Shown shown) {
  shown_ = std::move(shown);
  swatch(cap_, top_colour());
  swatch(core_, floor_colour());
  core_->setVisible(shown_.cap > 0);
  resizeEvent(nullptr);
  update();
}

void LookView::resizeEvent(QResizeEvent*) {
  const int y = height() - cap_->sizeHint().height() - 2;
  cap_->setGeometry(8, y, cap_->sizeHint().width(), cap_->sizeHint().height());
  core_->setGeometry(14 + cap_->width(), y, core_->sizeHint().width(), core_->sizeHint().height());
}

void LookView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  if (shown_.look.lines.empty()) {
    draft.text(rect().center(), tr("The plate will stand here once a program can be made."), theme().second_ink, 12,
               false, Qt::AlignHCenter);
    return;
  }
  PlanPoint low = shown_.corner, high = shown_.corner + shown_.size;
  if (!(shown_.size.real() > 0)) {
    low = high = shown_.look.lines.front().points.front();
    for (const LookLine& line : shown_.look.lines)
      for (const PlanPoint& p : line.points) {
        low = {std::min(low.real(), p.real()), std::min(low.imag(), p.imag())};
        high = {std::max(high.real(), p.real()), std::max(high.imag(), p.imag())};
      }
  }
  const double w = std::max(1e-6, high.real() - low.real()), h = std::max(1e-6, high.imag() - low.imag());
  const double scale = std::min((width() - 2 * look_edge_px) / w, (height() - look_edge_px - foot_px) / h);
  const double left = (width() - scale * w) / 2, bottom = (height() - foot_px + look_edge_px + scale * h) / 2;
  const auto at = [&](PlanPoint p) {
    return QPointF(left + (p.real() - low.real()) * scale, bottom - (p.imag() - low.imag()) * scale);
  };
  const auto path_of = [&](const std::vector<PlanPoint>& points) {
    QPainterPath path(at(points.front()));
    for (std::size_t i = 1; i < points.size(); ++i) path.lineTo(at(points[i]));
    return path;
  };
  draft.box(QRectF(at(low), at(high)).normalized(), theme().ink, top_colour(), 1.2);
  painter.setBrush(Qt::NoBrush);
  // The walls of the grooves first, then what lies deeper than the cap.
  const bool layered = shown_.cap > 0;
  for (const bool floor : {false, true})
    for (const LookLine& line : shown_.look.lines) {
      const double wide = floor ? line.width_core : line.width_top;
      if (floor && !(wide > 0)) continue;
      const QColor colour = floor || !layered ? floor_colour() : top_colour().darker(darker_percent);
      painter.setPen(wide > 0 ? QPen(colour, wide * scale, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin)
                              : QPen(theme().second_ink, 1));
      painter.drawPath(path_of(line.points));
    }
  // Few places are ringed; of many each is only drawn.
  constexpr int few = 24;
  painter.setPen(QPen(theme().red, 1.6));
  for (const LeftUncut& uncut : shown_.look.uncut)
    for (const Outline& outline : uncut.outlines) {
      if (uncut.places > few) {
        painter.drawPath(path_of(outline));
        continue;
      }
      const QRectF there = path_of(outline).boundingRect();
      constexpr double least = 9;
      painter.drawEllipse(there.center(), std::max(least, there.width() / 2 + 4),
                          std::max(least, there.height() / 2 + 4));
    }
}

}  // namespace ypsi::app
