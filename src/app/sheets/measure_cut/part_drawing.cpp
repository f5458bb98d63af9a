#include "app/sheets/measure_cut/part_drawing.h"

#include <QEvent>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/session.h"
#include "app/to_q.h"
#include "core/book/worksheets/cut.h"
#include "core/calibration/first_cut.h"

namespace ypsi::app {
namespace {

constexpr double wide_column_px = 186, narrow_column_px = 126, narrow_below_px = 560, field_px = 98, field_high_px = 24;
constexpr double letter_px = 12, roomy_px = 44, drawn_deviation_px = 9, part_edge_px = 14;
constexpr double engraved_arm_mm = 4;    // of a cross, as it is drawn
constexpr double unexplained_mm = 0.05;  // what the causes leave of a size beyond this is marked

/// 1, 2, 5, 10, 20, ... not above `value`.
double whole_factor(double value) {
  const double power = std::pow(10, std::floor(std::log10(std::max(value, 1.0))));
  return value / power >= 5 ? 5 * power : value / power >= 2 ? 2 * power : power;
}

bool is_round(const CutWorksheet& sheet) {
  return sheet.coupon == "circle";
}

/// Whether heads or a point have left it, and no cutter of some width.
bool made_of_lines(const CutWorksheet& sheet) {
  return cut_by_heads(sheet) || is_engraved(sheet);
}

/// The size along the other axis at the same place, where there is one; else the same.
double across(const CutWorksheet& sheet, const CutSize& size) {
  for (const CutSize& other : sheet.sizes)
    if (other.kind == size.kind && other.axis != size.axis && other.at_mm && other.at_mm == size.at_mm)
      return other.nominal_mm;
  return size.nominal_mm;
}

/// A part that was described by its sizes alone: each is drawn for itself, one beside the other.
CutWorksheet laid_out(CutWorksheet sheet) {
  constexpr std::size_t columns = 3;
  constexpr double least_mm = 10;
  double cell = least_mm;
  for (const CutSize& s : sheet.sizes)
    if (!s.at_mm && s.kind != FeatureKind::depth) cell = std::max(cell, s.nominal_mm);
  cell = 1.25 * cell + 2 * sheet.tool_diameter_mm;
  const std::size_t rows = (sheet.sizes.size() + columns - 1) / columns;
  for (std::size_t i = 0; i < sheet.sizes.size(); ++i) {
    CutSize& s = sheet.sizes[i];
    if (s.at_mm) continue;
    const std::size_t column = i % columns, row = rows - 1 - i / columns;  // the first on top
    const double x = cell * (static_cast<double>(column) + 0.5), y = cell * (static_cast<double>(row) + 0.5),
                 half = s.nominal_mm / 2;
    s.at_mm = std::array{x, y, 0.0};
    if (s.kind != FeatureKind::spacing) continue;
    s.at_mm = s.axis == Axis::x ? std::array{x - half, y, 0.0} : std::array{x, y - half, 0.0};
    s.other_mm = s.axis == Axis::x ? std::array{x + half, y, 0.0} : std::array{x, y + half, 0.0};
  }
  return sheet;
}

}  // namespace

/// Beside a narrow part there is room for fields alone; the table has the rest.
bool PartDrawing::narrow() const {
  return width() < narrow_below_px;
}

double PartDrawing::column() const {
  return narrow() ? narrow_column_px : wide_column_px;
}

QString size_words(const CutSize& s) {
  const QChar axis(letter(s.axis));
  switch (s.kind) {
    case FeatureKind::inside:
      return PartDrawing::tr("inside, along %1").arg(axis);
    case FeatureKind::outside:
      return PartDrawing::tr("outside, along %1").arg(axis);
    case FeatureKind::spacing:
      return PartDrawing::tr("like edges, along %1").arg(axis);
    case FeatureKind::depth:
      return PartDrawing::tr("depth");
    case FeatureKind::beside:
      return PartDrawing::tr("to the line of the %1, along %2").arg(to_q(s.head)).arg(axis);
    case FeatureKind::gap:
      return PartDrawing::tr("gap left by the %1").arg(to_q(s.head));
    case FeatureKind::between:
      return PartDrawing::tr("the square, along %1").arg(axis);
    case FeatureKind::width:
      return PartDrawing::tr("width of the line");
    case FeatureKind::diagonal:
      break;
  }
  return PartDrawing::tr("diagonal, over both");
}

PartDrawing::PartDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("part-drawing");
  setAccessibleName(tr("The part and its sizes"));
  setMinimumHeight(145);
}

