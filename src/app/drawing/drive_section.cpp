#include "app/drawing/drive_section.h"

#include <QCoreApplication>
#include <algorithm>
#include <cmath>
#include <numbers>

namespace ypsi::app {
namespace {

constexpr double motor_px = 46, gears_px = 54;

struct DriveWords {
  Q_DECLARE_TR_FUNCTIONS(drive)
};

/// Teeth as ticks across a line, seen from where they are cut.
void teeth(Draft& draft, QPointF from, QPointF to, double spacing, double height) {
  const QPointF way = to - from;
  const double length = std::hypot(way.x(), way.y());
  const QPointF d = way / length, n(-d.y() * height, d.x() * height);
  for (double at = spacing / 2; at < length; at += spacing)
    draft.line(from + d * at, from + d * at + n, theme().second_ink);
}

void toothed_wheel(Draft& draft, QPointF centre, double radius, int count) {
  QPainter& p = draft.painter();
  p.setPen(QPen(theme().ink, 1.6));
  p.setBrush(theme().teal_soft);
  p.drawEllipse(centre, radius, radius);
  p.setBrush(Qt::NoBrush);
  for (int i = 0; i < count; ++i) {
    const double a = 2 * std::numbers::pi * i / count;
    const QPointF d(std::cos(a), std::sin(a));
    draft.line(centre + d * radius, centre + d * (radius + 4), theme().ink, 1.2);
  }
  draft.line(centre - QPointF(3, 0), centre + QPointF(3, 0), theme().ink);
  draft.line(centre - QPointF(0, 3), centre + QPointF(0, 3), theme().ink);
}

struct Painted {
  Draft& draft;
  QRectF box;

