#include "app/drawing/machine_view.h"

#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr double click_px = 16;

bool any_by_hand(const MachineSetup& machine) {
  return std::any_of(machine.axes.begin(), machine.axes.end(), [](const AxisSetup& axis) { return axis.zero_by_hand; });
}

}  // namespace

QString kind_words(const std::string& kind) {
  if (kind == "moving_bed") return MachineView::tr("Moving bed");
  if (kind == "engraver") return MachineView::tr("Engraver");
  if (kind == "cutting_table") return MachineView::tr("Cutting table");
  if (kind == "vertical_panel") return MachineView::tr("Vertical panel");
  return MachineView::tr("Moving gantry");
}

MachineView::MachineView(QWidget* parent) : QWidget(parent) {
  setObjectName("machine-view");
  setAccessibleName(tr("The machine in plan and elevation"));
}

void MachineView::show(const MachineSetup& machine, std::optional<Axis> shown, LengthUnit unit) {
  machine_ = machine;
  shown_ = shown;
  unit_ = unit;
  update();
}

/// An axis's travel with its name, its length, and the switch at its home end.
void MachineView::paint_axis(Draft& draft, Axis a, QPointF from, QPointF to) {
  lines_[index(a)] = QLineF(from, to);
  const AxisSetup& axis = machine_.axis(a);
  const bool strong = shown_ == a;
  const QColor colour = strong ? theme().teal : theme().ink;
  const QPointF d = (to - from) / std::max(1.0, std::hypot(to.x() - from.x(), to.y() - from.y()));
  draft.line(from, to, colour, strong ? 2.4 : 1.2);
  draft.arrow_head(to, d, colour, strong ? 13 : 9);
  draft.line(from - QPointF(d.y(), -d.x()) * 6, from + QPointF(d.y(), -d.x()) * 6, colour, 1.4);
  const QPointF home = axis.home_at_max ? to : from, n(-d.y(), d.x());
  const QPointF at = home + (axis.home_at_max ? d : -d) * 9;
  draft.box(QRectF(at.x() - 4, at.y() - 4, 8, 8), theme().red, theme().sheet, 1.8);
  if (axis.zero_by_hand) draft.hatch(QRectF(at.x() - 4, at.y() - 4, 8, 8), theme().red, 3);  // a mark, no switch
  const bool across = std::fabs(d.x()) > 0.5;
  const bool rotary = is_rotary(axis.drive.transmission);
  const LengthUnit unit = rotary ? LengthUnit::degree : unit_;
  const QString words =
      QString("%1  %2 %3").arg(QChar(letter(a))).arg(to_q(format_length(axis.travel, unit, 0)), to_q(unit_name(unit)));
  const QPointF middle = (from + to) / 2;
  if (across)
    draft.text(middle + QPointF(0, 17), words, colour, 12, strong, Qt::AlignHCenter);
  else
    draft.text(middle + QPointF(10, 4), words, colour, 12, strong);
}