void PartDrawing::show(const CutWorksheet& sheet, const CutReading* reading, LengthUnit unit) {
  sheet_ = laid_out(sheet);
  unit_ = unit;
  deviations_.assign(sheet.sizes.size(), std::nullopt);
  residuals_ = deviations_;
  if (reading) {
    deviations_ = reading->deviations;
    residuals_ = reading->residuals;
  }
  while (fields_.size() > sheet.sizes.size()) {
    fields_.back()->deleteLater();
    fields_.back()->setObjectName({});
    fields_.back()->hide();
    fields_.pop_back();
  }
  while (fields_.size() < sheet.sizes.size()) {
    const std::size_t i = fields_.size();
    auto* f = new LengthField(QString("size-%1").arg(i), {}, this);
    f->setFixedWidth(static_cast<int>(field_px));
    f->set_clearable(true);
    connect(f, &LengthField::committed, this, [this, i](double mm) { emit measured(i, mm); });
    connect(f, &LengthField::cleared, this, [this, i] { emit cleared(i); });
    connect(f, &LengthField::next_wanted, this, [this, i] { emit next_wanted(i); });
    connect(f, &LengthField::refused, this, &PartDrawing::refused);
    f->installEventFilter(this);
    f->show();
    fields_.push_back(f);
  }
  for (std::size_t i = 0; i < fields_.size(); ++i) {
    const CutSize& s = sheet.sizes[i];
    const QString what =
        tr("%1: %2, drawn %3")
            .arg(to_q(s.name), size_words(s), to_q(format_length(s.nominal_mm, unit, 2) + " " + unit_name(unit)));
    fields_[i]->setAccessibleName(what);
    fields_[i]->setToolTip(what);
    fields_[i]->set_unit(unit);
    fields_[i]->show_value(s.measured_mm);
  }
  double largest = 0;
  for (const auto& d : deviations_)
    if (d) largest = std::max(largest, std::fabs(*d));
  arrange();
  exaggeration_ = largest > 0 ? whole_factor(drawn_deviation_px / (largest * map().scale)) : 1;
  update();
}

std::optional<std::size_t> PartDrawing::chosen() const {
  for (std::size_t i = 0; i < fields_.size(); ++i)
    if (fields_[i]->hasFocus()) return i;
  for (std::size_t i = 0; i < sheet_.sizes.size(); ++i)
    if (!sheet_.sizes[i].measured_mm) return i;
  return std::nullopt;
}

/// Sizes of the part's left half stand left of it, the others right, from its back to its front.
void PartDrawing::arrange() {
  std::vector<std::size_t> order(sheet_.sizes.size());
  for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
  const auto place = [this](std::size_t i, std::size_t which) {
    const auto& at = sheet_.sizes[i].at_mm;
    return at ? (*at)[which] : 0.0;
  };
  std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return place(a, 0) < place(b, 0); });
  const std::size_t left = (order.size() + 1) / 2;
  slots_of_.assign(order.size(), {});
  for (const bool on_left : {true, false}) {
    std::vector<std::size_t> rows(order.begin() + static_cast<long>(on_left ? 0 : left),
                                  on_left ? order.begin() + static_cast<long>(left) : order.end());
    std::stable_sort(rows.begin(), rows.end(), [&](std::size_t a, std::size_t b) { return place(a, 1) > place(b, 1); });
    const double high = height() / std::max<double>(1, static_cast<double>(rows.size()));
    for (std::size_t row = 0; row < rows.size(); ++row)
      slots_of_[rows[row]] = {
          on_left, QRectF(on_left ? 4 : width() - column(), static_cast<double>(row) * high, column() - 4, high)};
  }
  for (std::size_t i = 0; i < fields_.size(); ++i) {
    const QRectF& box = slots_of_[i].box;
    const double y = box.height() >= roomy_px ? box.center().y() - 5 : box.center().y() - field_high_px / 2;
    fields_[i]->setGeometry(static_cast<int>(box.left() + 22), static_cast<int>(y), static_cast<int>(field_px),
                            static_cast<int>(field_high_px));
  }
}

