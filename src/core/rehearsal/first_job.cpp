// The first job: a test cut made, measured and read, and made again after the corrections.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/calibration/first_cut.h"
#include "core/motion/machine_kinematics.h"
#include "core/motion/planner.h"
#include "core/procedures/corner_touch.h"
#include "core/procedures/run_program.h"
#include "core/program/checks.h"
#include "core/rehearsal/line_job.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/budget.h"
#include "core/tasks/cut_reading.h"
#include "core/tasks/measure_cut.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi::rehearsal {
namespace {

constexpr double most_width_mm = 260, most_height_mm = 300, usual_cutter_mm = 6, inside_corner_mm = 10;
constexpr double above_plate_mm = 6, corner_search_mm = 16, second_cut_within_mm = 0.1, not_reached_mm = 0.05;

struct Part {
  std::vector<Feature> features;
  double worst = 0;  ///< largest deviation of a size
};

Tool& cutter_of(Work& work) {
  for (Tool& t : work.w.book.tools)
    if (t.number == work.setting.tool) return t;
  return work.w.book.tools.front();  // work.setting.tool was taken from there
}

Result<void> make_cut(Work& work) {
  const auto made = make_coupon(CouponKind::frame, work.setting);
  if (!made) return tl::make_unexpected(made.error());
  work.coupon = *made;
  return {};
}

/// Corner plate on the stock's front left corner; sets work zero, Z on the stock's top and `too_deep` mm above it.
Result<void> zero_at_the_corner(Work& work, double too_deep) {
  Workshop& w = work.w;
  if (auto ok = see_the_circuit(w); !ok) return ok;
  const auto stock = w.bench.stock_seen();
  if (!stock) return fail("no_stock", "There is no stock on the bed.");
  const TouchPlate& plate = w.book.plates.front();
  if (auto ok = w.go_over(stock->x0 + inside_corner_mm, stock->y0 + inside_corner_mm); !ok) return ok;
  if (auto ok = w.down_to_gap(plate.thickness + above_plate_mm); !ok) return ok;
  w.bench.lay_plate(PlatePlace::on_corner);
  CornerWay way;
  way.tool_diameter = cutter_of(work).diameter;
  way.wall_x = plate.wall_x;
  way.wall_y = plate.wall_y;
  way.floor = plate.thickness;
  way.touch.search = corner_search_mm;
  way.touch.touches = 3;
  CornerTouch corner;
  if (auto ok = corner.start(w.link, way); !ok) return ok;
  if (auto ok = w.run(corner); !ok) return ok;
  w.bench.lay_plate(PlatePlace::away);
  if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return ok;
  MachinePosition zero = corner.corner();
  zero.z += too_deep;
  for (const Axis a : all_axes) {
    if (auto ok = w.link.set_work_zero(a, zero[a]); !ok) return ok;
    w.book.job.zero(a) = zero[a];
  }
  w.book.job.used().on_bed = false;
  w.book.job.used().z_tool = w.link.status().tool;
  work.r.work_zero = zero;
  return {};
}

/// Where the stock's top stands at each depth of the test cut, by the plate: a depth is measured from there.
Result<void> touch_the_tops(Work& work) {
  Workshop& w = work.w;
  work.tops.clear();
  for (const CouponFeature& f : work.coupon.features) {
    if (f.kind != FeatureKind::depth) continue;
    const MachinePosition at = to_machine(f.at, w.link.status().work_zero);
    if (auto ok = w.go_over(at.x, at.y); !ok) return ok;
    const auto top = top_by_plate(w);
    if (!top) return tl::make_unexpected(top.error());
    work.tops.push_back(*top - w.link.status().work_zero.z);
  }
  return w.go(Axis::z, w.safe_z());
}

Result<Part> measured(Work& work, const Instrument& instrument) {
  Part part;
  const WorkZero zero = work.w.link.status().work_zero;
  auto top = work.tops.begin();
  for (const CouponFeature& f : work.coupon.features) {
    const CutFeature laid{static_cast<CutFeature::Kind>(f.kind), f.axis, to_machine(f.at, zero),
                          to_machine(f.other, zero), f.nominal};
    const auto read = work.w.bench.measure(laid, instrument.name);
    if (!read) return tl::make_unexpected(read.error());
    const double above = f.kind == FeatureKind::depth ? *top++ : 0;
    // Where the cutter did not reach, the depth says only that.
    if (f.kind != FeatureKind::depth || *read > not_reached_mm)
      part.features.push_back({f.kind, f.axis, f.nominal, *read, above});
    part.worst = std::max(part.worst, std::fabs(*read - f.nominal));
  }
  return part;
}

/// What a cut says of its cutter, into the record.
void keep_cutter(Work& work, const FirstCutResult& said, double worst) {
  MeasuredEntry entry{.tool = work.setting.tool, .largest_deviation = worst};
  for (const CutEstimate& e : said.estimates)
    if (e.quantity == CutQuantity::tool_diameter) {
      entry.tool_diameter = work.setting.tool_diameter + e.value;
      entry.U_tool_diameter = e.U;
      entry.k = said.coverage.k;
    }
  keep(work, measure_cut_id, fmt::format("T{}", work.setting.tool), result_of(entry));
}

double smallest_depth(const Coupon& coupon) {
  double least = std::numeric_limits<double>::infinity();
  for (const CouponFeature& f : coupon.features)
    if (f.kind == FeatureKind::depth) least = std::min(least, f.nominal);
  return least;
}

/// What the first cut says, put right where it is significant. Returns by how much Z zero is too deep.
Result<double> correct(Work& work, const FirstCutResult& said) {
  Workshop& w = work.w;
  double too_deep = 0;
  for (const CutEstimate& e : said.estimates) {
    if (!e.significant) continue;
    Result<void> done;
    switch (e.quantity) {
      case CutQuantity::scale_x:
        done = correct_scale(work, Axis::x, e.value, e.U);
        break;
      case CutQuantity::scale_y:
        done = correct_scale(work, Axis::y, e.value, e.U);
        break;
      case CutQuantity::scale_z:
        done = correct_scale(work, Axis::z, e.value, e.U);
        break;
      case CutQuantity::tool_diameter:
        cutter_of(work).diameter += e.value;
        cutter_of(work).diameter_reason = "first cut";
        work.setting.tool_diameter = cutter_of(work).diameter;
        break;
      case CutQuantity::lost_motion_x:
        take_slack_out(w, Axis::x, e.value);
        break;
      case CutQuantity::lost_motion_y:
        take_slack_out(w, Axis::y, e.value);
        break;
      case CutQuantity::z_zero:
        if (e.U < smallest_depth(work.coupon) / 2)
          too_deep = e.value;
        else  // the next cut might be none at all
          work.r.problems.push_back(fmt::format(
              "Measure the cut: Z zero is told to {:.1f} mm only, too coarse for the depths that are cut; it was left "
              "where the plate set it.",
              e.U));
        break;
    }
    if (!done) return tl::make_unexpected(done.error());
  }
  return too_deep;
}

}  // namespace

