#include "app/sheets/trials/depth_section.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/drawing/draft.h"
#include "app/sheets/trials/level_text.h"
#include "app/to_q.h"
#include "core/book/worksheets/trials.h"
#include "core/program/tool_shape.h"

namespace ypsi::app {
namespace {

constexpr int layer_field_px = 88;
constexpr double section_beside_px = 112, section_above_px = 78, section_below_px = 12;
constexpr double least_drawn_mm = 0.3;

double drawn_depth(double mm) {
  return mm > 0 ? mm : least_drawn_mm;
}

}  // namespace

DepthSection::DepthSection(QWidget* parent) : QWidget(parent) {
  setObjectName("depth-section");
  setAccessibleName(tr("Section through the plate with the tool in its groove"));
  setMinimumHeight(146);
  const auto field = [this](const char* name, const QString& what) {
    auto* f = new LengthField(name, what, this);
    f->set_decimals(3);
    f->set_clearable(true);
    f->setFixedWidth(layer_field_px);
    return f;
  };
  cap = field("depth-cap", tr("Thickness of the cap; empty for a plate of one piece"));
  total = field("depth-total", tr("Thickness of the whole plate"));
  depth = field("depth-wanted", tr("How deep it shall be"));
  left = field("depth-left", tr("What must be left below a groove"));
}

void DepthSection::show(const Shown& shown, LengthUnit unit) {
  shown_ = shown;
  unit_ = unit;
  const auto said = [](double mm) { return mm > 0 ? std::optional(mm) : std::nullopt; };
  for (LengthField* f : {cap, total, depth, left}) f->set_unit(unit);
  cap->show_value(said(shown.plate.cap_mm));
  total->show_value(said(shown.plate.total_mm));
  depth->show_value(said(shown.sheet.wanted_mm));
  left->show_value(said(shown.sheet.core_left_mm));
  place_fields();
  update();
}

DepthSection::Places DepthSection::places() const {
  Places p{};
  p.left = section_beside_px;
  p.right = width() - section_beside_px;
  p.top = std::min(section_above_px, height() * 0.4);
  p.bottom = height() - section_below_px;
  const double deep =
      std::max({drawn_depth(shown_.plate.total_mm > 0 ? shown_.plate.total_mm : 2 * shown_.plate.cap_mm),
                1.25 * (shown_.depth + shown_.U)});
  p.scale = (p.bottom - p.top) / deep;
  if (shown_.plate.total_mm > 0) p.bottom = p.y(shown_.plate.total_mm);
  return p;
}

void DepthSection::place_fields() {
  const Places p = places();
  const int high = cap->sizeHint().height();
  const auto put = [&](LengthField* f, double x, double y) {
    const double lowest = std::max(0.0, static_cast<double>(height() - high));
    f->move(static_cast<int>(x), static_cast<int>(std::clamp(y - high / 2.0, 0.0, lowest)));
  };
  const double cap_y = std::max(p.top, p.y(shown_.plate.cap_mm / 2));
  put(cap, 12, cap_y);
  put(total, 12, std::max((p.top + p.bottom) / 2 + high / 2.0, cap_y + high + 18));
  const double depth_y = std::max(p.top, p.y(shown_.depth / 2));
  put(depth, width() - layer_field_px - 12.0, depth_y);
  put(left, width() - layer_field_px - 12.0, std::max(p.bottom - high / 2.0, depth_y + high + 18));
}

void DepthSection::resizeEvent(QResizeEvent*) {
  place_fields();
}

void DepthSection::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const Places p = places();
  const DepthSheet& s = shown_.sheet;
  const Material& plate = shown_.plate;
  const double middle = (p.left + p.right) / 2, cap_y = p.y(plate.cap_mm);
  const auto colour_or = [](const std::string& said, const QColor& usual) {
    const QColor colour(QString::fromStdString(said));
    return colour.isValid() ? colour : usual;
  };
  const QColor core = colour_or(plate.core_colour, theme().stock);
  constexpr int half_light = 128;
  const QColor on_core =
      (core.lightness() < half_light) == (theme().ink.lightness() < half_light) ? theme().sheet : theme().ink;
  draft.box(QRectF(p.left, p.top, p.right - p.left, p.bottom - p.top), theme().ink, core, 1.4);
  if (plate.cap_mm > 0) {
    const QRectF cap_box(p.left, p.top, p.right - p.left, cap_y - p.top);
    draft.box(cap_box, theme().ink, colour_or(plate.cap_colour, theme().cut), 1.2);
    draft.hatch(cap_box, theme().second_ink, 9);
    draft.text({p.left + 10, p.top - 8}, tr("cap"), theme().second_ink, 11);
    draft.text({p.left + 10, std::min(p.bottom - 8, cap_y + 18)}, tr("core"), on_core, 12);
  } else {
    draft.text({p.left + 10, p.bottom - 8}, tr("plate"), on_core, 12);
  }
  if (plate.total_mm > 0 && s.core_left_mm > 0) {
    const double keep = p.y(plate.total_mm - s.core_left_mm);
    draft.line({p.left, keep}, {p.right, keep}, theme().red, 1.2, Qt::DashLine);
    draft.text({p.left + 60, keep - 5}, tr("not below here"), theme().red, 11);
  }

