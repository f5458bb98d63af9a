#include "core/tasks/overview.h"

namespace ypsi {
namespace {

class OverviewTask final : public Task {
 public:
  OverviewTask() : Task(overview_id, "Where it stands", TaskGroup::overview) {}
  bool has_standing() const override { return false; }
  Words overview(const Book&) const override { return {}; }
};

}  // namespace

const Task& overview_task() {
  static const OverviewTask task;
  return task;
}

}  // namespace ypsi