Result<void> correct_scale(Work& work, Axis a, double error, double U) {
  const double steps = corrected_steps(work.w.book.machine.axis(a).steps_per_mm, error);
  const auto& known = work.r.axes[index(a)];
  // What was measured better is not spoilt by a short part.
  if (known.U_steps && U > *known.U_steps / steps) return {};
  const double before = work.w.book.machine.axis(a).steps_per_mm;
  keep_steps(work, a,
             result_of(StepsEntry{
                 .scale = 1 + error, .U_scale = U, .new_steps = steps, .U_new_steps = steps * U / (1 + error)}),
             before, steps);
  return set_steps(work.w, a, steps);
}

void take_slack_out(Workshop& w, Axis axis, double lost) {
  if (lost > slack_worth_mm) w.bench.adjust_nut(axis);
}

Result<void> run_cut(Work& work) {
  Workshop& w = work.w;
  w.bench.set_clip(false);  // nobody starts the spindle with the clip on the cutter
  ProgramRun run;
  if (auto ok = run.start(w.link, work.coupon.text); !ok) return ok;
  for (double t = 0; run.state() == RunState::running && t < Workshop::longest_s; t += Workshop::tick_s) {
    run.tick();
    w.wait(Workshop::tick_s);
    if (w.link.status().state == MachineState::held) w.link.go_on();  // what it waits for was done before
  }
  if (run.state() != RunState::finished)
    return fail("stopped", run.why().empty() ? w.link.status().message : run.why());
  if (auto ok = w.settle(); !ok) return ok;
  w.bench.set_clip(true);
  return w.go(Axis::z, w.safe_z());
}

