#include "core/tasks/homing.h"
#include "core/book/record.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/build.h"
#include "core/tasks/inputs.h"

namespace ypsi {
namespace {

class HomingTask final : public Task {
 public:
  HomingTask() : Task(homing_id, "Homing repeat", TaskGroup::calibrate) {}
  std::vector<Upstream> depends_on() const override { return {{inputs_id}, {build_id, "home"}}; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<HomingEntry>(e);
    return {{"repeats", {SaidLength{found.s.value_or(0), 3}, found.trials}}};
  }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    BudgetShare share{.code = "budget_homing", .entry = newest(q.book, id())};
    const auto take = [&](std::optional<std::size_t> at) {
      const auto s = at ? finding_of<HomingEntry>(q.book.history[*at]).s : std::nullopt;
      if (!s || (share.off && 2 * *s <= share.off->U)) return;
      share.off = OffBy{0, 2 * *s};
      share.entry = at;
    };
    take(share.entry);
    // Told axis by axis, the one that homes worst counts, not the one that was tried last.
    if (share.entry && !q.book.history[*share.entry].subject.empty())
      for (const Axis a : all_axes) take(newest(q.book, id(), std::string(1, letter(a))));
    return {share};
  }
  std::vector<CertifiedLine> certificate(const Book&) const override {
    return each_axis({.code = "certified_homing",
                      .usual_decimals = 4,
                      .value = [](const Entry& e) { return finding_of<HomingEntry>(e).s; },
                      .told_for_all = true});
  }
  std::vector<rehearsal::Step> rehearsal() const override {
    return {{.title = title(), .run = rehearsal::homing_repeat, .beside = true}};
  }
};

}  // namespace

const Task& homing_task() {
  static const HomingTask task;
  return task;
}

}  // namespace ypsi