  void operator()(const Screw& screw) const {
    const double y = box.center().y(), r = 7;
    draft.box(QRectF(box.left(), y - r, box.width(), 2 * r), theme().ink, theme().sheet, 1.4);
    const double lead = std::clamp(screw.lead_mm * 5, 5.0, box.width() * 0.45);
    for (double x = box.left() + 4; x + lead / 2 < box.right(); x += lead)
      draft.line({x, y + r}, {x + lead / 2, y - r}, theme().second_ink, 1.2);
    const double wide = std::min(52.0, box.width() * 0.34);
    const QRectF nut(box.right() - box.width() * 0.3 - wide / 2, y - 19, wide, 38);
    draft.box(nut, theme().ink, theme().teal_soft, 1.6);
    draft.hatch(QRectF(nut.left(), nut.top(), nut.width(), 12), theme().ink, 6);
    draft.hatch(QRectF(nut.left(), nut.bottom() - 12, nut.width(), 12), theme().ink, 6);
    // One lead, dimensioned.
    const double x0 = box.left() + 4, top = y - r - 10;
    for (const double x : {x0, x0 + lead}) draft.line({x, top - 5}, {x, y - r}, theme().teal);
    draft.line({x0, top}, {x0 + lead, top}, theme().teal, 1.4);
  }
  void operator()(const Belt& belt) const {
    const double y = box.center().y(), r = std::clamp(belt.pitch_mm * belt.teeth / 2 / std::numbers::pi * 2, 9.0, 26.0);
    const QPointF a(box.left() + r + 6, y), b(box.right() - r - 6, y);
    const double pitch = std::clamp(belt.pitch_mm * 3, 4.0, 30.0);
    for (const double side : {-1.0, 1.0}) {
      const QPointF off(0, side * (r + 4));
      draft.line(a + off, b + off, theme().ink, 2);
      teeth(draft, a + off, b + off, pitch, -side * 4);
    }
    draft.painter().setPen(QPen(theme().ink, 2));
    draft.painter().drawArc(QRectF(a.x() - r - 4, y - r - 4, 2 * r + 8, 2 * r + 8), 90 * 16, 180 * 16);
    draft.painter().drawArc(QRectF(b.x() - r - 4, y - r - 4, 2 * r + 8, 2 * r + 8), -90 * 16, 180 * 16);
    toothed_wheel(draft, a, r - 1, std::clamp(static_cast<int>(belt.teeth), 6, 60));
    draft.painter().setPen(QPen(theme().ink, 1.4));
    draft.painter().drawEllipse(b, r, r);
    draft.box(QRectF(box.center().x() - 16, y - r - 12, 32, 16), theme().ink, theme().teal_soft, 1.4);
  }
  void operator()(const Rack& rack) const {
    const double base = box.bottom() - 14, pitch = std::clamp(rack.module_mm * std::numbers::pi * 3, 5.0, 40.0);
    const double r = std::clamp(rack.module_mm * rack.teeth * 1.2, 12.0, 26.0);
    draft.box(QRectF(box.left(), base, box.width(), 10), theme().ink, theme().sheet, 1.4);
    draft.hatch(QRectF(box.left(), base, box.width(), 10), theme().second_ink, 8);
    teeth(draft, {box.left(), base}, {box.right(), base}, pitch, -7);
    toothed_wheel(draft, {box.center().x(), base - r - 5}, r, std::clamp(static_cast<int>(rack.teeth), 6, 60));
  }
  void operator()(const Rotary&) const {
    const QPointF c = box.center();
    const double r = std::min(box.height() / 2 - 4, 34.0);
    draft.painter().setPen(QPen(theme().ink, 1.8));
    draft.painter().setBrush(theme().teal_soft);
    draft.painter().drawEllipse(c, r, r);
    draft.painter().setBrush(Qt::NoBrush);
    for (int jaw = 0; jaw < 3; ++jaw) {
      const double a = 2 * std::numbers::pi * jaw / 3 + 0.5;
      const QPointF d(std::cos(a), std::sin(a));
      draft.line(c + d * 8, c + d * (r - 4), theme().ink, 6);
    }
    draft.painter().setPen(QPen(theme().teal, 2));
    draft.painter().drawArc(QRectF(c.x() - r - 8, c.y() - r - 8, 2 * r + 16, 2 * r + 16), 20 * 16, 140 * 16);
    draft.arrow_head(c + QPointF(-(r + 8) * 0.94, -(r + 8) * 0.34), {-0.35, 0.94}, theme().teal, 9);
  }
};

}  // namespace

DriveParts drive_parts(const QRectF& box) {
  const double y = box.center().y();
  const QRectF motor(box.left(), y - motor_px / 2, motor_px, motor_px);
  const QRectF gears(motor.right() + 10, y - 40, gears_px, 80);
  return {motor, gears, QRectF(gears.right() + 10, box.top(), box.right() - gears.right() - 10, box.height())};
}

void draw_drive(Draft& draft, const QRectF& box, const DriveTrain& drive) {
  const DriveParts parts = drive_parts(box);
  const double y = box.center().y();
  draft.line({parts.motor.right(), y}, {parts.transmission.left() + 2, y}, theme().ink, 3);
  draft.box(parts.motor, theme().ink, theme().sheet, 1.8);
  draft.hatch(QRectF(parts.motor.left(), parts.motor.top(), parts.motor.width(), 9), theme().second_ink, 5);
  draft.hatch(QRectF(parts.motor.left(), parts.motor.bottom() - 9, parts.motor.width(), 9), theme().second_ink, 5);
  draft.text(parts.motor.center() + QPointF(0, 5), DriveWords::tr("motor"), theme().ink, 11, false, Qt::AlignHCenter);
  if (drive.gear_ratio != 1) {
    // The motor's wheel drives the output's: the larger one turns slower.
    const double share = drive.gear_ratio / (1 + drive.gear_ratio), small = std::clamp(34 * (1 - share), 7.0, 27.0);
    const QPointF c = parts.gears.center();
    toothed_wheel(draft, c - QPointF(0, 34 - small), small, 10);
    toothed_wheel(draft, c + QPointF(0, small), 34 - small, 16);
  } else {
    draft.box(QRectF(parts.gears.center().x() - 13, y - 9, 26, 18), theme().ink, theme().sheet, 1.4);
    draft.line({parts.gears.center().x(), y - 9}, {parts.gears.center().x(), y + 9}, theme().ink);
  }
  std::visit(Painted{draft, parts.transmission}, drive.transmission);
}

QString transmission_words(const Transmission& transmission) {
  const auto n = [](double v) { return QString::number(v, 'g', 6); };
  if (const auto* s = std::get_if<Screw>(&transmission)) return DriveWords::tr("screw, lead %1 mm").arg(n(s->lead_mm));
  if (const auto* b = std::get_if<Belt>(&transmission))
    return DriveWords::tr("belt, pitch %1 mm, %2 teeth").arg(n(b->pitch_mm), n(b->teeth));
  if (const auto* r = std::get_if<Rack>(&transmission))
    return DriveWords::tr("rack, module %1 mm, %2 teeth").arg(n(r->module_mm), n(r->teeth));
  return DriveWords::tr("rotary, 360° a turn");
}

}  // namespace ypsi::app
