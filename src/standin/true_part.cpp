#include "standin/true_part.h"

#include <algorithm>
#include <cmath>

#include "core/program/head_coupon.h"
#include "standin/truth.h"

namespace ypsi::standin {
namespace {

constexpr double run_up_mm = 3;

struct Contour {
  double width = 0, height = 0, square = 0;  ///< of the tool's path, physical
};

/// Once and a quarter round, counter-clockwise from the back left, as test cuts go; looked at in the middle of sides.
Result<Contour> gone_round(Workshop& w, ServedMachine& m, double x, double y, double half) {
  Point3 left{}, bottom{}, right{}, top{}, low{}, high{};
  const struct {
    Axis axis;
    double place;
    Point3* seen;
  } way[] = {
      {Axis::x, x - half + run_up_mm, nullptr},
      {Axis::y, y + half, nullptr},
      {Axis::x, x - half, nullptr},
      {Axis::y, y - half, nullptr},
      {Axis::x, x, &bottom},
      {Axis::x, x + half, &low},
      {Axis::y, y, &right},
      {Axis::y, y + half, &high},
      {Axis::x, x, &top},
      {Axis::x, x - half, nullptr},
      {Axis::y, y, &left},
  };
  for (const auto& leg : way) {
    if (auto ok = w.go(leg.axis, leg.place); !ok) return tl::make_unexpected(ok.error());
    if (leg.seen) *leg.seen = truth_of(m).plant().nose();
  }
  return Contour{right[0] - left[0], top[1] - bottom[1], std::fabs(high[0] - low[0])};
}

}  // namespace

Result<TruePart> true_part(Workshop& w, ServedMachine& m, double tool_diameter, double side) {
  if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return tl::make_unexpected(ok.error());
  TruePart part;
  // What a wheel, a knife or a point leaves has no width to be counted.
  const bool by_heads = cut_by_heads(w.book.machine) || truth_of(m).plant().tool().angle > 0;
  if (by_heads) tool_diameter = 0;
  const double around = tool_diameter + 2 * run_up_mm;
  part.side = std::min({side, w.high(Axis::x) - w.low(Axis::x) - around, w.high(Axis::y) - w.low(Axis::y) - around});
  if (!(part.side > 0)) return fail("no_room", "There is no room for a frame within the soft limits.");
  const double x = (w.low(Axis::x) + w.high(Axis::x)) / 2, y = (w.low(Axis::y) + w.high(Axis::y)) / 2;
  const auto& tool = truth_of(m).plant().tool();
  const auto& s = truth_of(m).scenario();
  const double cuts = by_heads ? 0 : s.cut_width(tool);
  const auto off = [&](double size) { part.worst_size = std::max(part.worst_size, std::fabs(size - part.side)); };
  const auto inside = gone_round(w, m, x, y, (part.side - tool_diameter) / 2);
  if (!inside) return tl::make_unexpected(inside.error());
  off(inside->width + cuts);
  off(inside->height + cuts);
  const auto outside = gone_round(w, m, x, y, (part.side + tool_diameter) / 2);
  if (!outside) return tl::make_unexpected(outside.error());
  off(outside->width - cuts);
  off(outside->height - cuts);
  part.worst_square = outside->square * part.side / (part.side + tool_diameter);
  return part;
}

}  // namespace ypsi::standin