bool PartDrawing::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::FocusIn || event->type() == QEvent::FocusOut) update();
  return QWidget::eventFilter(watched, event);
}

void PartDrawing::resizeEvent(QResizeEvent*) {
  arrange();
}

PartDrawing::Map PartDrawing::map() const {
  double w = sheet_.stock_width_mm, h = sheet_.stock_height_mm;
  // Only as much of the stock as the sizes take up.
  double x1 = 0, y1 = 0;
  for (const CutSize& s : sheet_.sizes)
    for (const auto& at : {s.at_mm, s.other_mm})
      if (at) {
        const double reach = is_across(s.kind) ? s.nominal_mm / 2 + 2 * sheet_.tool_diameter_mm : 14;
        x1 = std::max(x1, (*at)[0] + reach);
        y1 = std::max(y1, (*at)[1] + reach);
      }
  if (x1 > 0) w = w > 0 ? std::min(w, x1 + 10) : x1 + 10;
  if (y1 > 0) h = h > 0 ? std::min(h, y1 + 10) : y1 + 10;
  w = std::max(w, 1.0);
  h = std::max(h, 1.0);
  const double room_x = std::max(40.0, width() - 2 * column() - 2 * part_edge_px),
               room_y = std::max(40.0, height() - 2 * part_edge_px);
  Map m;
  m.scale = std::min(room_x / w, room_y / h);
  m.origin = {width() / 2.0 - w * m.scale / 2, height() / 2.0 + h * m.scale / 2};
  return m;
}

QPointF PartDrawing::anchor(const Map& m, std::size_t i) const {
  const CutSize& s = sheet_.sizes[i];
  if (!s.at_mm) return {};
  const auto& at = *s.at_mm;
  const auto& to = s.other_mm ? *s.other_mm : at;
  if (s.kind == FeatureKind::depth || s.kind == FeatureKind::width) return m(at[0], at[1]);
  if (s.kind == FeatureKind::diagonal) return m(at[0] + 0.3 * (to[0] - at[0]), at[1] + 0.3 * (to[1] - at[1]));
  if (s.kind == FeatureKind::spacing)
    return s.axis == Axis::x ? m(at[0] + 0.5 * (to[0] - at[0]), at[1]) : m(at[0], at[1] + 0.5 * (to[1] - at[1]));
  // The two sizes of one place stand apart, each on its own dimension line.
  const double aside = std::max(s.nominal_mm * 0.22, letter_px / m.scale);
  return s.axis == Axis::x ? m(at[0] - aside, at[1] - aside) : m(at[0] + aside, at[1] + aside);
}

/// What heads leave has no width: a square's four lines, a cross at either end of what else is measured.
void PartDrawing::paint_lines(QPainter& p, const Map& m, const CutSize& s) const {
  const bool square = is_across(s.kind);
  const auto colour = [&](bool first) {
    return QPen(first || s.head.empty() ? theme().teal : theme().ochre, square ? 1.5 : 2);
  };
  const QPointF at = m((*s.at_mm)[0], (*s.at_mm)[1]);
  if (square) {
    const double half = s.nominal_mm * m.scale / 2;
    p.setPen(colour(true));
    p.drawRect(QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half));
    return;
  }
  if (s.kind == FeatureKind::width || s.kind == FeatureKind::depth) {
    const double half = engraved_arm_mm * m.scale;
    p.setPen(colour(true));
    p.drawLine(at - QPointF(half, 0), at + QPointF(half, 0));  // both are read across a line along X
    return;
  }
  const double arm = is_engraved(sheet_) ? engraved_arm_mm * m.scale : std::max(4.0, 10 * m.scale);
  const auto cross = [&](QPointF middle) {
    p.drawLine(middle - QPointF(arm, 0), middle + QPointF(arm, 0));
    p.drawLine(middle - QPointF(0, arm), middle + QPointF(0, arm));
  };
  if (s.kind == FeatureKind::gap) {
    p.setPen(colour(false));
    p.drawLine(at - QPointF(25 * m.scale, 0), at + QPointF(25 * m.scale, 0));
  } else if (s.kind == FeatureKind::beside) {
    p.setPen(colour(false));
    if (s.other_mm) cross(m((*s.other_mm)[0], (*s.other_mm)[1]));
  } else {
    p.setPen(colour(true));
    cross(at);
    if (s.other_mm) cross(m((*s.other_mm)[0], (*s.other_mm)[1]));
  }
}

