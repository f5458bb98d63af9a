#include "core/tasks/squareness.h"

#include <cmath>

#include "core/book/record.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/budget.h"
#include "core/tasks/build.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace {

class SquarenessTask final : public Task {
 public:
  SquarenessTask() : Task(squareness_id, "Squareness", TaskGroup::calibrate) {}
  std::vector<Upstream> depends_on() const override {
    return {{lost_motion_id}, {steps_per_unit_id}, {build_id, "beam"}, {build_id, "second_switch"}};
  }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<SquarenessEntry>(e);
    return {{"lean", {SaidNumber{found.skew_mrad.value_or(0), 2}, SaidNumber{found.U_skew_mrad.value_or(0), 2}}}};
  }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    BudgetShare share{.entry = newest(q.book, id()), .cause = PartCause::skew};
    const double height = q.book.job.part_height;
    if (share.entry)
      if (const auto found = finding_of<SquarenessEntry>(q.book.history[*share.entry]); found.skew_mrad)
        share.off = OffBy{std::tan(*found.skew_mrad / 1000) * height, found.U_skew_mrad.value_or(0) / 1000 * height};
    return {share};
  }
  void give_to_part(const BudgetQuestion& q, PartInput& part) const override {
    const auto at = newest(q.book, id());
    const auto found = at ? finding_of<SquarenessEntry>(q.book.history[*at]) : SquarenessEntry{};
    if (found.skew_mrad) part.skew = known_of(*found.skew_mrad / 1000, found.U_skew_mrad.value_or(0) / 1000);
  }
  std::vector<CertifiedLine> certificate(const Book&) const override {
    return {{.code = "certified_lean",
             .unit = CertifiedUnit::mm_per_m,
             .value = [](const Entry& e) { return finding_of<SquarenessEntry>(e).skew_mrad; },
             .U = [](const Entry& e) { return finding_of<SquarenessEntry>(e).U_skew_mrad; },
             .k = [](const Entry& e) { return finding_of<SquarenessEntry>(e).k; }}};
  }
  std::vector<rehearsal::Step> rehearsal() const override {
    return {{.title = title(), .run = rehearsal::squareness, .later = 1.5, .better = rehearsal::better_squareness}};
  }
};

}  // namespace

const Task& squareness_task() {
  static const SquarenessTask task;
  return task;
}

}  // namespace ypsi
