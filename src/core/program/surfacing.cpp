#include "core/program/surfacing.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/program/interpreter.h"

namespace ypsi {
namespace {

constexpr double most_passes = 20000;
constexpr double ramp_mm = 60;  // a flat cutter cannot plunge: it comes down along the first pass

class Writer {
 public:
  explicit Writer(const SurfacingPlan& plan) : plan_(plan) {}

  Surfacing write() {
    const double along = plan_.along_y ? plan_.height : plan_.width,
                 across = plan_.along_y ? plan_.width : plan_.height;
    // The first and the last pass reach the area's edge with the cutter's side; a narrow area needs but one.
    const double between = std::max(0.0, across - plan_.cutter_diameter);
    const int steps = static_cast<int>(std::ceil(between / plan_.stepover - 1e-9));
    const double first = (across - between) / 2;
    out_.passes = steps + 1;
    out_.layers = static_cast<int>(std::ceil(plan_.depth / plan_.depth_per_pass - 1e-9));
    ProgramHead head;
    head.remarks = {
        fmt::format("surfacing: {:g} x {:g} mm, {:g} mm deep in {} layers, cutter {:g} mm, stepover {:g} mm",
                    plan_.width, plan_.height, plan_.depth, out_.layers, plan_.cutter_diameter, plan_.stepover)};
    head.zero =
        fmt::format("Z 0 on the highest place; the area's front left corner is at X {:g} Y {:g}", plan_.x0, plan_.y0);
    head.frame = plan_.frame;
    head.lift = plan_.lift;
    head.rpm = plan_.rpm;
    head.spin_up_s = plan_.spin_up_s;
    out_.text = program_head(head);
    for (int layer = 1; layer <= out_.layers; ++layer) {
      const double above = plan_.depth * (layer - 1) / out_.layers, z = plan_.depth * layer / out_.layers;
      out_.text += fmt::format("(layer {} of {})\n", layer, out_.layers);
      for (int pass = 0; pass <= steps; ++pass) {
        const double side = first + (steps > 0 ? between * pass / steps : 0);
        const bool back = plan_.way == SurfacingWay::both_ways && pass % 2 == 1;
        const double from = back ? along : 0, to = back ? 0 : along;
        if (pass == 0 || plan_.way == SurfacingWay::one_way)
          come_down(from, to, side, above, z);
        else
          move(from, side, plan_.feed);
        move(to, side, plan_.feed);
        if (plan_.way == SurfacingWay::one_way) out_.text += fmt::format("G0 Z{:.3f}\n", plan_.lift);
      }
      if (plan_.way == SurfacingWay::both_ways) out_.text += fmt::format("G0 Z{:.3f}\n", plan_.lift);
    }
    if (plan_.rpm > 0) out_.text += "M5\n";
    out_.text += "M2\n";
    return std::move(out_);
  }

 private:
  std::string place(double along, double side) const {
    return plan_.along_y ? fmt::format("X{:.3f} Y{:.3f}", plan_.x0 + side, plan_.y0 + along)
                         : fmt::format("X{:.3f} Y{:.3f}", plan_.x0 + along, plan_.y0 + side);
  }
  void move(double along, double side, double feed) {
    out_.text += fmt::format("G1 {} F{:.0f}\n", place(along, side), feed);
  }
  void come_down(double from, double to, double side, double above, double z) {
    out_.text += fmt::format("G0 {}\nG1 Z{:.3f} F{:.0f}\n", place(from, side), -above, plan_.plunge_feed);
    const double way = std::clamp(to - from, -ramp_mm, ramp_mm);
    out_.text += fmt::format("G1 {} Z{:.3f} F{:.0f}\n", place(from + way, side), -z, plan_.feed);
    move(from, side, plan_.feed);
  }

  const SurfacingPlan& plan_;
  Surfacing out_;
};

}  // namespace

Result<Surfacing> surfacing_program(const SurfacingPlan& plan) {
  const struct {
    double value;
    const char *name, *where;
  } positive[] = {{plan.width, "width of the area", "width"},
                  {plan.height, "height of the area", "height"},
                  {plan.cutter_diameter, "cutter's diameter", "cutter_diameter"},
                  {plan.stepover, "stepover", "stepover"},
                  {plan.depth, "depth", "depth"},
                  {plan.depth_per_pass, "depth of a layer", "depth_per_pass"},
                  {plan.feed, "feed", "feed"},
                  {plan.plunge_feed, "feed downwards", "plunge_feed"},
                  {plan.lift, "height between passes", "lift"}};
  for (const auto& p : positive)
    if (!(p.value > 0) || !std::isfinite(p.value))
      return fail("out_of_range", fmt::format("The {} must be above zero.", p.name), p.where);
  if (!(plan.rpm >= 0) || !std::isfinite(plan.rpm))
    return fail("out_of_range", "The spindle's speed must not be below zero.", "rpm");
  if (!std::isfinite(plan.x0) || !std::isfinite(plan.y0))
    return fail("out_of_range", "The area's corner must be a place on the bed.", "x0");
  if (!(plan.stepover < plan.cutter_diameter))
    return fail("degenerate", "The stepover must be below the cutter's diameter, or stripes are left standing.",
                "stepover");
  if (std::max(plan.width, plan.height) / plan.stepover * (plan.depth / plan.depth_per_pass + 1) > most_passes)
    return fail("too_long", "That would take more than 20,000 passes; take a larger stepover or fewer layers.",
                "stepover");
  Surfacing out = Writer(plan).write();
  auto read = read_program(out.text);
  if (!read) return tl::make_unexpected(read.error());
  out.program = std::move(*read);
  const auto& motions = out.program.motions;
  for (std::size_t i = 1; i < motions.size(); ++i)  // the first lifts
    out.reach.include(motions[i].end.x, motions[i].end.y, motions[i].end.z);
  return out;
}

}  // namespace ypsi
