#include "core/tasks/ready_check.h"
#include "core/rehearsal/parts.h"

namespace ypsi {
namespace {

class ReadyCheckTask final : public Task {
 public:
  ReadyCheckTask() : Task(ready_check_id, "Ready check", TaskGroup::job) {}
  bool newest_alone() const override { return true; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<ReadyEntry>(e);
    Words all{{"checked", {found.stops, found.warns}}};
    if (e.readings.size() > 0) all.push_back({"in_spite", {}});
    return all;
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::ready_check}}; }
};

}  // namespace

const Task& ready_check_task() {
  static const ReadyCheckTask task;
  return task;
}

}  // namespace ypsi
