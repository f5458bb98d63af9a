// Only what the owner's part needs: the largest cause of what it is off by first, as the sheet Where it stands says.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/rehearsal/parts.h"
#include "core/tasks/all_tasks.h"
#include "core/tasks/budget.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi::rehearsal {
namespace {

constexpr int most_measurements = 40, tries_at_a_cause = 2;

/// What measures a cause of this task's alone; null where nothing does.
Better better_of(const Task& task) {
  for (const Step& step : task.rehearsal())
    if (step.better) return step.better;
  return nullptr;
}

Entry entry_of(const Work& work, const char* task, std::string subject, RecordJson finding) {
  Entry entry;
  // No day of a calendar: so many seconds after the work began.
  const auto s = static_cast<long long>(work.w.waited_s());
  constexpr long long day = 86400, hour = 3600, minute = 60;
  entry.time =
      fmt::format("2000-01-{:02}T{:02}:{:02}:{:02}Z", 1 + s / day, s % day / hour, s % hour / minute, s % minute);
  entry.sheet = task;
  entry.subject = std::move(subject);
  entry.result = std::move(finding);
  return entry;
}

}  // namespace

void keep(Work& work, const char* task, std::string subject, RecordJson finding) {
  work.w.book.history.push_back(entry_of(work, task, std::move(subject), std::move(finding)));
}

void keep_steps(Work& work, Axis axis, RecordJson finding, double found, double left) {
  Entry entry = entry_of(work, steps_per_unit_id, std::string(1, letter(axis)), std::move(finding));
  entry.as_found = {{axis_setting(axis, "steps_per_mm"), found}};
  entry.as_left = {{axis_setting(axis, "steps_per_mm"), left}};
  work.w.book.history.push_back(std::move(entry));
}

bool good_enough(const Work& work) {
  const Budget budget = error_budget(work.w.book, work.r.cutter);
  return budget.good_enough() && largest_cause(budget) == nullptr;
}

Verdict measure_for_the_part(Work& work) {
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
