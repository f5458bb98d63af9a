#include "core/book/budget.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/book/json_number.h"
#include "core/book/known_scale.h"
#include "core/book/standing.h"

namespace ypsi {
namespace {

/// Error of an axis over `length` mm: what the fit could not tell, and what it told and was not corrected.
std::optional<double> scale_error(const Entry& entry, double steps_now, double length) {
  const auto known = known_scale(entry, steps_now);
  if (!known || !known->left) return std::nullopt;
  return length * ((*known->left > known->U ? *known->left : 0) + known->U);
}

/// What a cutter is off by, from a first cut that told its diameter: found and not corrected, or what could not be
/// told.
std::optional<double> cutter_error(const Entry& entry, const Tool& tool) {
  const auto diameter = number_in(entry.result, "tool_diameter_mm"),
             expanded = number_in(entry.result, "U_tool_diameter_mm");
  if (!diameter || !expanded) return std::nullopt;
  const double left = std::fabs(tool.diameter - *diameter);
  return (left > *expanded ? left : 0) + *expanded;
}

}  // namespace

const char* sheet_of(BudgetKind kind) {
  switch (kind) {
    case BudgetKind::squareness:
      return "squareness";
    case BudgetKind::lost_motion:
      return "lost_motion";
    case BudgetKind::scale:
      return "steps_per_unit";
    case BudgetKind::cutter:
      return "measure_cut";
    case BudgetKind::homing:
      return "homing";
    case BudgetKind::bed:
      break;
  }
  return "bed_spindle";
}

Budget error_budget(const Book& book, int tool_number) {
  Budget budget;
  const Standings standings(book);
  const double extent[] = {book.job.part_width, book.job.part_height};
  const auto add = [&](BudgetKind kind, std::optional<Axis> axis, auto&& value_of) {
    const char* sheet = sheet_of(kind);
    BudgetPart part{kind, axis, std::nullopt, newest(book, sheet, axis ? std::string(1, letter(*axis)) : "")};
    if (part.entry) part.stale = standings.of(sheet, axis).standing == Standing::out_of_date;
    if (part.entry) part.mm = value_of(book.history[*part.entry]);
    budget.parts.push_back(part);
  };

  add(BudgetKind::squareness, std::nullopt, [&](const Entry& e) -> std::optional<double> {
    const auto skew = number_in(e.result, "skew_mrad");
    if (!skew) return std::nullopt;
    return std::fabs(std::tan(*skew / 1000)) * book.job.part_height +
           number_in(e.result, "U_skew_mrad").value_or(0) / 1000 * book.job.part_height;
  });
  for (const Axis a : {Axis::x, Axis::y}) {
    add(BudgetKind::scale, a,
        [&](const Entry& e) { return scale_error(e, book.machine.axis(a).steps_per_mm, extent[index(a)]); });
    add(BudgetKind::lost_motion, a, [&](const Entry& e) -> std::optional<double> {
      const auto lost = number_in(e.result, "lost_motion_mm");
      if (!lost) return std::nullopt;
      return std::fabs(*lost) + number_in(e.result, "U_lost_motion_mm").value_or(0);
    });
  }
  if (const Tool* tool = tool_number > 0      ? book.tool(tool_number)
                         : book.tools.empty() ? nullptr
                                              : &book.tools.front()) {
    BudgetPart part{BudgetKind::cutter, std::nullopt, std::nullopt,
                    newest(book, sheet_of(BudgetKind::cutter), fmt::format("T{}", tool->number)), tool->number};
    if (part.entry) part.mm = cutter_error(book.history[*part.entry], *tool);
    budget.parts.push_back(part);
  }
  add(BudgetKind::homing, std::nullopt, [](const Entry& e) -> std::optional<double> {
    const auto s = number_in(e.result, "s_mm");
    if (!s) return std::nullopt;
    return 2 * *s;
  });
  // Told axis by axis, the one that homes worst counts, not the one that was tried last.
  if (BudgetPart& homing = budget.parts.back(); homing.entry && !book.history[*homing.entry].subject.empty())
    for (const Axis a : all_axes) {
      const auto entry = newest(book, "homing", std::string(1, letter(a)));
      const auto s = entry ? number_in(book.history[*entry].result, "s_mm") : std::nullopt;
      if (!s || (homing.mm && 2 * *s <= *homing.mm)) continue;
      homing.mm = 2 * *s;
      homing.entry = entry;
    }
  add(BudgetKind::bed, std::nullopt, [](const Entry& e) { return number_in(e.result, "ridge_mm"); });

  double squares = 0;
  for (const auto& part : budget.parts) {
    if (!part.mm) continue;
    budget.any_known = true;
    if (part.kind == BudgetKind::squareness) {
      budget.square_mm = part.mm;
    } else {
      squares += *part.mm * *part.mm;
      budget.worst_mm += *part.mm;
    }
  }
  budget.size_mm = std::sqrt(squares);
  std::stable_sort(budget.parts.begin(), budget.parts.end(),
                   [](const BudgetPart& a, const BudgetPart& b) { return a.mm.value_or(-1) > b.mm.value_or(-1); });
  return budget;
}

}  // namespace ypsi
