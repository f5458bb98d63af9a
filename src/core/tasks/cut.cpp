#include "core/tasks/cut.h"

#include "core/book/record.h"
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
  /// Without the program's name: it is said a few lines above, and leaves no room for how it ended.
  Words overview(const Book& book) const override {
    const auto i = newest(book, id());
    return i ? summary(book.history[*i]) : Words{};
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::cut}}; }
};

}  // namespace

const Task& cut_task() {
  static const CutTask task;
  return task;
}

}  // namespace ypsi
