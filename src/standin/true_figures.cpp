#include "standin/true_figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "standin/truth.h"

namespace ypsi::standin {
namespace {

constexpr double far_off_in_U = 1.5, mrad_a_rad = 1000;

/// One after the other, where there is a U.
class Figures {
 public:
  void take(std::string figure, const char* unit, std::optional<double> told, std::optional<double> U, double truth) {
    if (told && U && *U > 0) all.push_back({std::move(figure), unit, *told, *U, truth});
  }
  std::vector<TrueFigure> all;
};

void take_cutter(Figures& out, const Rehearsal& r, const Scenario& s) {
  const PhysicalTool* cutter = s.tool(r.cutter);
  if (!r.first_cut || !r.nominal_cutter || !cutter) return;
  for (const CutEstimate& e : r.first_cut->estimates)
    if (e.quantity == CutQuantity::tool_diameter)
      out.take("cutter", "mm", *r.nominal_cutter + e.value, e.U, s.cut_width(*cutter));
}

void take_heads(Figures& out, const Rehearsal& r, const Plant& plant) {
  const Scenario& s = plant.scenario();
  for (const Head& head : r.book.machine.heads) {
    const auto which = plant.head_named(head.name);
    if (!which) continue;
    const PhysicalHead& is = s.heads[*which];
    if (head.place) {
      const double first_x = s.heads.front().offset_x, first_y = s.heads.front().offset_y;
      out.take(head.name + ", X", "mm", double{head.place->x_mm}, head.place->U_mm, is.offset_x - first_x);
      out.take(head.name + ", Y", "mm", double{head.place->y_mm}, head.place->U_mm, is.offset_y - first_y);
    }
    if (is.trailing > 0) out.take(head.name + ", trailing", "mm", head.trailing_mm, head.U_trailing_mm, is.trailing);
  }
}

}  // namespace

bool TrueFigure::far_off() const {
  return std::fabs(told - truth) > far_off_in_U * U;
}

std::vector<TrueFigure> true_figures(const Rehearsal& told, ServedMachine& machine) {
  const Plant& plant = truth_of(machine).plant();
  const Scenario& s = plant.scenario();
  Figures out;
  for (const Axis a : all_axes) {
    const RehearsedAxis& found = told.axes[index(a)];
    const AxisTruth& is = s.axes[index(a)];
    out.take(fmt::format("steps of {}", letter(a)), "a mm", found.steps_per_mm, found.U_steps,
             is.true_steps_per_mm / s.growth());
    out.take(fmt::format("lost motion of {}", letter(a)), "mm", found.lost_motion, found.U_lost_motion, is.lost_motion);
  }
  if (told.skew && told.U_skew)
    out.take("lean", "mrad", *told.skew * mrad_a_rad, *told.U_skew * mrad_a_rad, s.skew * mrad_a_rad);
  out.take("plate", "mm", told.plate_thickness, told.U_plate_thickness, s.plate.thickness);
  const PhysicalTool* reference = told.book.setter ? s.tool(told.book.setter->reference_tool) : nullptr;
  for (const RehearsedTool& t : told.tools)
    if (const PhysicalTool* is = s.tool(t.number); is && reference)
      out.take(fmt::format("tool {}", t.number), "mm", t.offset, t.U, is->stickout - reference->stickout);
  take_cutter(out, told, s);
  take_heads(out, told, plant);
  return std::move(out.all);
}

std::string far_off_words(const TrueFigure& f) {
  const int digits = std::clamp(1 - static_cast<int>(std::floor(std::log10(f.U))), 0, 9);
  return fmt::format(
      "{} came out as {:.{}f} {} ±{:.{}f}, and {:.{}f} is true: {:.1f} times as far off as it says. Of a thousand such "
      "figures about three are, by chance.",
      f.figure, f.told, digits, f.unit, f.U, digits, f.truth, digits, std::fabs(f.told - f.truth) / f.U);
}

}  // namespace ypsi::standin
