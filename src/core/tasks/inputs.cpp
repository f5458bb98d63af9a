#include "core/tasks/inputs.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/build.h"

namespace ypsi {
namespace {

class InputsTask final : public Task {
 public:
  InputsTask() : Task(inputs_id, "Inputs", TaskGroup::machine) {}
  bool applies_to(const MachineSetup& machine) const override { return !inputs_of(machine).empty(); }
  std::vector<Upstream> depends_on() const override { return {{build_id, "home"}}; }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::inputs}}; }
};

}  // namespace

std::vector<InputId> inputs_of(const MachineSetup& machine) {
  std::vector<InputId> there;
  for (const InputId input : all_inputs) {
    const bool is_there = input == InputId::probe ? !machine.no_probe
                          : input == InputId::emergency_stop
                              ? !machine.no_emergency_stop
                              : !machine.axes[static_cast<std::size_t>(input)].zero_by_hand;
    if (is_there) there.push_back(input);
  }
  return there;
}

const Task& inputs_task() {
  static const InputsTask task;
  return task;
}

}  // namespace ypsi
