#include "core/program/following_copy.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/calibration/surface_map.h"
#include "core/program/arc.h"
#include "core/program/interpreter.h"
#include "core/program/place_map.h"
#include "core/program/reader.h"

namespace ypsi {
namespace {

constexpr int most_halvings = 12;
constexpr double finest_mm = 0.05;  // shorter pieces are not broken

WorkPosition part_of(const WorkPosition& from, const WorkPosition& to, double part) {
  WorkPosition at;
  for (const Axis a : all_axes) at[a] = from[a] + part * (to[a] - from[a]);
  return at;
}

class SurfaceFollower final : public PlaceMap {
 public:
  SurfaceFollower(const HeightGrid& top, double tolerance) : top_(top), tolerance_(tolerance) {}
  std::vector<WorkPosition> way(const WorkPosition& from, const WorkPosition& wanted, bool) override {
    std::vector<WorkPosition> out;
    follow(from, wanted, 0, out);
    return out;
  }
  bool moves_heights() const override { return true; }

 private:
  double lift(const WorkPosition& at) const { return height_at(top_, at.x, at.y); }
  /// Halved until the surface lies straight between the ends, looked at in three places.
  void follow(const WorkPosition& from, const WorkPosition& to, int halved, std::vector<WorkPosition>& out) const {
    const double first = lift(from), last = lift(to);
    const bool short_way = std::hypot(to.x - from.x, to.y - from.y) < finest_mm || halved >= most_halvings;
    const bool straight =
        short_way || std::all_of(looked_at.begin(), looked_at.end(), [&](double part) {
          return std::fabs(lift(part_of(from, to, part)) - (first + part * (last - first))) <= tolerance_;
        });
    if (straight) {
      out.push_back({to.x, to.y, to.z + last});
      return;
    }
    const WorkPosition middle = part_of(from, to, 0.5);
    follow(from, middle, halved + 1, out);
    follow(middle, to, halved + 1, out);
  }
  static constexpr std::array looked_at{0.25, 0.5, 0.75};
  const HeightGrid& top_;
  double tolerance_;
};

/// How far a move ends, or an arc goes, beside what was touched.
double beside(const HeightGrid& top, const Program& program, const WorkPosition& from, const Motion& motion) {
  const auto over = [&](const WorkPosition& at) { return std::max(beyond(top.xs, at.x), beyond(top.ys, at.y)); };
  double most = over(motion.end);
  if (!is_arc(motion)) return most;
  const ArcWay arc = arc_way(from, motion, program.arc_of(motion));
  constexpr int places = 16;
  for (int i = 1; i < places; ++i) most = std::max(most, over(arc.at(static_cast<double>(i) / places)));
  return most;
}

}  // namespace

Result<CorrectedCopy> following_copy(std::string_view text, const HeightGrid& top, double tolerance) {
  if (top.xs.size() < 2 || top.ys.size() < 2 || top.heights.size() != top.xs.size() * top.ys.size())
    return fail("out_of_range", "A surface needs two places at least each way.", "top");
  const auto [low, high] = std::minmax_element(top.heights.begin(), top.heights.end());
  if (!(std::max(std::fabs(*low), std::fabs(*high)) <= most_followed_mm))
    return fail(
        "far_off",
        fmt::format("The surface that was touched lies {:.2f} to {:.2f} mm from work zero. Set Z zero on it with "
                    "the tool and the plate that touched it.",
                    *low, *high),
        "top");
  const auto read = read_program(text);
  if (!read) return tl::make_unexpected(read.error());
  WorkPosition from;
  for (const Motion& m : read->motions) {
    const double over = is_cut(m) ? beside(top, *read, from, m) : 0;
    from = m.end;
    if (over > 0)
      return program_error(
          m.line, 1,
          fmt::format("it cuts {:.1f} mm beside what was touched, where nobody knows the height; touch "
                      "a grid over all that is cut.",
                      over),
          "beyond_map");
  }
  SurfaceFollower map(top, tolerance);
  return mapped_copy(text, map, tolerance,
                     fmt::format("following copy: Z follows a surface of {} touches, {:+.3f} to {:+.3f} mm from work "
                                 "zero, within {:g} mm",
                                 top.heights.size(), *low, *high, tolerance));
}

}  // namespace ypsi
