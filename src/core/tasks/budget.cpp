#include "core/tasks/budget.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/normal.h"
#include "core/tasks/standing.h"

namespace ypsi {
namespace {

constexpr double worth_a_tolerance = 0.05;  // what gains less than so much of it is not worth a morning

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

const BudgetPart* largest_cause(const Budget& budget, const std::function<bool(const BudgetPart&)>& can_be) {
  const double worth = worth_a_tolerance * budget.tolerance;
  const BudgetPart* best = nullptr;
  const auto behind = [](const BudgetPart& a, const BudgetPart& b) {
    const bool cut_a = a.cause == PartCause::tool, cut_b = b.cause == PartCause::tool;
    return cut_a != cut_b ? cut_a : a.gain < b.gain;
  };
  for (const auto* parts : {&budget.parts, &budget.unlisted})
    for (const BudgetPart& part : *parts) {
      if (!(part.gain > worth) || (can_be && !can_be(part))) continue;
      if (!best || behind(*best, part)) best = &part;
    }
  return best;
}

Budget error_budget(const Book& book, int tool, const Tasks& tasks) {
  Budget budget;
  budget.tolerance = book.job.part_tolerance.value_or(usual_part_tolerance);
  PartInput input = part_input(book, tool, tasks);
  const PartInput usual = with_usual_errors(input);
  PartInput cut_told = usual;
  cut_told.tool = Known{};
  const Standings standings(book, tasks);
  for (const Task* task : tasks)
    for (const BudgetShare& share : task->budget({book, tool})) {
      BudgetPart part{share, task};
      if (part.entry) part.stale = standings.of(task->id(), part.axis).standing == Standing::out_of_date;
      if (part.cause)
        part.gain = gain_without(part.cause == PartCause::tool ? usual : cut_told, *part.cause, budget.tolerance);
      (part.unlisted && !part.off ? budget.unlisted : budget.parts).push_back(part);
    }
  std::stable_sort(budget.parts.begin(), budget.parts.end(), [](const BudgetPart& a, const BudgetPart& b) {
    return a.worst().value_or(-1) > b.worst().value_or(-1);
  });
  budget.sizes_unknown = std::any_of(budget.parts.begin(), budget.parts.end(),
                                     [](const BudgetPart& part) { return part.bears_on_sizes() && !part.off; });
  for (PartAxis& axis : input.axes)
    if (!axis.lost_motion) axis.lost_motion = Known{};
  if (!input.tool) input.tool = Known{};
  budget.sizes = part_sizes(input);
  return budget;
}

}  // namespace ypsi