  // The tool in its groove, as wide as it is at each height.
  const double half_room = (p.right - p.left) / 2 - 8, tip_y = p.y(shown_.depth);
  const Tool usual = [] {
    Tool t;
    t.diameter = usual_cutter_mm;
    return t;
  }();
  const Tool& tool = shown_.tool ? *shown_.tool : usual;
  const auto half = [&](double above_tip) { return std::min(half_room, radius_at(tool, above_tip) * p.scale); };
  if (shown_.depth > 0) {
    QPolygonF right, all;
    constexpr int heights = 24;
    const double up = (tip_y - 24) / p.scale;
    for (int i = 0; i <= heights; ++i) {
      const double above = up * i / heights;
      right << QPointF(middle + half(above), tip_y - above * p.scale);
    }
    all = right;
    for (auto it = right.rbegin(); it != right.rend(); ++it) all << QPointF(2 * middle - it->x(), it->y());
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(theme().teal_soft);
    painter.drawPolygon(all);
    painter.setBrush(Qt::NoBrush);
    const double top_half = half(shown_.depth);
    draft.line({middle - top_half, p.top}, {middle + top_half, p.top}, theme().teal, 2.4);
    draft.line({middle + half(0), tip_y}, {p.right + 14, tip_y}, theme().teal, 1.2, Qt::DashLine);
    if (shown_.U > 0) {
      QColor band = theme().teal;
      band.setAlpha(70);
      painter.fillRect(QRectF(p.left, p.top, p.right - p.left, p.bottom - p.top) &
                           QRectF(QPointF(middle - half(0) - 20, p.y(std::max(0.0, shown_.depth - shown_.U))),
                                  QPointF(middle + half(0) + 20, p.y(shown_.depth + shown_.U))),
                       band);
    }
    draft.line({p.right + 8, p.top}, {p.right + 8, tip_y}, theme().teal, 1.4);
    draft.arrow_head({p.right + 8, p.top}, {0, -1}, theme().teal);
    draft.arrow_head({p.right + 8, tip_y}, {0, 1}, theme().teal);
    if (shown_.nose) {
      for (const double side : {-1.0, 1.0}) {
        const double inner = std::min(half_room - 70, std::max(top_half, half(up)) + 34),
                     from = middle + side * inner + (side < 0 ? -60 : 0);
        draft.box(QRectF(from, p.top - 26, 60, 26), theme().ink, theme().rule, 1.2);
        if (side > 0) draft.text({from + 30, p.top - 9}, tr("nose"), theme().ink, 11, true, Qt::AlignHCenter);
      }
    }
    if (shown_.tool)
      draft.text({middle, 16},
                 tr("%1 wide at the top")
                     .arg(to_q(format_length(2 * radius_at(tool, shown_.depth), unit_, 2) + " " +
                               std::string(unit_name(unit_)))),
                 theme().teal, 12, true, Qt::AlignHCenter);
  }
  const auto dimension = [&](double x, double from, double to) {
    draft.line({x, from}, {x, to}, theme().second_ink);
    draft.arrow_head({x, from}, {0, -1}, theme().second_ink);
    draft.arrow_head({x, to}, {0, 1}, theme().second_ink);
  };
  if (plate.cap_mm > 0) dimension(p.left - 6, p.top, cap_y);
  if (plate.total_mm > 0) dimension(8, p.top, p.bottom);
  const auto word = [&](const LengthField* f, const QString& words) {
    draft.text({f->geometry().left() + layer_field_px / 2.0, f->geometry().top() - 4.0}, words, theme().second_ink, 11,
               false, Qt::AlignHCenter);
  };
  word(cap, tr("cap"));
  word(total, tr("whole plate"));
  word(depth, tr("deep"));
  word(left, tr("to be left"));
  // How many times as large: as on a screen of 96 px an inch.
  constexpr double px_per_mm = 96 / 25.4;
  draft.text({8, 14}, tr("Section, %1 times as large").arg(std::max(1.0, std::round(p.scale / px_per_mm))),
             theme().second_ink, 11);
}

