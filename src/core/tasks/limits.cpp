#include "core/tasks/limits.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/homing.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace {

class LimitsTask final : public Task {
 public:
  LimitsTask() : Task(limits_id, "Travel and limits", TaskGroup::calibrate) {}
  std::vector<Upstream> depends_on() const override { return {{steps_per_unit_id}, {homing_id}}; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<LimitsEntry>(e);
    return {{"from_to", {SaidLength{found.soft_min.value_or(0), 1}, SaidLength{found.soft_max.value_or(0), 1}}}};
  }
  bool is_carried_over(std::string_view upstream) const override { return upstream == steps_per_unit_id; }
  std::vector<CertifiedLine> certificate(const Book&) const override {
    return each_axis(
        {.code = "certified_travel", .usual_decimals = 1, .value = [](const Entry& e) -> std::optional<double> {
           const auto found = finding_of<LimitsEntry>(e);
           if (!found.soft_min || !found.soft_max) return std::nullopt;
           return *found.soft_max - *found.soft_min;
         }});
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::limits}}; }
};

}  // namespace

const Task& limits_task() {
  static const LimitsTask task;
  return task;
}

}  // namespace ypsi
