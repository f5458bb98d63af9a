#include "core/tasks/all_tasks.h"

#include <algorithm>
#include <utility>

#include "core/rehearsal/parts.h"
#include "core/tasks/bed_spindle.h"
#include "core/tasks/build.h"
#include "core/tasks/certificate_record.h"
#include "core/tasks/cut.h"
#include "core/tasks/directions.h"
#include "core/tasks/fences.h"
#include "core/tasks/heads.h"
#include "core/tasks/homing.h"
#include "core/tasks/inputs.h"
#include "core/tasks/limits.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/measure_cut.h"
#include "core/tasks/overview.h"
#include "core/tasks/ready_check.h"
#include "core/tasks/squareness.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/stock_program.h"
#include "core/tasks/tool_setter.h"
#include "core/tasks/tools.h"
#include "core/tasks/touch_plate.h"
#include "core/tasks/trials.h"
#include "core/tasks/work_zero.h"

namespace ypsi {

const Tasks& all_tasks() {
  static const Tasks tasks{
      &overview_task(),       &build_task(),
      &inputs_task(),         &directions_task(),
      &steps_per_unit_task(), &lost_motion_task(),
      &squareness_task(),     &limits_task(),
      &homing_task(),         &bed_spindle_task(),
      &touch_plate_task(),    &tool_setter_task(),
      &tools_task(),          &heads_task(),
      &trials_task(),         &fences_task(),
      &stock_program_task(),  &work_zero_task(),
      &ready_check_task(),    &cut_task(),
      &measure_cut_task(),    &certificate_record_task(),
  };
  return tasks;
}

std::vector<rehearsal::Step> rehearsal_steps(const Tasks& tasks) {
  std::vector<std::pair<double, rehearsal::Step>> placed;
  for (std::size_t i = 0; i < tasks.size(); ++i)
    for (const rehearsal::Step& step : tasks[i]->rehearsal())
      placed.emplace_back(static_cast<double>(i) + step.later, step);
  std::stable_sort(placed.begin(), placed.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<rehearsal::Step> steps;
  steps.reserve(placed.size());
  for (const auto& [place, step] : placed) steps.push_back(step);
  return steps;
}

std::vector<rehearsal::Step> rehearsal_steps_by_part(const Tasks& tasks) {
  std::vector<rehearsal::Step> steps;
  bool placed = false;
  for (const rehearsal::Step& step : rehearsal_steps(tasks)) {
    if (step.beside) continue;
    if (!step.better) {
      steps.push_back(step);
    } else if (!std::exchange(placed, true)) {
      steps.push_back({.title = overview_task().title(), .run = rehearsal::measure_for_the_part});
    }
  }
  return steps;
}

}  // namespace ypsi
