#include "core/tasks/engraved_cut.h"

#include <algorithm>
#include <cmath>

#include "core/book/record.h"
#include "core/book/worksheets/trials.h"
#include "core/calibration/depth_plane.h"
#include "core/program/tool_shape.h"
#include "core/tasks/engraving.h"
#include "core/tasks/measure_cut.h"

namespace ypsi {
namespace {

constexpr double nearly_mm = 1e-3;
constexpr double of_two = 2.2414 / 1.9600;  // by chance one of two is beyond it as rarely as one is beyond its U

/// By how much deeper a line is told for each mm that it is read wider, at this depth.
double depth_per_width(const Tool& tool, double depth) {
  const double wide = radius_at(tool, depth + nearly_mm) - radius_at(tool, std::max(0.0, depth - nearly_mm));
  const double deep = depth + nearly_mm - std::max(0.0, depth - nearly_mm);
  return wide > 0 ? deep / (2 * wide) : 0;
}

std::string tip_key(const Tool& tool) {
  return "tool." + std::to_string(tool.number) + ".tip_mm";
}

CutCause cause(CutCauseKind kind, double value, double u, double k) {
  CutCause c{.kind = kind, .value = value, .u = u, .U = k * u};
  c.significant = std::fabs(value) > c.U;
  c.effect = std::fabs(value);
  return c;
}

std::string subject_of(const Book& book) {
  const CutWorksheet& sheet = book.worksheets[cut_worksheet];
  const Head* head = trial_head(book);
  return engraving_subject(sheet.material, head ? head->name : "", sheet.tool);
}

}  // namespace

Result<EngravedReading> read_engraving(const Book& book) {
  const CutWorksheet& sheet = book.worksheets[cut_worksheet];
  EngravedReading out;
  out.residuals.resize(sheet.sizes.size());
  if (!is_engraved(sheet)) return out;
  const Tool* tool = book.tool(sheet.tool);
  std::vector<DepthTold> told;
  std::vector<std::size_t> of_size;
  const Instrument* instrument = nullptr;
  for (std::size_t i = 0; i < sheet.sizes.size(); ++i) {
    const CutSize& s = sheet.sizes[i];
    if (!s.measured_mm || !s.at_mm || (s.kind != FeatureKind::width && s.kind != FeatureKind::depth)) continue;
    instrument = book.instrument(instrument_for(sheet, s));
    if (!instrument)
      return fail("no_instrument", "The book has no such instrument; choose one of those on the sheet Build.");
    DepthTold t{.x = (*s.at_mm)[0], .y = (*s.at_mm)[1], .too_deep = *s.measured_mm - sheet.depth_mm};
    if (s.kind == FeatureKind::width) {
      if (!tool || is_flat(*tool))
        return fail("no_shape", "A width tells the depth of a pointed tool alone: give it its angle and tip on Tools.");
      const double depth = height_at(*tool, *s.measured_mm / 2);
      t.too_deep = depth - sheet.depth_mm;
      t.per_width = depth_per_width(*tool, depth);
    }
    told.push_back(t);
    of_size.push_back(i);
  }
  if (told.empty()) return out;
  const auto plane = fit_depth_plane(told, *instrument);
  if (!plane) return tl::make_unexpected(plane.error());
  const double k = plane->coverage.k;
  // A nose rides on the plate: what is too deep is its dial's, not Z zero's.
  const CutCauseKind whose = sheet.set_to ? CutCauseKind::nose : CutCauseKind::z_zero;
  out.causes.push_back(cause(whose, plane->middle.value, plane->middle.u, k));
  if (plane->along_x && plane->along_y) {
    const double w = sheet.stock_width_mm, h = sheet.stock_height_mm;
    CutCause c{.kind = CutCauseKind::plate_lie};
    c.off_x = plane->along_x->value * w;
    c.off_y = plane->along_y->value * h;
    c.u = std::max(plane->along_x->u * w, plane->along_y->u * h);
    c.U = k * c.u;
    c.value = c.effect = std::fabs(c.off_x) + std::fabs(c.off_y);
    c.significant = std::fabs(c.off_x) > of_two * k * plane->along_x->u * w ||
                    std::fabs(c.off_y) > of_two * k * plane->along_y->u * h;
    out.causes.push_back(std::move(c));
  }
  if (plane->wider_tip && tool && tool->angle > 0)
    out.causes.push_back(cause(CutCauseKind::tip, plane->wider_tip->value, plane->wider_tip->u, k));
  for (std::size_t i = 0; i < told.size(); ++i)
    out.residuals[of_size[i]] = plane->residuals[i] / told[i].per_width.value_or(1);
  return out;
}

void correct_tip(Book& book, const CutCause& cause, Entry entry) {
  for (Tool& tool : book.tools) {
    if (tool.number != book.worksheets[cut_worksheet].tool) continue;
    MeasuredEntry found{.tool = tool.number};
    entry.as_found = {{tip_key(tool), tool.tip}};
    tool.tip = std::max(0.0, tool.tip + cause.value);
    entry.as_left = {{tip_key(tool), tool.tip}};
    found.tip = tool.tip;
    found.U_tip = cause.U;
    if (cause.u > 0) found.k = cause.U / cause.u;
    entry.result = result_of(found);
    book.history.push_back(std::move(entry));
    return;
  }
}

void correct_depth_setting(Book& book, const CutCause& cause, Entry entry) {
  const CutWorksheet& sheet = book.worksheets[cut_worksheet];
  if (!sheet.set_to) return;
  entry.subject = subject_of(book);
  correct_engraving(book, {sheet.material, sheet.tool, *sheet.set_to, sheet.depth_mm}, cause.value, cause.U,
                    std::move(entry));
}

std::optional<std::size_t> newest_correction(const Book& book, const CutCause& cause) {
  if (cause.kind == CutCauseKind::nose) return newest(book, trials_id, subject_of(book));
  const int number = book.worksheets[cut_worksheet].tool;
  const auto at = newest(book, measure_cut_id, "T" + std::to_string(number));
  const Tool* tool = book.tool(number);
  return at && tool && book.history[*at].as_left.get().contains(tip_key(*tool)) ? at : std::nullopt;
}

}  // namespace ypsi
