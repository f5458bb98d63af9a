#include "app/sheets/limits/travel_drawing.h"

#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/session.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr double strip_px = 158, end_field_px = 96, end_px = 128, end_handle_px = 7, handle_reach_px = 12, stop_px = 9;

double lowest(const AxisTravel& a) {
  return std::min({a.home_stop(), a.far, a.home});
}
double highest(const AxisTravel& a) {
  return std::max({a.home_stop(), a.far, a.home});
}

}  // namespace

TravelDrawing::TravelDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("travel-drawing");
  setAccessibleName(tr("Travel in plan and elevation with stops, switches and limits"));
  setToolTip(tr("Drag a limit by its handle; click an axis to see its ends large"));
  setMinimumHeight(330);
  setMouseTracking(true);
  const auto field = [this](const char* name, const QString& what) {
    auto* f = new LengthField(name, what, this);
    f->set_decimals(1);
    f->setFixedWidth(static_cast<int>(end_field_px));
    return f;
  };
  overtravel_ = field("overtravel", tr("How far it can go on behind the home switch, to the stop"));
  clearance_home_ = field("clearance-home", tr("From the home switch to the soft limit"));
  clearance_far_ = field("clearance-far", tr("From the far soft limit to the far end"));
  travel_ = field("travel", tr("From the home switch to the far end"));
}

void TravelDrawing::show(const std::array<AxisTravel, axis_count>& axes, Axis chosen, LengthUnit unit) {
  axes_ = axes;
  chosen_ = chosen;
  unit_ = unit;
  const AxisTravel& a = axes_[index(chosen)];
  for (auto* f : {overtravel_, clearance_home_, clearance_far_, travel_}) f->set_unit(unit);
  overtravel_->show_value(a.overtravel);
  clearance_home_->show_value(a.clearance_home);
  clearance_far_->show_value(a.clearance_far);
  travel_->show_value(std::fabs(a.far - a.home));
  place_fields();
  update();
}

QRectF TravelDrawing::plan() const {
  const QRectF room(34, 34, width() * 0.62 - 60, height() - strip_px - 68);
  const double w = highest(axes_[0]) - lowest(axes_[0]), h = highest(axes_[1]) - lowest(axes_[1]);
  if (!(w > 0 && h > 0)) return room;
  const double scale = std::min(room.width() / w, room.height() / h);
  QRectF fitted(0, 0, std::max(60.0, w * scale), std::max(40.0, h * scale));
  fitted.moveCenter(room.center());
  return fitted;
}

QRectF TravelDrawing::elevation() const {
  const double left = width() * 0.62 + 46;
  return {left, 34, std::max(40.0, width() - left - 86), height() - strip_px - 68};
}

double TravelDrawing::px(Axis axis, double p) const {
  const AxisTravel& a = axes_[index(axis)];
  const double part = (p - lowest(a)) / std::max(1e-9, highest(a) - lowest(a));
  if (axis == Axis::x) return plan().left() + part * plan().width();
  const QRectF r = axis == Axis::y ? plan() : elevation();
  return r.bottom() - part * r.height();
}

double TravelDrawing::from_px(Axis axis, double at) const {
  const AxisTravel& a = axes_[index(axis)];
  const QRectF r = axis == Axis::z ? elevation() : plan();
  const double part = axis == Axis::x ? (at - r.left()) / r.width() : (r.bottom() - at) / r.height();
  return lowest(a) + part * (highest(a) - lowest(a));
}

double TravelDrawing::limit(Axis axis, bool upper) const {
  if (dragged_ && dragged_->axis == axis && dragged_->upper == upper) return dragged_to_;
  const AxisTravel& a = axes_[index(axis)];
  return upper ? a.high : a.low;
}

QPointF TravelDrawing::handle(Axis axis, bool upper) const {
  const double at = px(axis, limit(axis, upper));
  // Handles of X stand a third up, those of Y a third across, so that they do not meet.
  if (axis == Axis::x) return {at, plan().bottom() - plan().height() * 0.33};
  if (axis == Axis::y) return {plan().left() + plan().width() * 0.33, at};
  return {elevation().center().x(), at};
}

