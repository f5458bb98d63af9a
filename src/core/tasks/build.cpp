#include "core/tasks/build.h"

namespace ypsi {
namespace {

class BuildTask final : public Task {
 public:
  BuildTask() : Task(build_id, "Build", TaskGroup::machine) {}
};

}  // namespace

const Task& build_task() {
  static const BuildTask task;
  return task;
}

}  // namespace ypsi
