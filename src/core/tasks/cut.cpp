#include "core/tasks/cut.h"
#include "core/rehearsal/parts.h"

namespace ypsi {
namespace {

class CutTask final : public Task {
 public:
  CutTask() : Task(cut_id, "Cut", TaskGroup::job) {}
  bool newest_alone() const override { return true; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<CutEntry>(e);
    if (found.ended == "finished") return {{"cut_finished", {found.lines}}};
    return {{found.ended == "abandoned" ? "cut_abandoned" : "cut_stopped", {found.line, found.lines}}};
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::cut}}; }
};

}  // namespace

const Task& cut_task() {
  static const CutTask task;
  return task;
}

}  // namespace ypsi
