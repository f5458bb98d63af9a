#include "core/tasks/cut_heads.h"

#include <algorithm>
#include <cmath>

#include "core/book/worksheets/cut.h"
#include "core/calibration/first_cut.h"
#include "core/metrology/coverage.h"
#include "core/tasks/heads.h"

namespace ypsi {
namespace {

constexpr double unknown_scale_u = 0.005, unknown_lost_u_mm = 0.1;

/// What the sizes of the cut say; where they do not, `otherwise`.
Known told(const std::optional<FirstCutResult>& sizes, CutQuantity quantity, Known otherwise) {
  if (sizes)
    for (const CutEstimate& e : sizes->estimates)
      if (e.quantity == quantity) return {e.value, e.u};
  return otherwise;
}

Known scale_of(const std::optional<FirstCutResult>& sizes, Axis axis) {
  return told(sizes, axis == Axis::y ? CutQuantity::scale_y : CutQuantity::scale_x, {0, unknown_scale_u});
}

Known lost_in(const Book& book, const std::optional<FirstCutResult>& sizes) {
  return told(sizes, CutQuantity::lost_motion_x,
              known_lost_motion(book, Axis::x).value_or(Known{0, unknown_lost_u_mm}));
}

/// The way that the other line lies from the first's: +1 or -1.
double way(const CutSize& s) {
  if (!s.at_mm || !s.other_mm) return 1;
  return (*s.other_mm)[index(s.axis)] < (*s.at_mm)[index(s.axis)] ? -1 : 1;
}

/// How far the other head's line lies towards + of where it was meant.
Known line_off(const CutSize& s, const Known& scale, const Instrument& instrument) {
  return {way(s) * (*s.measured_mm - s.nominal_mm * (1 + scale.value)),
          std::hypot(instrument.u_mm(s.nominal_mm), s.nominal_mm * scale.u)};
}

bool is_measured(const CutSize& s, FeatureKind kind, const std::string& head) {
  return s.kind == kind && s.head == head && s.measured_mm.has_value();
}

}  // namespace

std::vector<CutCause> head_causes(const Book& book, const std::optional<FirstCutResult>& sizes) {
  std::vector<CutCause> causes;
  const auto& all = book.worksheets[cut_worksheet].sizes;
  const auto instrument_of = [&](const CutSize& s) {
    return book.instrument(instrument_for(book.worksheets[cut_worksheet], s));
  };
  const double k = t95(claim_degrees_of_freedom);
  for (const Head& head : book.machine.heads) {
    std::array<std::optional<Known>, 2> off;  // the first along each axis is its cross
    for (const CutSize& s : all)
      if (const Instrument* instrument = instrument_of(s);
          instrument && s.axis != Axis::z && is_measured(s, FeatureKind::beside, head.name) && !off[index(s.axis)])
        off[index(s.axis)] = line_off(s, scale_of(sizes, s.axis), *instrument);
    if (off[0] && off[1]) {
      CutCause c{.kind = CutCauseKind::head_place, .value = std::hypot(off[0]->value, off[1]->value)};
      c.head = head.name;
      c.off_x = off[0]->value;
      c.off_y = off[1]->value;
      c.u = std::max(off[0]->u, off[1]->u);
      c.U = k * c.u;
      c.significant = std::fabs(c.off_x) > c.U || std::fabs(c.off_y) > c.U;
      c.effect = c.value;
      causes.push_back(std::move(c));
    }
    for (const CutSize& s : all) {
      const Instrument* instrument = instrument_of(s);
      if (!instrument || !is_measured(s, FeatureKind::gap, head.name)) continue;
      const MeasuredLength found = trailing_offset(*s.measured_mm - s.nominal_mm, lost_in(book, sizes), *instrument);
      CutCause c{.kind = CutCauseKind::trailing, .value = found.value, .u = found.U / found.k, .U = found.U};
      c.head = head.name;
      c.significant = std::fabs(c.value) > c.U;
      c.effect = std::fabs(c.value);
      causes.push_back(std::move(c));
      break;
    }
  }
  return causes;
}

std::optional<double> head_residual(const CutSize& s, const std::optional<FirstCutResult>& sizes,
                                    const std::vector<CutCause>& causes) {
  if (!s.measured_mm) return std::nullopt;
  for (const CutCause& c : causes) {
    if (c.head != s.head) continue;
    if (s.kind == FeatureKind::beside && c.kind == CutCauseKind::head_place)
      return way(s) * (*s.measured_mm - s.nominal_mm * (1 + scale_of(sizes, s.axis).value)) -
             (s.axis == Axis::y ? c.off_y : c.off_x);
  }
  return std::nullopt;
}

void correct_head(Book& book, const CutCause& cause, Entry entry) {
  const double k = cause.u > 0 ? cause.U / cause.u : 0;
  const CutWorksheet& sheet = book.worksheets[cut_worksheet];
  for (const CutSize& s : sheet.sizes)
    if (s.head == cause.head) {
      entry.instrument = instrument_for(sheet, s);  // its cross stands before its fold
      break;
    }
  if (cause.kind == CutCauseKind::head_place)
    correct_head_place(book, cause.head, {cause.off_x, cause.off_y}, cause.U, k, std::move(entry));
  else
    correct_trailing(book, cause.head, cause.value, cause.U, k, std::move(entry));
}

}  // namespace ypsi