Verdict stock_and_program(Work& work) {
  Workshop& w = work.w;
  if (lines::are_made(w.book)) return lines::stock_and_program(work);
  const auto stock = w.bench.stock_seen();
  if (!stock) return fail("no_stock", "There is no stock on the bed, so nothing can be cut.");
  // The one nearest to the usual first; where its test cut does not fit the stock, thinner ones.
  std::vector<Tool> cutters;
  for (const Tool& t : w.book.tools)
    if (t.diameter > 0) cutters.push_back(t);
  if (cutters.empty()) return fail("no_tool", "There is no tool whose diameter is known.");
  std::sort(cutters.begin(), cutters.end(), [](const Tool& a, const Tool& b) {
    return std::fabs(a.diameter - usual_cutter_mm) < std::fabs(b.diameter - usual_cutter_mm);
  });
  // How thick it is, by eye: once over it, once over the bed.
  if (auto ok = w.go_over((stock->x0 + stock->x1) / 2, (stock->y0 + stock->y1) / 2); !ok)
    return tl::make_unexpected(ok.error());
  const double over_stock = w.bench.gap_seen();
  if (auto ok = w.go_over(w.low(Axis::x), w.low(Axis::y)); !ok) return tl::make_unexpected(ok.error());
  const double thickness = std::max(1.0, w.bench.gap_seen() - over_stock);
  w.book.job.stock_size = {stock->x1 - stock->x0, stock->y1 - stock->y0, thickness};
  w.book.job.stock_corner = {0, 0};
  work.setting.stock_width = std::min(most_width_mm, w.book.job.stock_size[0]);
  work.setting.stock_height = std::min(most_height_mm, w.book.job.stock_size[1]);
  work.setting.thickness = thickness;
  work.setting.depth = std::min(work.setting.depth, thickness / 2);
  work.setting.rpm = std::min(work.setting.rpm, w.book.machine.spindle.max_rpm);
  work.setting.rest = 0;
  for (const Axis a : {Axis::x, Axis::y}) {
    const RehearsedAxis& known = work.r.axes[index(a)];
    work.setting.rest = std::max(work.setting.rest, last_pass_rest(known.lost_motion, known.U_lost_motion.value_or(0)));
  }
  Result<void> made;
  for (const Tool& cutter : cutters) {
    work.setting.tool = cutter.number;
    work.setting.tool_diameter = cutter.diameter;
    made = make_cut(work);
    if (made || made.error().code != "no_room") break;
  }
  if (!made) return tl::make_unexpected(made.error());
  work.r.cutter = work.setting.tool;
  work.r.nominal_cutter = work.setting.tool_diameter;
  if (auto ok = put_tool(w, work.setting.tool); !ok) return tl::make_unexpected(ok.error());
  return fmt::format("a test cut with {} sizes", work.coupon.features.size());
}

Verdict work_zero(Work& work) {
  if (lines::are_made(work.w.book)) return lines::work_zero(work);
  if (auto ok = zero_at_the_corner(work, 0); !ok) return tl::make_unexpected(ok.error());
  return std::string("set at the corner, Z on the stock's top");
}

Verdict ready_check(Work& work) {
  CheckSetting setting;
  setting.tool = work.w.link.status().tool;
  setting.end_s = estimate_time(work.coupon.program, kinematics_of(work.w.book.machine)).end_s;
  const auto findings = check_program(work.coupon.program, work.w.book, setting);
  for (const Finding& f : findings)
    if (f.weight == Weight::stops) return fail(f.code, f.message);
  return fmt::format("nothing stops it, {} warnings", count(findings, Weight::warns));
}

Verdict cut(Work& work) {
  if (!lines::are_made(work.w.book))
    if (auto ok = touch_the_tops(work); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = run_cut(work); !ok) return tl::make_unexpected(ok.error());
  return std::string("done");
}

Verdict measure_cut(Work& work) {
  Workshop& w = work.w;
  if (lines::are_made(w.book)) return lines::measure_cut(work);
  const auto instrument = w.finest_for(most_width_mm / 2);
  if (!instrument) return fail("no_instrument", "No instrument here can measure the part.");
  const auto first = measured(work, *instrument);
  if (!first) return tl::make_unexpected(first.error());
  FirstCutInput in;
  in.tool_diameter = work.setting.tool_diameter;
  in.instrument = *instrument;
  in.features = first->features;
  for (const Axis a : {Axis::x, Axis::y}) in.lost_motion[index(a)] = work.slack[index(a)];
  const RehearsedAxis& z = work.r.axes[index(Axis::z)];
  if (z.steps_per_mm && z.U_steps)
    in.scale_z =
        known_of(w.book.machine.axis(Axis::z).steps_per_mm / *z.steps_per_mm - 1, *z.U_steps / *z.steps_per_mm);
  const auto said = read_first_cut(in);
  if (!said) return tl::make_unexpected(said.error());
  work.r.first_cut = *said;
  for (const Axis a : all_axes) work.r.steps_when_cut[index(a)] = w.setting(a, "steps_per_mm");
  work.r.worst_before = first->worst;
  keep_cutter(work, *said, first->worst);
  const auto too_deep = correct(work, *said);
  if (!too_deep) return tl::make_unexpected(too_deep.error());
  if (work.by_part && good_enough(work)) return fmt::format("largest deviation {:.2f} mm, put right", first->worst);
  // The same again on a fresh blank.
  if (auto ok = w.home(); !ok) return tl::make_unexpected(ok.error());
  w.bench.lay_fresh_stock();
  if (auto ok = zero_at_the_corner(work, *too_deep); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = make_cut(work); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = touch_the_tops(work); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = run_cut(work); !ok) return tl::make_unexpected(ok.error());
  const auto second = measured(work, *instrument);
  if (!second) return tl::make_unexpected(second.error());
  work.r.worst_after = second->worst;
  // Of a dozen readings the worst is off by three of their standard uncertainties without anything being wrong.
  if (second->worst > std::max(second_cut_within_mm, 3 * instrument->u_mm(most_width_mm)))
    work.r.problems.push_back(
        fmt::format("Measure the cut: after the corrections a size is still off by {:.2f} mm.", second->worst));
  return fmt::format("largest deviation {:.2f} mm, after the corrections {:.2f} mm", first->worst, second->worst);
}

}  // namespace ypsi::rehearsal