void MachineView::paint_plan(Draft& draft, const QRectF& room) {
  const double w = std::max(1.0, machine_.axis(Axis::x).travel.mm), h = std::max(1.0, machine_.axis(Axis::y).travel.mm);
  const double scale = std::min((room.width() - 150) / w, (room.height() - 62) / h);
  const double bw = std::max(60.0, w * scale), bh = std::max(40.0, h * scale);
  const QRectF bed(room.left() + (room.width() - 110 - bw) / 2 + 20, room.top() + 24 + (room.height() - 66 - bh) / 2,
                   bw, bh);
  const MachineForm form = machine_kind(machine_.kind).form;
  draft.text({room.left(), room.top() + 11},
             form == MachineForm::vertical_panel ? tr("Front, the board upright") : tr("Plan, seen from the front"),
             theme().second_ink, 11);
  if (form == MachineForm::moving_bed) {
    // The beam stands; the bed under it runs.
    draft.box(bed, theme().ink, theme().stock, 1.4);
    draft.box(QRectF(bed.left() - 16, bed.center().y() - 8, bed.width() + 32, 16), theme().ink, theme().paper, 1.6);
    for (const double x : {bed.left() - 16, bed.right() + 6})
      draft.box(QRectF(x, bed.center().y() - 14, 10, 28), theme().ink, theme().sheet, 1.6);
    draft.tool_plan({bed.left() + bed.width() * 0.4, bed.center().y()}, 7);
  } else if (form == MachineForm::vertical_panel) {
    draft.box(bed, theme().ink, theme().stock, 1.4);
    draft.box(QRectF(bed.left() + bed.width() * 0.4 - 8, bed.top() - 10, 16, bed.height() + 20), theme().ink,
              theme().paper, 1.6);
    draft.tool_plan({bed.left() + bed.width() * 0.4, bed.center().y()}, 7);
  } else {
    draft.box(bed, theme().ink, theme().stock, 1.4);
    for (const double x : {bed.left() - 12, bed.right() + 4})
      draft.box(QRectF(x, bed.top() - 8, 8, bed.height() + 16), theme().ink, theme().sheet, 1.2);
    draft.box(QRectF(bed.left() - 18, bed.top() + bed.height() * 0.35 - 8, bed.width() + 36, 16), theme().ink,
              theme().paper, 1.6);
    draft.tool_plan({bed.left() + bed.width() * 0.4, bed.top() + bed.height() * 0.35}, 7);
  }
  // What the carriage holds besides the first, beside each other on the beam.
  const double beam = form == MachineForm::moving_gantry ? bed.top() + bed.height() * 0.35 : bed.center().y();
  for (std::size_t i = 1; i < machine_.heads.size(); ++i) {
    const QPointF at(bed.left() + bed.width() * 0.4 + 19.0 * static_cast<double>(i), beam);
    if (at.x() > bed.right()) break;
    draft.painter().setPen(QPen(theme().ink, 1.4));
    draft.painter().setBrush(theme().sheet);
    draft.painter().drawEllipse(at, 6, 6);
    draft.painter().setBrush(Qt::NoBrush);
  }
  paint_axis(draft, Axis::x, {bed.left(), bed.bottom() + 18}, {bed.right(), bed.bottom() + 18});
  paint_axis(draft, Axis::y, {bed.right() + 36, bed.bottom()}, {bed.right() + 36, bed.top()});
}

void MachineView::paint_elevation(Draft& draft, const QRectF& room) {
  const bool upright = machine_kind(machine_.kind).form == MachineForm::vertical_panel;
  draft.text({room.left(), room.top() + 11}, upright ? tr("From above") : tr("Elevation, from the front"),
             theme().second_ink, 11);
  const double left = room.left() + 6, right = room.right() - 112, base = room.bottom() - 16, top = room.top() + 34;
  draft.box(QRectF(left, base, right - left, 10), theme().ink, theme().stock, 1.4);
  draft.hatch(QRectF(left, base, right - left, 10), theme().second_ink, 8);
  for (const double x : {left + 4, right - 14})
    draft.box(QRectF(x, top + 8, 10, base - top - 8), theme().ink, theme().sheet, 1.2);
  draft.box(QRectF(left - 2, top - 6, right - left + 4, 20), theme().ink, theme().paper, 1.6);
  const double x = left + (right - left) * 0.45;
  draft.box(QRectF(x - 13, top - 12, 26, 44), theme().ink, theme().teal_soft, 1.6);
  draft.tool_elevation({x, top + 32 + 28 + 10}, 7, 22, 18);
  paint_axis(draft, Axis::z, {right + 26, base}, {right + 26, top});
}

void MachineView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const double split = width() * 0.6;
  const bool narrow = split < 360;  // no room beside the caption: the legend stands below
  paint_plan(draft, QRectF(6, 2, split - 16, height() - (narrow ? 22.0 : 6.0)));
  paint_elevation(draft, QRectF(split + 8, 2, width() - split - 14, height() - 6.0));
  const QPointF legend = narrow ? QPointF(7, height() - 14.0) : QPointF(split - (any_by_hand(machine_) ? 270 : 190), 5);
  draft.box(QRectF(legend, QSizeF(8, 8)), theme().red, theme().sheet, 1.8);
  draft.text(
      legend + QPointF(14, 8),
      any_by_hand(machine_) ? tr("the switch that homing seeks; hatched: a mark") : tr("the switch that homing seeks"),
      theme().second_ink, 11);
}

void MachineView::mousePressEvent(QMouseEvent* event) {
  for (const Axis a : all_axes) {
    const QLineF& line = lines_[index(a)];
    const QPointF d = line.p2() - line.p1(), p = event->position() - line.p1();
    const double length = line.length();
    if (length == 0) continue;
    const double along = QPointF::dotProduct(p, d) / length, off = std::fabs(p.x() * d.y() - p.y() * d.x()) / length;
    if (off < click_px && along > -click_px && along < length + click_px) {
      emit chosen(a);
      return;
    }
  }
}

}  // namespace ypsi::app