NoseDial::NoseDial(QWidget* parent) : QWidget(parent) {
  setObjectName("nose-dial");
  setAccessibleName(tr("What to set for that depth"));
  setMinimumSize(230, 88);
}

void NoseDial::show(const std::optional<Dial>& dial, const std::optional<double>& set, const QString& words) {
  dial_ = dial;
  set_ = set;
  words_ = words;
  setAccessibleDescription(words);
  update();
}

void NoseDial::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const double radius = std::min(height() / 2.0 - 6, 74.0);
  double text_x = 8;
  if (dial_ && dial_->low < dial_->high) {
    const QPointF centre(radius + 8, height() / 2.0);
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(theme().paper);
    painter.drawEllipse(centre, radius, radius);
    painter.setBrush(Qt::NoBrush);
    const double range = dial_->high - dial_->low;
    const auto at = [&](double tick, double part) {
      const double angle = (tick - dial_->low) / range * 2 * std::numbers::pi;
      return centre + QPointF(std::sin(angle), -std::cos(angle)) * radius * part;
    };
    constexpr int most_marks = 60;
    const double step = range <= most_marks ? 1 : std::pow(10, std::ceil(std::log10(range / most_marks)));
    int n = 0;
    for (double tick = dial_->low; tick < dial_->high - step / 2; tick += step, ++n) {
      const bool fifth = n % 5 == 0;
      draft.line(at(tick, 1), at(tick, fifth ? 0.84 : 0.92), theme().ink, 1);
      if (fifth)
        draft.text(at(tick, 0.68) + QPointF(0, 4), level_text(tick), theme().second_ink, 10, false, Qt::AlignHCenter);
    }
    if (set_) {
      draft.line(centre, at(*set_, 0.8), theme().red, 2.6);
      painter.setBrush(theme().red);
      painter.drawEllipse(centre, 3, 3);
      painter.setBrush(Qt::NoBrush);
    }
    text_x = 2 * radius + 24;
  }
  const double y = height() / 2.0 - 14;
  draft.text({text_x, y}, dial_ ? tr("set the nose to") : tr("send Z below the top by"), theme().second_ink, 12);
  draft.text({text_x, y + 28}, set_ ? words_ : QString("–"), theme().red, 24, true);
  if (dial_) draft.text({text_x, y + 48}, tr("turned as here"), theme().second_ink, 11);
}

}  // namespace ypsi::app
