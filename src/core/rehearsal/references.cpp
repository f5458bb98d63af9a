// Touch plate, tool setter, tools.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/calibration/tool_setter.h"
#include "core/metrology/coverage.h"
#include "core/metrology/spread.h"
#include "core/procedures/probe_circuit.h"
#include "core/procedures/setter_touch.h"
#include "core/rehearsal/parts.h"

namespace ypsi::rehearsal {
namespace {

constexpr double over_plate_mm = 6, search_mm = 16, unknown_plate_mm = 20, touch_settles_s = 0.4;
constexpr int plate_touches = 5, setter_touches = 5;
constexpr double worth_telling_mm = 0.3, moved_mm = 3;

/// The bare surface: by touch where it conducts, else by paper, which drags within a tenth of a millimetre.
struct Surface {
  double z = 0, u = 0;
};
Result<Surface> bare_surface(Workshop& w, double step) {
  if (auto ok = w.down_to_gap(2); !ok) return tl::make_unexpected(ok.error());
  constexpr double small_mm = 0.05, paper_mm = 0.1;
  for (int i = 0; i < 100 && w.bench.gap_seen() > 0; ++i)
    if (auto ok = w.go(Axis::z, w.link.status().position.z - small_mm); !ok) return tl::make_unexpected(ok.error());
  const double dragging = w.link.status().position.z;
  if (const auto touched = touch_down(w, paper_mm + small_mm)) {
    const double s = sample_deviation(*touched).value_or(0);
    return Surface{mean(*touched), std::sqrt(s * s / static_cast<double>(touched->size()) + step * step / 12)};
  }
  return Surface{dragging - (paper_mm - small_mm / 2), small_mm / std::sqrt(12)};
}

Result<std::vector<double>> on_the_setter(Workshop& w, double x, double y) {
  if (auto ok = see_the_circuit(w); !ok) return tl::make_unexpected(ok.error());
  SetterWay way;
  way.x = x;
  way.y = y;
  way.safe_z = w.safe_z();
  way.touch.search = way.safe_z - w.low(Axis::z) - 0.1;
  way.touch.fast = 600;
  way.touch.touches = setter_touches;
  SetterTouch touch;
  if (auto ok = touch.start(w.link, way); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = w.run(touch); !ok) return tl::make_unexpected(ok.error());
  return touch.triggers();
}

}  // namespace

Result<std::vector<double>> touch_down(Workshop& w, double search) {
  TouchWay way;
  way.search = search;
  way.touches = plate_touches;
  Touch touch;
  if (auto ok = touch.start(w.link, way); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = w.run(touch); !ok) return tl::make_unexpected(ok.error());
  return touch.triggers();
}

Result<double> top_by_plate(Workshop& w) {
  const double thickness = w.book.plates.front().thickness;
  if (auto ok = w.down_to_gap(thickness + over_plate_mm); !ok) return tl::make_unexpected(ok.error());
  w.bench.lay_plate(PlatePlace::on_stock);
  const auto touched = touch_down(w, search_mm);
  w.bench.lay_plate(PlatePlace::away);
  if (!touched) return tl::make_unexpected(touched.error());
  return mean(*touched) - thickness;
}

Result<void> put_tool(Workshop& w, int number) {
  if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return ok;
  if (w.link.status().tool == number) return {};
  if (auto ok = w.bench.put_tool(number); !ok) return ok;
  w.link.tool_changed(number);
  w.wait(touch_settles_s);
  return {};
}

Result<void> see_the_circuit(Workshop& w) {
  ProbeCircuit circuit;
  w.bench.lay_plate(PlatePlace::away);
  w.wait(touch_settles_s);
  if (auto ok = circuit.start(w.link); !ok) return ok;
  for (const PlatePlace place : {PlatePlace::at_cutter, PlatePlace::away}) {
    w.bench.lay_plate(place);
    w.wait(touch_settles_s);
    circuit.tick(w.link.status());
  }
  if (circuit.works()) return {};
  if (circuit.stage() == ProbeCircuit::Stage::let_go)
    return fail("probe_stuck", "The probe stayed on after the plate was taken from the cutter; look for a short.");
  return fail("no_circuit",
              w.bench.surroundings().clip_on
                  ? "The probe did not come on when the plate was held to the cutter; look at its wires. Nothing moved."
                  : "The probe did not come on when the plate was held to the cutter: its clip is off. Nothing moved.");
}

Verdict touch_plate(Work& work) {
  Workshop& w = work.w;
  if (auto ok = see_the_circuit(w); !ok) return tl::make_unexpected(ok.error());
  if (const auto stock = w.bench.stock_seen())
    if (auto ok = w.go_over((stock->x0 + stock->x1) / 2, (stock->y0 + stock->y1) / 2); !ok)
      return tl::make_unexpected(ok.error());
  const double in_book = w.book.plates.empty() ? 0 : w.book.plates.front().thickness;
  const double expected = in_book > 0 ? in_book : unknown_plate_mm;
  if (auto ok = w.down_to_gap(expected + over_plate_mm); !ok) return tl::make_unexpected(ok.error());
  const bool on_stock = w.bench.stock_seen().has_value();
  w.bench.lay_plate(on_stock ? PlatePlace::on_stock : PlatePlace::on_bed);
  w.wait(touch_settles_s);
  if (w.link.status().inputs.probe) {  // thicker than the book has it: it reaches up to the tool already
    w.bench.lay_plate(PlatePlace::away);
    if (auto ok = w.go(Axis::z, w.link.status().position.z + expected); !ok) return tl::make_unexpected(ok.error());
    w.bench.lay_plate(on_stock ? PlatePlace::on_stock : PlatePlace::on_bed);
    w.wait(touch_settles_s);
  }
  const double to_the_limit = w.link.status().position.z - w.low(Axis::z) - 0.1;
  auto with = touch_down(w, std::min({search_mm + expected, w.bench.gap_seen() - 1, to_the_limit}));
  if (!with) return tl::make_unexpected(with.error());
  w.bench.lay_plate(PlatePlace::away);
  w.wait(touch_settles_s);
  const double step = 1 / w.book.machine.axis(Axis::z).steps_per_mm;
  const auto bare = bare_surface(w, step);
  if (!bare) return tl::make_unexpected(bare.error());
  const double s = sample_deviation(*with).value_or(0);
  const double u = std::hypot(bare->u, std::sqrt(s * s / static_cast<double>(with->size()) + step * step / 12));
  work.r.plate_thickness = mean(*with) - bare->z;
  // Both ends of the way between the two touches are where the screw puts them, and the way is as long as Z's scale.
  const RehearsedAxis& z = work.r.axes[index(Axis::z)];
  work.r.U_plate_thickness = std::hypot(t95(2 * (plate_touches - 1)) * std::hypot(u, std::sqrt(2) * z.place_u),
                                        *work.r.plate_thickness * relative_scale_U(work, Axis::z));
  if (w.book.plates.empty()) w.book.plates.push_back({});
  TouchPlate& plate = w.book.plates.front();
  plate.thickness = *work.r.plate_thickness;
  if (in_book > 0 && std::fabs(in_book - plate.thickness) > worth_telling_mm)
    work.r.problems.push_back(
        fmt::format("Touch plate: it is {:.3f} mm thick, the book had {:.3f}.", plate.thickness, in_book));
  if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return tl::make_unexpected(ok.error());
  return fmt::format("{:.3f} mm thick", plate.thickness);
}

Verdict tool_setter(Work& work) {
  Workshop& w = work.w;
  const auto seen = w.bench.setter_seen();
  if (!seen) {
    // Nobody searches for a setter that is not there.
    if (w.book.setter) work.r.problems.push_back("Tool setter: the book has one, and none stands on the bed.");
    w.book.setter.reset();
    return std::string("there is none; every tool is zeroed on one spot");
  }
  if (w.book.setter && w.book.setter->reference_tool > 0 &&
      std::hypot(w.book.setter->x - (*seen)[0], w.book.setter->y - (*seen)[1]) > moved_mm)
    work.r.problems.push_back(
        fmt::format("Tool setter: it stands at X {:.0f} Y {:.0f}, the book had X {:.0f} Y {:.0f}.", (*seen)[0],
                    (*seen)[1], w.book.setter->x, w.book.setter->y));
  const int reference = w.link.status().tool;
  const auto triggers = on_the_setter(w, (*seen)[0], (*seen)[1]);
  if (!triggers) return tl::make_unexpected(triggers.error());
  w.book.setter = ToolSetter{(*seen)[0], (*seen)[1], reference, coordinates(*triggers)};
  work.r.setter = MachinePosition{(*seen)[0], (*seen)[1], mean(*triggers)};
  return fmt::format("at X {:.0f} Y {:.0f}, s {:.4f} mm", (*seen)[0], (*seen)[1],
                     sample_deviation(*triggers).value_or(0));
}

Verdict tools(Work& work) {
  Workshop& w = work.w;
  if (!w.book.setter || w.book.setter->reference.empty()) return std::string("not measured: no setter");
  const int reference = w.book.setter->reference_tool;
  std::vector<SetterTool> measured;
  for (const Tool& t : w.book.tools) {
    if (t.number == reference) continue;
    if (!put_tool(w, t.number)) continue;  // in the book, but not in the drawer
    const auto triggers = on_the_setter(w, w.book.setter->x, w.book.setter->y);
    if (!triggers) return tl::make_unexpected(triggers.error());
    measured.push_back({t.number, *triggers});
  }
  if (auto ok = put_tool(w, reference); !ok) return tl::make_unexpected(ok.error());
  work.r.tools.push_back({reference, 0, std::nullopt});
  if (measured.empty()) return std::string("one tool, the reference");
  const double step = 1 / w.book.machine.axis(Axis::z).steps_per_mm;
  const auto found = evaluate_setter(plain(w.book.setter->reference), measured, std::nullopt, step);
  if (!found) return tl::make_unexpected(found.error());
  const double place_u = work.r.axes[index(Axis::z)].place_u, scale_U = relative_scale_U(work, Axis::z);
  for (const SetterToolResult& t : found->tools) {
    // Two triggers, each where the screw puts it.
    const double places = 2 * std::numbers::sqrt2 * place_u;
    const std::optional<double> U = t.U ? std::optional(std::hypot(*t.U, places, t.offset * scale_U)) : std::nullopt;
    work.r.tools.push_back({t.number, t.offset, U});
    for (Tool& tool : w.book.tools)
      if (tool.number == t.number) {
        tool.offset = t.offset;
        tool.U_offset = U;
      }
  }
  return fmt::format("{} measured", found->tools.size() + 1);
}

}  // namespace ypsi::rehearsal
