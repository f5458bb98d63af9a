#include "core/tasks/inputs.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/build.h"

namespace ypsi {
namespace {

class InputsTask final : public Task {
 public:
  InputsTask() : Task(inputs_id, "Inputs", TaskGroup::machine) {}
  std::vector<Upstream> depends_on() const override { return {{build_id, "home"}}; }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::inputs}}; }
};

}  // namespace

const Task& inputs_task() {
  static const InputsTask task;
  return task;
}

}  // namespace ypsi