void PartDrawing::paint_part(Draft& draft, const Map& m) const {
  QPainter& p = draft.painter();
  if (sheet_.stock_width_mm > 0) {
    const QPointF back = m(sheet_.stock_width_mm, sheet_.stock_height_mm), front = m(0, 0);
    draft.box(
        QRectF(QPointF(front.x(), std::max(back.y(), 4.0)), QPointF(std::min(back.x(), width() - column()), front.y())),
        theme().rule, theme().stock);
  }
  const double d = sheet_.tool_diameter_mm;
  const auto shape = [&](QPointF middle, double w, double h, const QColor& fill) {
    const QRectF box(middle.x() - w * m.scale / 2, middle.y() - h * m.scale / 2, w * m.scale, h * m.scale);
    p.setPen(QPen(theme().ink, 1));
    p.setBrush(fill);
    is_round(sheet_) ? p.drawEllipse(box) : p.drawRect(box);
    p.setBrush(Qt::NoBrush);
  };
  const auto cut_line = [&](QPointF a, QPointF b) {
    p.setPen(QPen(theme().cut_deep, std::max(2.0, d * m.scale), Qt::SolidLine, Qt::RoundCap));
    p.drawLine(a, b);
  };
  for (const CutSize& s : sheet_.sizes) {
    if (!s.at_mm) continue;
    const QPointF at = m((*s.at_mm)[0], (*s.at_mm)[1]);
    const QPointF to = s.other_mm ? m((*s.other_mm)[0], (*s.other_mm)[1]) : at;
    if (made_of_lines(sheet_)) {
      paint_lines(p, m, s);
      continue;
    }
    const double other = across(sheet_, s), w = s.axis == Axis::y ? other : s.nominal_mm,
                 h = s.axis == Axis::y ? s.nominal_mm : other;
    if (s.kind == FeatureKind::inside) {
      shape(at, w, h, theme().cut);
    } else if (s.kind == FeatureKind::outside) {
      shape(at, w + 2 * d, h + 2 * d, theme().cut);
      shape(at, w, h, theme().stock);
    } else if (s.kind == FeatureKind::depth) {
      shape(at, 2 * d + 2, 2 * d + 2, theme().cut_deep);
    } else if (s.kind == FeatureKind::diagonal) {
      cut_line(at, at);
      cut_line(to, to);
    } else if (sheet_.coupon == "lines" || sheet_.coupon.empty()) {
      const double half_mm = sheet_.coupon.empty() ? std::max(4.0, s.nominal_mm / 6) : 10;
      const QPointF along = s.axis == Axis::x ? QPointF(0, half_mm * m.scale) : QPointF(half_mm * m.scale, 0);
      cut_line(at - along, at + along);
      cut_line(to - along, to + along);
    }
  }
}

