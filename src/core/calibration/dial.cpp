#include "core/calibration/dial.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {

Result<void> put_in_order(std::vector<DialPoint>& points) {
  if (points.size() < 2) return fail("too_few", "A dial needs two positions with their speeds at least.");
  for (const auto& p : points)
    if (!std::isfinite(p.position) || !std::isfinite(p.rpm) || !(p.rpm > 0))
      return fail("out_of_range", "Every speed of the dial must be above zero.");
  std::sort(points.begin(), points.end(), [](const auto& a, const auto& b) { return a.position < b.position; });
  for (std::size_t i = 1; i < points.size(); ++i)
    if (points[i].position == points[i - 1].position || points[i].rpm <= points[i - 1].rpm)
      return fail("degenerate", fmt::format("The speeds must rise with the dial; position {:g} does not fit in.",
                                            points[i].position));
  return {};
}

double between(double x, double x0, double x1, double y0, double y1) {
  return y0 + (x - x0) / (x1 - x0) * (y1 - y0);
}

tl::unexpected<Error> beyond(const std::vector<DialPoint>& points, double wanted, const char* unit) {
  return fail("out_of_range", fmt::format("{:g}{} is beyond this dial, which goes from {:g} ({:.0f} rpm) to {:g} "
                                          "({:.0f} rpm).",
                                          wanted, unit, points.front().position, points.front().rpm,
                                          points.back().position, points.back().rpm));
}

}  // namespace

Result<double> dial_position(std::vector<DialPoint> points, double rpm) {
  if (auto sound = put_in_order(points); !sound) return tl::make_unexpected(sound.error());
  if (!(rpm >= points.front().rpm && rpm <= points.back().rpm)) return beyond(points, rpm, " rpm");
  std::size_t i = 1;
  while (i + 1 < points.size() && rpm > points[i].rpm) ++i;
  return between(rpm, points[i - 1].rpm, points[i].rpm, points[i - 1].position, points[i].position);
}

Result<double> dial_rpm(std::vector<DialPoint> points, double position) {
  if (auto sound = put_in_order(points); !sound) return tl::make_unexpected(sound.error());
  if (!(position >= points.front().position && position <= points.back().position)) return beyond(points, position, "");
  std::size_t i = 1;
  while (i + 1 < points.size() && position > points[i].position) ++i;
  return between(position, points[i - 1].position, points[i].position, points[i - 1].rpm, points[i].rpm);
}

}  // namespace ypsi
