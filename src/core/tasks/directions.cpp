#include "core/tasks/directions.h"
#include "core/rehearsal/parts.h"

namespace ypsi {
namespace {

class DirectionsTask final : public Task {
 public:
  DirectionsTask() : Task(directions_id, "Directions", TaskGroup::machine) {}
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::directions}}; }
};

}  // namespace

const Task& directions_task() {
  static const DirectionsTask task;
  return task;
}

}  // namespace ypsi
