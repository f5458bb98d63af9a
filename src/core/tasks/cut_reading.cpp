#include "core/tasks/cut_reading.h"

#include <algorithm>
#include <cmath>

#include "core/book/record.h"
#include "core/book/worksheets/cut.h"
#include "core/calibration/first_cut.h"
#include "core/calibration/squareness.h"
#include "core/procedures/machine_link.h"
#include "core/program/coupon.h"
#include "core/tasks/budget.h"
#include "core/tasks/cut_heads.h"
#include "core/tasks/engraved_cut.h"
#include "core/tasks/heads.h"
#include "core/tasks/known_scale.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/measure_cut.h"
#include "core/tasks/standing.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/work_zero.h"

namespace ypsi {
namespace {

CutCause cause_of(const CutEstimate& e, const Job& job, bool by_heads) {
  CutCause cause{.kind = CutCauseKind::cutter,
                 .value = e.value,
                 .u = e.u,
                 .U = e.U,
                 .significant = e.significant,
                 .effect = std::fabs(e.value)};
  const auto scale = [&](Axis axis, double length) {
    cause.kind = CutCauseKind::steps;
    cause.axis = axis;
    cause.effect = std::fabs(e.value) * length;
  };
  switch (e.quantity) {
    case CutQuantity::scale_x:
      scale(Axis::x, job.part_width);
      break;
    case CutQuantity::scale_y:
      scale(Axis::y, job.part_height);
      break;
    case CutQuantity::scale_z:
      scale(Axis::z, std::max(job.stock_size[2], 1.0));
      break;
    case CutQuantity::lost_motion_x:
      cause.kind = CutCauseKind::lost_motion;
      cause.axis = Axis::x;
      break;
    case CutQuantity::lost_motion_y:
      cause.kind = CutCauseKind::lost_motion;
      cause.axis = Axis::y;
      break;
    case CutQuantity::z_zero:
      cause.kind = CutCauseKind::z_zero;
      break;
    case CutQuantity::tool_diameter:
      if (!by_heads) break;
      cause.kind = CutCauseKind::blade;  // a line to the left of its way is half a width on each side of a size
      cause.value /= 2;
      cause.u /= 2;
      cause.U /= 2;
      break;
  }
  return cause;
}

/// The lean from the diagonals between drilled holes, measured over their outer edges.
std::optional<CutCause> lean_of(const Book& book, const Instrument& instrument) {
  SquareInput in;
  in.instrument = instrument;
  const double hole = book.worksheets[cut_worksheet].tool_diameter_mm;  // crosses of heads have no width
  for (const CutSize& s : book.worksheets[cut_worksheet].sizes) {
    if (s.kind != FeatureKind::diagonal || !s.measured_mm || !s.at_mm || !s.other_mm) continue;
    const std::size_t from = in.points.size();
    in.points.push_back({s.name + "1", {(*s.at_mm)[0], (*s.at_mm)[1]}});
    in.points.push_back({s.name + "2", {(*s.other_mm)[0], (*s.other_mm)[1]}});
    in.distances.push_back({from, from + 1, *s.measured_mm, hole > 0 ? HoleEdge::outer : HoleEdge::center, hole});
  }
  if (in.distances.size() < 2) return std::nullopt;
  const auto found = fit_square(in);
  if (!found || !found->fit) return std::nullopt;
  const SquareFit& fit = *found->fit;
  return CutCause{.kind = CutCauseKind::lean,
                  .value = fit.skew,
                  .u = fit.u_skew,
                  .U = fit.U_skew,
                  .significant = std::fabs(fit.skew) > fit.U_skew,
                  .effect = std::fabs(std::tan(fit.skew)) * book.job.part_height};
}

}  // namespace

bool cut_by_heads(const CutWorksheet& sheet) {
  return sheet.coupon == name(CouponKind::heads);
}

std::optional<CutFeature> as_laid(const CutSize& s, const WorkZero& zero) {
  if (!s.at_mm) return std::nullopt;
  const auto place = [&](const std::array<double, 3>& at) {
    return to_machine(WorkPosition{at[0], at[1], at[2]}, zero);
  };
  return CutFeature{static_cast<CutFeature::Kind>(s.kind), s.axis, place(*s.at_mm),
                    place(s.other_mm.value_or(*s.at_mm)), s.nominal_mm};
}

std::optional<Known> known_lost_motion(const Book& book, Axis axis) {
  const auto standing = standing_of(book, lost_motion_id, axis);
  if (standing.standing != Standing::current || !standing.entry) return std::nullopt;
  // What this very cut was read to say is no second witness to it.
  if (book.history[*standing.entry].readings == cut_readings(book.worksheets[cut_worksheet])) return std::nullopt;
  const auto found = finding_of<LostMotionEntry>(book.history[*standing.entry]);
  constexpr double usual_coverage = 2;  // of records that tell no k
  if (!found.lost_motion || !found.U || !(*found.U > 0)) return std::nullopt;
  return Known{*found.lost_motion, *found.U / found.k.value_or(usual_coverage)};
}

namespace {

/// As Z is left, by the newest finding of its steps per unit that holds and is no reading of this very cut.
std::optional<Known> known_scale_of_z(const Book& book) {
  const auto standing = standing_of(book, steps_per_unit_id, Axis::z);
  if (standing.standing != Standing::current || !standing.entry) return std::nullopt;
  const Entry& entry = book.history[*standing.entry];
  if (entry.readings == cut_readings(book.worksheets[cut_worksheet])) return std::nullopt;
  const auto known = known_scale(entry, book.machine.axis(Axis::z).steps_per_mm);
  if (!known || !known->left || !(known->U > 0)) return std::nullopt;
  return known_of(*known->left, known->U);
}

}  // namespace

Result<CutReading> read_cut(const Book& book) {
  const CutWorksheet& sheet = book.worksheets[cut_worksheet];
  const Instrument* instrument = book.instrument(sheet.instrument);
  if (!instrument)
    return fail("no_instrument", "The book has no such instrument; choose one of those on the sheet Build.");
  FirstCutInput in;
  in.tool_diameter = sheet.tool_diameter_mm;
  in.instrument = *instrument;
  std::vector<std::size_t> of_feature;
  CutReading out;
  out.deviations.resize(sheet.sizes.size());
  out.residuals.resize(sheet.sizes.size());
  for (std::size_t i = 0; i < sheet.sizes.size(); ++i) {
    const CutSize& s = sheet.sizes[i];
    if (!s.measured_mm) continue;
    out.deviations[i] = *s.measured_mm - s.nominal_mm;
    if (!tells_a_size(s.kind) || (s.kind == FeatureKind::depth && is_engraved(sheet))) continue;
    // Where the top beside it is known and the cutter did not reach, that is all it says.
    if (s.kind == FeatureKind::depth && s.top_mm && *s.measured_mm == 0) continue;
    in.features.push_back({s.kind, s.axis, s.nominal_mm, *s.measured_mm, s.top_mm.value_or(0)});
    of_feature.push_back(i);
  }
  const auto lean = lean_of(book, *instrument);
  const bool heads = std::any_of(sheet.sizes.begin(), sheet.sizes.end(),
                                 [](const CutSize& s) { return !s.head.empty() && s.measured_mm; });
  const auto engraved = read_engraving(book);
  if (!engraved) return tl::make_unexpected(engraved.error());
  if (in.features.empty() && !lean && !heads && engraved->causes.empty())
    return fail("too_few", "No size is measured yet; type what the part measures.");
  if (!in.features.empty()) {
    for (const Axis a : {Axis::x, Axis::y}) in.lost_motion[index(a)] = known_lost_motion(book, a);
    for (const Axis a : all_axes) in.periodic[index(a)] = periodic_error_of(book, a).amplitude.value_or(0);
    in.scale_z = known_scale_of_z(book);
    const auto sizes = read_first_cut(in);
    if (!sizes) return tl::make_unexpected(sizes.error());
    out.sizes = *sizes;
    for (std::size_t i = 0; i < of_feature.size(); ++i) out.residuals[of_feature[i]] = sizes->residuals[i];
    for (const CutEstimate& e : sizes->estimates) out.causes.push_back(cause_of(e, book.job, cut_by_heads(sheet)));
  }
  if (lean) out.causes.push_back(*lean);
  const auto of_heads = head_causes(book, out.sizes);
  for (std::size_t i = 0; i < sheet.sizes.size(); ++i)
    if (const CutSize& s = sheet.sizes[i]; !s.head.empty()) out.residuals[i] = head_residual(s, out.sizes, of_heads);
  out.causes.insert(out.causes.end(), of_heads.begin(), of_heads.end());
  for (std::size_t i = 0; i < sheet.sizes.size(); ++i)
    if (engraved->residuals[i]) out.residuals[i] = engraved->residuals[i];
  out.causes.insert(out.causes.end(), engraved->causes.begin(), engraved->causes.end());
  std::stable_sort(out.causes.begin(), out.causes.end(), [](const CutCause& a, const CutCause& b) {
    return a.significant != b.significant ? a.significant : a.effect > b.effect;
  });
  return out;
}

RecordJson cut_readings(const CutWorksheet& sheet) {
  nlohmann::json all = nlohmann::json::array();
  for (const CutSize& s : sheet.sizes) {
    if (!s.measured_mm) continue;
    all.push_back({{"size", s.name},
                   {"kind", name(s.kind)},
                   {"axis", std::string(1, letter(s.axis))},
                   {"nominal_mm", s.nominal_mm},
                   {"measured_mm", *s.measured_mm}});
    if (s.top_mm) all.back()["top_mm"] = *s.top_mm;
    if (!s.head.empty()) all.back()["head"] = s.head;
  }
  return RecordJson(std::move(all));
}

nlohmann::json cut_result(const Book& book, const CutReading& reading) {
  nlohmann::json out{{"tool", book.worksheets[cut_worksheet].tool}};
  double worst = 0;
  for (const auto& d : reading.deviations) worst = d ? std::max(worst, std::fabs(*d)) : worst;
  out["largest_deviation_mm"] = worst;
  if (reading.sizes) out["k"] = reading.sizes->coverage.k;
  for (const CutCause& c : reading.causes) {
    const std::string of = c.axis ? std::string("_") + axis_key(*c.axis) : std::string();
    const auto put = [&](const std::string& key, double value, double U) {
      out[key] = value;
      out["U_" + key] = U;
    };
    switch (c.kind) {
      case CutCauseKind::steps:
        put("scale" + of + "_percent", c.value * 100, c.U * 100);
        break;
      case CutCauseKind::cutter:
        put("tool_diameter_mm", book.worksheets[cut_worksheet].tool_diameter_mm + c.value, c.U);
        break;
      case CutCauseKind::lost_motion:
        put("lost_motion" + of + "_mm", c.value, c.U);
        break;
      case CutCauseKind::z_zero:
        put("z_zero_mm", c.value, c.U);
        break;
      case CutCauseKind::lean:
        put("skew_mrad", c.value * 1000, c.U * 1000);
        break;
      case CutCauseKind::blade:
        put("blade_left_mm", c.value, c.U);
        break;
      case CutCauseKind::head_place:
        out["heads"][c.head].update({{"off_x_mm", c.off_x}, {"off_y_mm", c.off_y}, {"U_off_mm", c.U}});
        break;
      case CutCauseKind::nose:
        put("too_deep_mm", c.value, c.U);
        break;
      case CutCauseKind::plate_lie:
        out.update({{"deeper_right_mm", c.off_x}, {"deeper_back_mm", c.off_y}, {"U_deeper_mm", c.U}});
        break;
      case CutCauseKind::tip:
        put("tip_wider_mm", c.value, c.U);
        break;
      case CutCauseKind::trailing:
        out["heads"][c.head].update({{"trails_more_mm", c.value}, {"U_trails_more_mm", c.U}});
        break;
    }
  }
  return out;
}

bool already_applied(const Book& book, const CutCause& cause) {
  const std::string axis = cause.axis ? std::string(1, letter(*cause.axis)) : std::string();
  std::optional<std::size_t> last;
  switch (cause.kind) {
    case CutCauseKind::steps:
      last = newest(book, steps_per_unit_id, axis);
      break;
    case CutCauseKind::cutter:
      last = newest(book, measure_cut_id, "T" + std::to_string(book.worksheets[cut_worksheet].tool));
      break;
    case CutCauseKind::lost_motion:
      last = newest(book, lost_motion_id, axis);
      break;
    case CutCauseKind::z_zero:
      last = newest(book, work_zero_id, "Z");
      break;
    case CutCauseKind::head_place:
      last = newest(book, heads_id, head_subject(cause.head, HeadMeasure::place));
      break;
    case CutCauseKind::trailing:
      last = newest(book, heads_id, head_subject(cause.head, HeadMeasure::trailing));
      break;
    case CutCauseKind::nose:
    case CutCauseKind::tip:
      last = newest_correction(book, cause);
      break;
    case CutCauseKind::lean:
    case CutCauseKind::blade:
    case CutCauseKind::plate_lie:
      return false;
  }
  if (!last || book.history[*last].readings != cut_readings(book.worksheets[cut_worksheet])) return false;
  return cause.kind != CutCauseKind::cutter || book.history[*last].as_left != book.history[*last].as_found;
}

void correct_cutter(Book& book, const CutCause& cause, Entry entry, const CutReading& reading) {
  for (Tool& tool : book.tools) {
    if (tool.number != book.worksheets[cut_worksheet].tool) continue;
    const std::string key = "tool." + std::to_string(tool.number) + ".diameter_mm";
    entry.result = cut_result(book, reading);
    entry.as_found = {{key, tool.diameter}};
    tool.diameter = book.worksheets[cut_worksheet].tool_diameter_mm + cause.value;
    tool.diameter_reason = "first cut of " + entry.time.substr(0, 10);
    entry.as_left = {{key, tool.diameter}};
    book.history.push_back(std::move(entry));
    return;
  }
}

}  // namespace ypsi