void TravelDrawing::paint_axis(Draft& draft, Axis axis, const QRectF& room) const {
  const AxisTravel& a = axes_[index(axis)];
  const bool across = axis == Axis::x, strong = axis == chosen_;
  const QColor colour = strong ? theme().red : theme().second_ink;
  const auto bar = [&](double from, double to) {  // over the whole of the other axis
    const double p = px(axis, from), q = px(axis, to);
    return across ? QRectF(QPointF(std::min(p, q), room.top()), QPointF(std::max(p, q), room.bottom()))
                  : QRectF(QPointF(room.left(), std::min(p, q)), QPointF(room.right(), std::max(p, q)));
  };
  for (const bool upper : {false, true}) {
    const double at = limit(axis, upper);
    const double end = upper ? at + a.stop_way : at - a.stop_way;
    if (strong) draft.hatch(bar(at, end), theme().ochre, 6);
    const QRectF line = bar(at, at);
    draft.line(line.topLeft(), line.bottomRight(), colour, strong ? 1.6 : 1, Qt::DashLine);
    const QPointF h = handle(axis, upper);
    draft.painter().setPen(QPen(colour, 1.4));
    draft.painter().setBrush(strong ? theme().red : theme().sheet);
    draft.painter().drawEllipse(h, end_handle_px - (strong ? 0 : 2), end_handle_px - (strong ? 0 : 2));
    draft.painter().setBrush(Qt::NoBrush);
    if (strong) {
      const QString words = to_q(format_length(at, unit_, 1));
      if (across)
        draft.text(h + QPointF(upper ? -11 : 11, 4), words, theme().red, 11, true,
                   upper ? Qt::AlignRight : Qt::AlignLeft);
      else
        draft.text(h + QPointF(12, upper ? 13 : -5), words, theme().red, 11, true);
    }
  }
  // Stops outside, the switch where homing seeks it.
  const auto block = [&](double at, bool beyond_high) {
    const double p = px(axis, at);
    const QRectF r = across ? QRectF(beyond_high ? p : p - stop_px, room.center().y() - 22, stop_px, 44)
                            : QRectF(room.center().x() - 22, beyond_high ? p - stop_px : p, 44, stop_px);
    draft.box(r, theme().ink, theme().ink);
  };
  block(a.home_stop(), a.home_at_max);
  block(a.far, !a.home_at_max);
  const double home = px(axis, a.home);
  const QPointF sw = across ? QPointF(home, room.center().y() + 36) : QPointF(room.center().x() + 36, home);
  draft.box(QRectF(sw - QPointF(4, 4), QSizeF(8, 8)), theme().red, theme().sheet, 1.8);
  const QString name = QString(QChar(letter(axis)));
  const QPointF at = across ? QPointF(room.center().x(), room.bottom() + stop_px + 14)
                            : QPointF(room.right() + stop_px + 6, room.center().y());
  draft.text(at, name + "  " + to_q(format_length(std::fabs(a.far - a.home), unit_, 0)),
             strong ? theme().red : theme().ink, 12, strong, across ? Qt::AlignHCenter : Qt::AlignLeft);
}

TravelDrawing::Strip TravelDrawing::strip() const {
  const double left = 34, right = width() - 34.0, y = height() - strip_px + 62;
  const bool flip = axes_[index(chosen_)].home_at_max;
  const auto at = [&](double from_home) { return flip ? right - from_home : left + from_home; };
  const double all = right - left, end = std::min(end_px, all / 4.4);
  return {at(0), at(end), at(2 * end), at(all - end), at(all), y};
}

void TravelDrawing::place_fields() {
  const Strip s = strip();
  const double wide = std::min(end_field_px, std::fabs(s.home - s.stop_home) - 6);
  const auto put = [&](LengthField* f, double a, double b, double y) {
    f->setFixedWidth(static_cast<int>(wide));
    put_on_drawing(*f, {(a + b) / 2, y});
  };
  put(overtravel_, s.stop_home, s.home, s.y + 34);
  put(clearance_home_, s.home, s.limit_home, s.y + 34);
  put(clearance_far_, s.limit_far, s.stop_far, s.y + 34);
  put(travel_, s.home, s.stop_far, s.y + 76);
}

void TravelDrawing::paint_ends(Draft& draft) const {
  const AxisTravel& a = axes_[index(chosen_)];
  const Strip s = strip();
  draft.text({34, s.y - 44}, tr("%1's ends, not to scale").arg(QChar(letter(chosen_))), theme().ink, 12, true);
  const double way = s.stop_far > s.stop_home ? 1 : -1;
  draft.line({s.stop_home, s.y}, {s.stop_far, s.y}, theme().ink, 2);
  const auto block = [&](double at, double side) {
    draft.box(QRectF(std::min(at, at + side * 12), s.y - 18, 12, 30), theme().ink, theme().ink);
  };
  block(s.stop_home, -way);
  block(s.stop_far, way);
  draft.box(QRectF(s.home - 5, s.y - 5, 10, 10), theme().red, theme().sheet, 2);
  const QPointF word(0, -12);
  draft.text(QPointF(s.home, s.y) + word, tr("switch %1").arg(to_q(format_length(a.home, unit_, 1))),
             theme().second_ink, 11, false, Qt::AlignHCenter);
  const auto limit_line = [&](double at, double value) {
    draft.line({at, s.y - 20}, {at, s.y + 14}, theme().red, 2, Qt::DashLine);
    draft.text({at, s.y - 24}, tr("limit %1").arg(to_q(format_length(value, unit_, 1))), theme().red, 11, true,
               Qt::AlignHCenter);
  };
  limit_line(s.limit_home, a.home_at_max ? a.high : a.low);
  limit_line(s.limit_far, a.home_at_max ? a.low : a.high);
  draft.text({s.stop_far - way * 2, s.y - 44}, a.far_measured ? tr("far end, measured") : tr("far end, as in the book"),
             a.far_measured ? theme().teal : theme().second_ink, 11, a.far_measured,
             way > 0 ? Qt::AlignRight : Qt::AlignLeft);
  const auto dimension = [&](double from, double to, double y) {
    draft.line({from, y}, {to, y}, theme().second_ink);
    draft.arrow_head({from, y}, {from < to ? -1.0 : 1.0, 0}, theme().second_ink);
    draft.arrow_head({to, y}, {from < to ? 1.0 : -1.0, 0}, theme().second_ink);
    for (const double x : {from, to}) draft.line({x, y - 16}, {x, y + 5}, theme().rule);
  };
  dimension(s.stop_home, s.home, s.y + 34);
  dimension(s.home, s.limit_home, s.y + 34);
  dimension(s.limit_far, s.stop_far, s.y + 34);
  dimension(s.home, s.stop_far, s.y + 76);
  if (a.now) {
    const double lo = std::min(a.home, a.far), hi = std::max(a.home, a.far);
    const double part = std::clamp((*a.now - lo) / std::max(1e-9, hi - lo), 0.0, 1.0);
    const double from = s.home, to = s.stop_far;
    const double x = (a.home < a.far) ? from + part * (to - from) : to + part * (from - to);
    draft.arrow_head({x, s.y + 2}, {0, -1}, theme().teal, 10);
  }
}

void TravelDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  draft.text({6, 14}, tr("Plan"), theme().second_ink, 11);
  draft.text({width() - 6.0, 14}, tr("Elevation"), theme().second_ink, 11, false, Qt::AlignRight);
  draft.box(plan(), theme().ink, theme().paper, 1.2);
  draft.box(elevation(), theme().ink, theme().paper, 1.2);
  for (const Axis a : all_axes)
    if (a != chosen_) paint_axis(draft, a, a == Axis::z ? elevation() : plan());
  paint_axis(draft, chosen_, chosen_ == Axis::z ? elevation() : plan());
  if (axes_[0].now && axes_[1].now) draft.tool_plan({px(Axis::x, *axes_[0].now), px(Axis::y, *axes_[1].now)}, 5);
  if (axes_[2].now) draft.tool_elevation({elevation().center().x() - 34, px(Axis::z, *axes_[2].now)}, 6, 16, 14);
  draft.line({20, height() - strip_px + 0.5}, {width() - 20.0, height() - strip_px + 0.5}, theme().rule);
  paint_ends(draft);
}

std::optional<TravelDrawing::Handle> TravelDrawing::handle_under(QPointF p) const {
  for (const Axis a : {chosen_, Axis::x, Axis::y, Axis::z})
    for (const bool upper : {false, true})
      if (QLineF(handle(a, upper), p).length() <= handle_reach_px) return Handle{a, upper};
  return std::nullopt;
}

void TravelDrawing::mousePressEvent(QMouseEvent* event) {
  const QPointF p = event->position();
  dragged_ = handle_under(p);
  if (dragged_) {
    dragged_to_ = dragged_->upper ? axes_[index(dragged_->axis)].high : axes_[index(dragged_->axis)].low;
    if (dragged_->axis != chosen_) emit axis_chosen(dragged_->axis);
  } else if (elevation().adjusted(-20, -10, 20, 10).contains(p)) {
    emit axis_chosen(Axis::z);
  } else if (plan().adjusted(-20, -20, 20, 20).contains(p)) {
    // Nearer to a left or right edge: X; to an upper or lower one: Y.
    const double dx = std::min(std::fabs(p.x() - plan().left()), std::fabs(p.x() - plan().right())),
                 dy = std::min(std::fabs(p.y() - plan().top()), std::fabs(p.y() - plan().bottom()));
    emit axis_chosen(dx <= dy ? Axis::x : Axis::y);
  }
}

void TravelDrawing::mouseMoveEvent(QMouseEvent* event) {
  if (!dragged_) {
    setCursor(handle_under(event->position()) ? Qt::SizeAllCursor : Qt::ArrowCursor);
    return;
  }
  const AxisTravel& a = axes_[index(dragged_->axis)];
  const double p = dragged_->axis == Axis::x ? event->position().x() : event->position().y();
  const double low = std::min(a.home, a.far), high = std::max(a.home, a.far);
  dragged_to_ = std::clamp(std::round(from_px(dragged_->axis, p) * 2) / 2, low, high);
  update();
}

void TravelDrawing::mouseReleaseEvent(QMouseEvent*) {
  const auto dragged = std::exchange(dragged_, std::nullopt);
  if (dragged) emit limit_dragged(dragged->axis, dragged->upper, dragged_to_);
}

void TravelDrawing::resizeEvent(QResizeEvent*) {
  place_fields();
}

}  // namespace ypsi::app
