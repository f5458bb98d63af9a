#pragma once
// What cutting leaves of the stock: the volume swept by a flat-ended round tool, as exact sweeps, which answer what an
// instrument would be laid to. All in the physical frame, mm.
#include <array>
#include <span>
#include <vector>

namespace ypsi::standin {

using Point3 = std::array<double, 3>;

/// A straight stretch of the tip's path; the tool's radius is above zero.
struct Sweep {
  Point3 from{}, to{};
  double radius = 0;
  bool operator==(const Sweep&) const = default;
};

struct Interval {
  double low = 0, high = 0;
};

/// Part of the line origin + t·direction (a unit vector in X and Y) from which the sweeps took everything above
/// `level`, as intervals of t: apart, rising. The sweep of a round, flat-ended tool is a chain of such stretches, so
/// the ends are exact for straight paths.
std::vector<Interval> gaps_along(std::span<const Sweep> sweeps, std::array<double, 2> origin,
                                 std::array<double, 2> direction, double level);
/// The lowest place the tool's end reached over this point; `untouched` where it never came.
double floor_at(std::span<const Sweep> sweeps, double x, double y, double untouched);

class CutStock {
 public:
  /// `path_tolerance`: stretches of a path nearer to a straight line than this are one sweep; about a motor's step.
  explicit CutStock(double path_tolerance) : tolerance_(path_tolerance) {}
  /// The tip is here, cutting; successive calls make a path.
  void cut_to(const Point3& tip, double radius);
  void lift();   ///< the path ends here
  void clear();  ///< a fresh blank
  /// Sweeps so far; the path in hand is closed first.
  std::span<const Sweep> sweeps();

 private:
  void close_stretch(const Point3& to);
  bool stretches_to(const Point3& tip);
  double tolerance_;
  double off_ = 0;  ///< no point of the stretch in hand lies further from it
  double radius_ = 0;
  std::vector<Point3> path_;  ///< of the stretch in hand: its start, and what came since
  std::vector<Sweep> sweeps_;
};

}  // namespace ypsi::standin
