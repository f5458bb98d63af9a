#include "core/tasks/budget.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/normal.h"
#include "core/tasks/standing.h"

namespace ypsi {
namespace {

/// What the record tells of a part, nothing added to it.
PartInput part_input(const Book& book, int tool, const Tasks& tasks) {
  PartInput input;
  if (book.job.part_width > 0) input.axes[0].length = book.job.part_width;
  if (book.job.part_height > 0) input.axes[1].length = book.job.part_height;
  for (const Task* task : tasks) task->give_to_part({book, tool}, input);
  return input;
}

}  // namespace

std::array<double, 2> Budget::span() const {
  std::array<double, 2> span{0, 0};
  for (const BudgetPart& part : parts)
    if (part.off) {
      span[0] = std::min(span[0], part.off->bias - part.off->U);
      span[1] = std::max(span[1], part.off->bias + part.off->U);
    }
  return span;
}

Known known_of(double value, double U) {
  // Not by the k of its readings: a few of them leave a k that is large, and a u that is small by luck.
  return {value, U / normal_quantile(0.975)};
}

double known_U(double u) {
  return normal_quantile(0.975) * u;
}

std::optional<double> BudgetPart::worst() const {
  if (!off) return std::nullopt;
  return std::fabs(off->bias) + off->U;
}

const BudgetPart* largest_cause(const Budget& budget) {
  if (budget.sizes.headline.value_or(0) <= budget.tolerance) return nullptr;
  for (const BudgetPart& part : budget.parts)
    if (part.spoils == Spoils::sizes && part.off)
      return *part.worst() > budget.sizes.headline.value_or(0) / 2 ? &part : nullptr;
  return nullptr;
}

Budget error_budget(const Book& book, int tool, const Tasks& tasks) {
  Budget budget;
  const Standings standings(book, tasks);
  for (const Task* task : tasks)
    for (const BudgetShare& share : task->budget({book, tool})) {
      BudgetPart part{share, task};
      if (part.entry) part.stale = standings.of(task->id(), part.axis).standing == Standing::out_of_date;
      budget.parts.push_back(part);
    }
  std::stable_sort(budget.parts.begin(), budget.parts.end(), [](const BudgetPart& a, const BudgetPart& b) {
    return a.worst().value_or(-1) > b.worst().value_or(-1);
  });
  budget.tolerance = book.job.part_tolerance.value_or(usual_part_tolerance);
  budget.sizes_unknown = std::any_of(budget.parts.begin(), budget.parts.end(),
                                     [](const BudgetPart& part) { return part.spoils == Spoils::sizes && !part.off; });
  PartInput input = part_input(book, tool, tasks);
  for (PartAxis& axis : input.axes)
    if (!axis.lost_motion) axis.lost_motion = Known{};
  if (!input.tool) input.tool = Known{};
  budget.sizes = part_sizes(input);
  return budget;
}

}  // namespace ypsi
