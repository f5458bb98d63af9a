#include "core/tasks/lost_motion.h"

#include <cmath>

#include "core/book/record.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/drive.h"
#include "core/calibration/positioning.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/budget.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace {

constexpr const char* turn_word = " turn";

class LostMotionTask final : public Task {
 public:
  LostMotionTask() : Task(lost_motion_id, "Lost motion", TaskGroup::calibrate) {}
  std::vector<Upstream> depends_on() const override { return {{steps_per_unit_id}}; }
  bool stands_beside(const Entry& e) const override { return e.subject.ends_with(turn_word); }
  Words summary(const Entry& e) const override {
    if (stands_beside(e)) {
      const auto found = finding_of<PeriodicEntry>(e);
      return {{"periodic", {SaidLength{found.amplitude.value_or(0), 3}, SaidLength{found.period.value_or(0), 2}}}};
    }
    return {{as_it_is, {SaidLength{finding_of<LostMotionEntry>(e).lost_motion.value_or(0), 2}}}};
  }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    std::vector<BudgetShare> all;
    for (const Axis a : {Axis::x, Axis::y}) {
      BudgetShare share{.code = "of_axis",
                        .axis = a,
                        .entry = newest(q.book, id(), std::string(1, letter(a))),
                        .cause = lost_motion_cause(index(a))};
      if (share.entry)
        if (const auto found = finding_of<LostMotionEntry>(q.book.history[*share.entry]); found.lost_motion)
          share.off = OffBy{-*found.lost_motion, found.U.value_or(0)};  // what is cut comes out narrower by it
      all.push_back(share);
      BudgetShare turn{.code = "budget_periodic", .axis = a, .cause = periodic_cause(index(a)), .unlisted = true};
      if (const auto amplitude = periodic_error_of(q.book, a).amplitude) {
        turn.off = OffBy{0, known_U(*amplitude)};
        turn.entry = newest(q.book, id(), over_a_turn(a));
      }
      all.push_back(turn);
    }
    return all;
  }
  void give_to_part(const BudgetQuestion& q, PartInput& part) const override {
    for (const Axis a : {Axis::x, Axis::y}) part.axes[index(a)].periodic = periodic_error_of(q.book, a).amplitude;
    for (const BudgetShare& share : budget(q))
      if (share.off && share.axis && share.code == "of_axis")
        part.axes[index(*share.axis)].lost_motion = known_of(-share.off->bias, share.off->U);
  }
  std::vector<CertifiedLine> certificate(const Book& book) const override {
    auto lines = each_axis({.code = "certified_lost_motion",
                            .value = [](const Entry& e) { return finding_of<LostMotionEntry>(e).lost_motion; },
                            .U = [](const Entry& e) { return finding_of<LostMotionEntry>(e).U; },
                            .k = [](const Entry& e) { return finding_of<LostMotionEntry>(e).k; }});
    for (const Axis a : all_axes)
      if (newest(book, id(), over_a_turn(a)))
        lines.push_back({.code = "certified_periodic",
                         .subject = over_a_turn(a),
                         .usual_decimals = 3,
                         .value = [](const Entry& e) { return finding_of<PeriodicEntry>(e).amplitude; },
                         .U = [](const Entry& e) { return finding_of<PeriodicEntry>(e).U; },
                         .k = [](const Entry& e) { return finding_of<PeriodicEntry>(e).k; }});
    return lines;
  }
  std::vector<rehearsal::Step> rehearsal() const override {
    return {{.title = title(), .run = rehearsal::lost_motion, .better = rehearsal::better_lost_motion}};
  }
};

}  // namespace

std::string over_a_turn(Axis axis) {
  return std::string(1, letter(axis)) + turn_word;
}

PeriodicEntry periodic_error_of(const Book& book, Axis axis) {
  const auto at = newest(book, lost_motion_id, over_a_turn(axis));
  return at ? finding_of<PeriodicEntry>(book.history[*at]) : PeriodicEntry{};
}

std::optional<ErrorTable> positional_table(const Book& book, Axis axis) {
  constexpr double small_part = 0.25;  // of what the table takes out
  const PositioningReadings& all = book.worksheets[positioning_worksheets][index(axis)];
  const double turn = travel_per_rev(book.machine.axis(axis).drive.transmission);
  auto table = error_table(plain(all.targets), all.whole_runs(), turn > 0 ? std::optional(turn) : std::nullopt);
  if (!table) return std::nullopt;
  if (const auto repeats = periodic_error_of(book, axis).amplitude;
      repeats && *repeats <= small_part * table->span_before)
    table->period_too_short = false;
  return std::move(*table);
}

const Task& lost_motion_task() {
  static const LostMotionTask task;
  return task;
}

}  // namespace ypsi
