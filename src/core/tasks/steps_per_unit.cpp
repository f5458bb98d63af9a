#include "core/tasks/steps_per_unit.h"

#include <algorithm>

#include "core/book/json_number.h"
#include "core/book/record.h"
#include "core/calibration/scale.h"
#include "core/calibration/temperature.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/budget.h"
#include "core/tasks/build.h"
#include "core/tasks/homing.h"
#include "core/tasks/known_scale.h"
#include "core/units/length.h"

namespace ypsi {
namespace {

class StepsPerUnitTask final : public Task {
 public:
  StepsPerUnitTask() : Task(steps_per_unit_id, "Steps per unit", TaskGroup::calibrate) {}
  std::vector<Upstream> depends_on() const override { return {{build_id, "drive"}, {build_id, "steps_per_mm"}}; }
  Words summary(const Entry& e) const override {
    const auto found = only_number(e.as_found), left = only_number(e.as_left);
    if (!found || !left) return {};
    const double U = finding_of<StepsEntry>(e).U_new_steps.value_or(0);
    const int digits = std::min(decimals_for(U, 2), 3);
    if (*found == *left) return {{"steps_left", {SaidNumber{*left, digits}, SaidNumber{U, digits}}}};
    return {{"steps_changed", {SaidNumber{*found, digits}, SaidNumber{*left, digits}, SaidNumber{U, digits}}}};
  }
  Words overview(const Book& book) const override {
    Words all;
    for (const Axis a : all_axes)
      if (const auto i = newest(book, id(), std::string(1, letter(a)))) {
        const double U = finding_of<StepsEntry>(book.history[*i]).U_new_steps.value_or(0);
        all.push_back({all.empty() ? "axis_figure" : "next_axis_figure",
                       {std::string(1, letter(a)),
                        SaidNumber{book.machine.axis(a).steps_per_mm, std::min(decimals_for(U, 2), 4)}}});
      }
    return all;
  }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    std::vector<BudgetShare> all;
    const double extent[] = {q.book.job.part_width, q.book.job.part_height};
    for (const Axis a : {Axis::x, Axis::y}) {
      BudgetShare share{.code = "of_axis",
                        .axis = a,
                        .entry = newest(q.book, id(), std::string(1, letter(a))),
                        .cause = scale_cause(index(a))};
      if (const auto known = scale_of(q, share); known && known->left)
        share.off = OffBy{extent[index(a)] * *known->left, extent[index(a)] * known->U};
      all.push_back(share);
    }
    // A scale holds for the warmth in which it was found.
    if (std::any_of(all.begin(), all.end(), [](const BudgetShare& share) { return share.off.has_value(); }))
      all.push_back({.code = "budget_warmth",
                     .off = OffBy{0, known_U(std::max(extent[0], extent[1]) * frame_expansion_per_K *
                                             (warmth_said(q, all) ? u_temperature_said_K : u_temperature_unsaid_K))}});
    return all;
  }
  void give_to_part(const BudgetQuestion& q, PartInput& part) const override {
    const auto shares = budget(q);
    for (const BudgetShare& share : shares)
      if (const auto known = scale_of(q, share); known && known->left)
        part.axes[index(*share.axis)].scale = known_of(*known->left, known->U);
    if (warmth_said(q, shares)) part.u_temperature_K = u_temperature_said_K;
  }
  std::vector<CertifiedLine> certificate(const Book&) const override {
    return each_axis({.code = "certified_steps",
                      .unit = CertifiedUnit::steps_per_mm,
                      .usual_decimals = 3,
                      .value = [](const Entry& e) { return finding_of<StepsEntry>(e).new_steps; },
                      .U = [](const Entry& e) { return finding_of<StepsEntry>(e).U_new_steps; },
                      .k = [](const Entry& e) { return finding_of<StepsEntry>(e).k; },
                      .an_act_says = true,
                      .may_be_left = true});
  }
  std::vector<rehearsal::Step> rehearsal() const override {
    return {{homing_task().title(), rehearsal::first_homing, false},
            {.title = title(), .run = rehearsal::steps, .better = rehearsal::better_steps}};
  }

 private:
  /// Of today, and of each scale that is known.
  static bool warmth_said(const BudgetQuestion& q, const std::vector<BudgetShare>& shares) {
    return q.book.workshop_C && std::all_of(shares.begin(), shares.end(), [&](const BudgetShare& share) {
             const auto known = scale_of(q, share);
             return !known || !known->left || q.book.history[*share.entry].temperature_C;
           });
  }
  static std::optional<KnownScale> scale_of(const BudgetQuestion& q, const BudgetShare& share) {
    if (!share.entry || !share.axis) return std::nullopt;
    const Entry& entry = q.book.history[*share.entry];
    auto known = known_scale(entry, q.book.machine.axis(*share.axis).steps_per_mm);
    if (known && known->left && entry.temperature_C && q.book.workshop_C)
      *known->left += off_by_warmth(*entry.temperature_C, *q.book.workshop_C);
    return known;
  }
};

}  // namespace

StepsEntry steps_entry(const ScaleResult& result) {
  StepsEntry entry{.verdict = name(result.verdict)};
  if (!result.fit) return entry;
  const ScaleFit& fit = *result.fit;
  entry.scale = fit.scale;
  entry.U_scale = fit.U_scale;
  entry.new_steps = fit.new_steps;
  entry.U_new_steps = fit.U_new_steps;
  entry.k = fit.coverage.k;
  entry.u_scale = fit.u_scale;
  entry.lost_motion = fit.lost_motion;
  entry.U_lost_motion = fit.U_lost_motion;
  entry.birge = fit.coverage.birge;
  return entry;
}

const Task& steps_per_unit_task() {
  static const StepsPerUnitTask task;
  return task;
}

}  // namespace ypsi
