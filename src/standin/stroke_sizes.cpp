#include "standin/stroke_sizes.h"

#include <cmath>

namespace ypsi::standin {
namespace {

using Strokes = std::vector<const Stroke*>;

/// Takes the candidate that lies nearest to a place.
class Nearest {
 public:
  explicit Nearest(double place) : place_(place) {}
  void offer(double candidate) {
    if (const double away = std::fabs(candidate - place_); away <= away_) {
      away_ = away;
      found_ = candidate;
    }
  }
  std::optional<double> found() const { return found_; }

 private:
  double place_, away_ = line_found_within_mm;
  std::optional<double> found_;
};

/// Where a line crosses the one through `through` along axis `i`, nearest to `place` on it.
std::optional<Point3> crossing_point(const Strokes& strokes, std::size_t i, std::array<double, 2> through,
                                     double place) {
  const std::size_t across = 1 - i;
  std::optional<Point3> found;
  double away = line_found_within_mm;
  for (const Stroke* s : strokes)
    for (std::size_t n = 1; n < s->points.size(); ++n) {
      const Point3 &a = s->points[n - 1], &b = s->points[n];
      const double rise = b[across] - a[across], part = rise == 0 ? -1 : (through[across] - a[across]) / rise;
      if (part < 0 || part > 1) continue;
      const Point3 here{a[0] + part * (b[0] - a[0]), a[1] + part * (b[1] - a[1]), a[2] + part * (b[2] - a[2])};
      if (const double off = std::fabs(here[i] - place); off <= away) {
        away = off;
        found = here;
      }
    }
  return found;
}

std::optional<double> crossing(const Strokes& strokes, std::size_t i, std::array<double, 2> through, double place) {
  const auto at = crossing_point(strokes, i, through, place);
  return at ? std::optional((*at)[i]) : std::nullopt;
}

std::optional<std::array<double, 2>> cross_at(const Strokes& strokes, std::array<double, 2> about) {
  const auto x = crossing(strokes, 0, about, about[0]);
  const auto y = crossing(strokes, 1, about, about[1]);
  if (!x || !y) return std::nullopt;
  return std::array{*x, *y};
}

/// The end of a line that was drawn towards + or - of axis `i`.
std::optional<double> end_at(const Strokes& strokes, std::size_t i, std::array<double, 2> about, bool towards_plus,
                             double place) {
  constexpr double same_row_mm = 3;
  Nearest nearest(place);
  for (const Stroke* s : strokes) {
    const Point3 &a = s->points.front(), &b = s->points.back();
    if (std::fabs(b[1 - i] - about[1 - i]) < same_row_mm && (b[i] > a[i]) == towards_plus && a[i] != b[i])
      nearest.offer(b[i]);
  }
  return nearest.found();
}

}  // namespace

std::optional<Point3> line_at(const Strokes& strokes, Axis along, std::array<double, 2> at) {
  const std::size_t i = along == Axis::y ? 1 : 0;
  return crossing_point(strokes, i, at, at[i]);
}

std::optional<double> size_between(const Strokes& strokes, CutFeature::Kind kind, Axis along, std::array<double, 2> at,
                                   std::array<double, 2> other, double nominal) {
  const std::size_t i = along == Axis::y ? 1 : 0;
  std::optional<double> low, high;
  switch (kind) {
    case CutFeature::Kind::inside:
    case CutFeature::Kind::outside:
    case CutFeature::Kind::between:
      low = crossing(strokes, i, at, at[i] - nominal / 2);
      high = crossing(strokes, i, at, at[i] + nominal / 2);
      break;
    case CutFeature::Kind::spacing:
    case CutFeature::Kind::beside:
      low = crossing(strokes, i, at, at[i]);
      high = crossing(strokes, i, other, other[i]);
      break;
    case CutFeature::Kind::gap:
      low = end_at(strokes, i, at, true, at[i] - nominal / 2);
      high = end_at(strokes, i, at, false, at[i] + nominal / 2);
      break;
    case CutFeature::Kind::diagonal: {
      const auto a = cross_at(strokes, at), b = cross_at(strokes, other);
      if (!a || !b) return std::nullopt;
      return std::hypot((*b)[0] - (*a)[0], (*b)[1] - (*a)[1]);
    }
    case CutFeature::Kind::depth:
    case CutFeature::Kind::width:
      break;
  }
  if (!low || !high) return std::nullopt;
  return std::fabs(*high - *low);
}

}  // namespace ypsi::standin
