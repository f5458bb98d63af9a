#include "core/tasks/tool_setter.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/bed_spindle.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace {

class ToolSetterTask final : public Task {
 public:
  ToolSetterTask() : Task(tool_setter_id, "Tool setter", TaskGroup::references) {}
  bool applies_to(const MachineSetup& machine) const override { return !machine.no_probe; }
  std::vector<Upstream> depends_on() const override { return {{steps_per_unit_id}, {bed_spindle_id}}; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<SetterEntry>(e);
    if (!found.trigger) return Task::summary(e);
    return {{"setter", {SaidLength{*found.trigger, 3}, SaidLength{found.s.value_or(0), 4}}}};
  }
  std::vector<rehearsal::Step> rehearsal() const override {
    return {{.title = title(), .run = rehearsal::tool_setter, .beside = true}};
  }
};

}  // namespace

const Task& tool_setter_task() {
  static const ToolSetterTask task;
  return task;
}

}  // namespace ypsi
