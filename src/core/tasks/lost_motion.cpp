#include "core/tasks/lost_motion.h"

#include <cmath>

#include "core/book/record.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/budget.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace {

class LostMotionTask final : public Task {
 public:
  LostMotionTask() : Task(lost_motion_id, "Lost motion", TaskGroup::calibrate) {}
  std::vector<Upstream> depends_on() const override { return {{steps_per_unit_id}}; }
  Words summary(const Entry& e) const override {
    return {{as_it_is, {SaidLength{finding_of<LostMotionEntry>(e).lost_motion.value_or(0), 2}}}};
  }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    std::vector<BudgetShare> all;
    for (const Axis a : {Axis::x, Axis::y}) {
      BudgetShare share{.code = "of_axis",
                        .axis = a,
                        .entry = newest(q.book, id(), std::string(1, letter(a))),
                        .spoils = Spoils::sizes};
      if (share.entry)
        if (const auto found = finding_of<LostMotionEntry>(q.book.history[*share.entry]); found.lost_motion)
          share.off = OffBy{-*found.lost_motion, found.U.value_or(0)};  // what is cut comes out narrower by it
      all.push_back(share);
    }
    return all;
  }
  void give_to_part(const BudgetQuestion& q, PartInput& part) const override {
    for (const BudgetShare& share : budget(q))
      if (share.off && share.axis) part.axes[index(*share.axis)].lost_motion = known_of(-share.off->bias, share.off->U);
  }
  std::vector<CertifiedLine> certificate(const Book&) const override {
    return each_axis({.code = "certified_lost_motion",
                      .value = [](const Entry& e) { return finding_of<LostMotionEntry>(e).lost_motion; },
                      .U = [](const Entry& e) { return finding_of<LostMotionEntry>(e).U; },
                      .k = [](const Entry& e) { return finding_of<LostMotionEntry>(e).k; }});
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::lost_motion}}; }
};

}  // namespace

const Task& lost_motion_task() {
  static const LostMotionTask task;
  return task;
}

}  // namespace ypsi