void PartDrawing::paint_size(Draft& draft, const Map& m, std::size_t i) const {
  const CutSize& s = sheet_.sizes[i];
  if (!s.at_mm) return;
  const bool chosen = fields_[i]->hasFocus();
  const QColor line = chosen ? theme().teal : theme().second_ink;
  const QPointF at = anchor(m, i);
  if (s.kind != FeatureKind::depth && s.kind != FeatureKind::width) {
    QPointF a, b;
    if (is_across(s.kind)) {
      const double half = s.nominal_mm * m.scale / 2;
      const QPointF middle = m((*s.at_mm)[0], (*s.at_mm)[1]);
      a = s.axis == Axis::x ? QPointF(middle.x() - half, at.y()) : QPointF(at.x(), middle.y() + half);
      b = s.axis == Axis::x ? QPointF(middle.x() + half, at.y()) : QPointF(at.x(), middle.y() - half);
    } else {
      const auto& to = s.other_mm ? *s.other_mm : *s.at_mm;
      a = m((*s.at_mm)[0], (*s.at_mm)[1]);
      b = s.kind == FeatureKind::diagonal ? m(to[0], to[1])
          : s.axis == Axis::x             ? QPointF(m(to[0], to[1]).x(), a.y())
                                          : QPointF(a.x(), m(to[0], to[1]).y());
    }
    draft.line(a, b, line, chosen ? 2 : 1);
    draft.arrow_head(a, a - b, line, 6);
    draft.arrow_head(b, b - a, line, 6);
    if (deviations_[i] && is_across(s.kind)) {
      // Both ends of the size, where they would be with the deviation so many times as large.
      const double off = *deviations_[i] * exaggeration_ * m.scale / 2;
      const QPointF along = s.axis == Axis::x ? QPointF(off, 0) : QPointF(0, -off),
                    tick = s.axis == Axis::x ? QPointF(0, 6) : QPointF(6, 0);
      for (const QPointF end : {a - along, b + along}) draft.line(end - tick, end + tick, theme().ochre, 2);
    }
  }
  if (chosen) {
    const QRectF& box = slots_of_[i].box;
    draft.line(
        QPointF(slots_of_[i].left ? box.left() + 22 + field_px : box.left() + 22, fields_[i]->geometry().center().y()),
        at, theme().teal);
  }
  QPainter& p = draft.painter();
  p.setPen(QPen(line, 1));
  p.setBrush(theme().sheet);
  p.drawEllipse(at, 8, 8);
  p.setBrush(Qt::NoBrush);
  draft.text(at + QPointF(0, 4), to_q(s.name), chosen ? theme().teal : theme().ink, 11, true, Qt::AlignHCenter);
}

void PartDrawing::paint_words(Draft& draft, std::size_t i) const {
  const CutSize& s = sheet_.sizes[i];
  const QRectF& box = slots_of_[i].box;
  const QRectF field = fields_[i]->geometry();
  draft.text({box.left() + 4, field.center().y() + 5}, to_q(s.name), theme().ink, 13, true);
  if (box.height() >= roomy_px)
    draft.text({box.left() + 22, field.top() - 4},
               narrow() ? to_q(format_length(s.nominal_mm, unit_, 2))
                        : tr("%1 %2").arg(size_words(s), to_q(format_length(s.nominal_mm, unit_, 2))),
               theme().second_ink, 11);
  if (narrow()) return;
  if (!deviations_[i]) {
    if (box.height() < roomy_px)
      draft.text({field.right() + 6, field.center().y() + 5}, to_q(format_length(s.nominal_mm, unit_, 2)),
                 theme().second_ink, 11);
    return;
  }
  const bool unexplained = residuals_[i] && std::fabs(*residuals_[i]) > unexplained_mm;
  draft.text({field.right() + 6, field.center().y() + 5},
             to_q(format_signed(in_unit(*deviations_[i], unit_), unit_ == LengthUnit::inch ? 4 : 2)) +
                 (unexplained ? " ◐" : ""),
             unexplained ? theme().ochre : theme().teal, 12, true);
}

void PartDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  if (sheet_.sizes.empty()) return;
  const Map m = map();
  paint_part(draft, m);
  for (std::size_t i = 0; i < sheet_.sizes.size(); ++i) {
    paint_size(draft, m, i);
    paint_words(draft, i);
  }
  if (exaggeration_ > 1)
    draft.text({width() / 2.0, height() - 5.0}, tr("Ochre: as measured, off %1 times as much").arg(exaggeration_),
               theme().second_ink, 11, false, Qt::AlignHCenter);
}

}  // namespace ypsi::app
