// Only what the owner's part needs: the largest cause of what it is off by first, as the sheet Where it stands says.
#include <fmt/format.h>

#include <map>

#include "core/rehearsal/parts.h"
#include "core/tasks/budget.h"

namespace ypsi::rehearsal {
namespace {

constexpr int most_measurements = 40, tries_at_a_cause = 2;

/// What measures a cause of this task's alone; null where nothing does.
Better better_of(const Task& task) {
  for (const Step& step : task.rehearsal())
    if (step.better) return step.better;
  return nullptr;
}

}  // namespace

bool good_enough(const Work& work) {
  const Budget budget = error_budget(work.w.book, work.r.cutter);
  return budget.good_enough() && largest_cause(budget) == nullptr;
}

Verdict measure_for_the_part(Work& work) {
  work.by_part = true;
  std::map<PartCause, int> tried;
  const auto can_be = [&](const BudgetPart& part) {
    // A cutter takes a cut, which comes later.
    return part.cause != PartCause::tool && better_of(*part.task) && tried[*part.cause] < tries_at_a_cause;
  };
  std::string words;
  for (int i = 0; i < most_measurements; ++i) {
    const Budget budget = error_budget(work.w.book);
    const BudgetPart* cause = largest_cause(budget, can_be);
    if (!cause) break;
    const double gain = cause->gain;
    ++tried[*cause->cause];
    if (auto ok = better_of(*cause->task)(work, *cause); !ok) return tl::make_unexpected(ok.error());
    words += fmt::format("{}{}{}{} {:.2f}", words.empty() ? "" : ", ", cause->task->title(), cause->axis ? " " : "",
                         cause->axis ? std::string(1, letter(*cause->axis)) : "", gain);
  }
  return words.empty() ? std::string("nothing that the part needs") : words;
}

}  // namespace ypsi::rehearsal
