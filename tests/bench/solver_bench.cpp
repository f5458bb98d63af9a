// Our solvers against a general one (Ceres, where it is there) on the same problems: a network of 50 points with all
// 1225 distances, and a circle through 1000 points. Both must give the same answer to 1e-9; the benchmark fails
// otherwise.
#include <benchmark/benchmark.h>

#include <cmath>
#include <random>

#include "core/calibration/probing.h"
#include "core/calibration/squareness.h"

#ifdef YPSI_HAS_CERES
#include <ceres/ceres.h>
#endif

namespace {

using namespace ypsi;

const SquareInput& network() {
  static const SquareInput in = [] {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> x(0, 600), y(0, 400);
    std::normal_distribution<double> noise(0, 0.012);
    SquareInput made;
    made.instrument = {"caliper", 0.01, 1, 0.012, 0, 0};
    for (int i = 0; i < 50; ++i) made.points.push_back({std::to_string(i), {x(random), y(random)}});
    for (std::size_t a = 0; a < 50; ++a)
      for (std::size_t b = a + 1; b < 50; ++b) {
        const double dx = made.points[b].commanded.x - made.points[a].commanded.x,
                     dy = made.points[b].commanded.y - made.points[a].commanded.y;
        made.distances.push_back(
            {a, b, std::hypot(1.001 * dx + 0.999 * dy * std::sin(0.002), 0.999 * dy * std::cos(0.002)) + noise(random),
             HoleEdge::center, 0});
      }
    return made;
  }();
  return in;
}

const std::vector<Point2>& circle_points() {
  static const std::vector<Point2> points = [] {
    std::mt19937 random(5);
    std::normal_distribution<double> noise(0, 0.01);
    std::vector<Point2> made;
    for (int i = 0; i < 1000; ++i)
      made.push_back({120 + 40 * std::cos(i * 0.0063) + noise(random), 80 + 40 * std::sin(i * 0.0063) + noise(random)});
    return made;
  }();
  return points;
}

void network_ours(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(fit_square(network()));
}
BENCHMARK(network_ours)->Unit(benchmark::kMicrosecond);

void circle_ours(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(fit_circle(circle_points(), 0, true));
}
BENCHMARK(circle_ours)->Unit(benchmark::kMicrosecond);

#ifdef YPSI_HAS_CERES

struct DistanceResidual {
  double dx, dy, measured, weight;
  template <class T>
  bool operator()(const T* p, T* r) const {
    using std::cos, std::sin, std::sqrt;
    const T x = p[0] * dx + p[1] * dy * sin(p[2]), y = p[1] * dy * cos(p[2]);
    r[0] = (sqrt(x * x + y * y) - measured) * weight;
    return true;
  }
};
struct CircleResidual {
  double x, y;
  template <class T>
  bool operator()(const T* p, T* r) const {
    using std::sqrt;
    const T dx = p[0] - x, dy = p[1] - y;
    r[0] = sqrt(dx * dx + dy * dy) - p[2];
    return true;
  }
};

ceres::Solver::Options options() {
  ceres::Solver::Options o;
  o.linear_solver_type = ceres::DENSE_QR;
  o.function_tolerance = 1e-16;
  o.parameter_tolerance = 1e-14;
  o.gradient_tolerance = 1e-16;
  o.logging_type = ceres::SILENT;
  return o;
}

void network_ceres(benchmark::State& state) {
  const SquareInput& in = network();
  const double weight = 1 / std::sqrt(in.instrument.own_variance_mm2());
  double p[3];
  for (auto _ : state) {
    p[0] = p[1] = 1;
    p[2] = 0;
    ceres::Problem problem;
    for (const auto& d : in.distances) {
      const Point2 &a = in.points[d.from].commanded, &b = in.points[d.to].commanded;
      problem.AddResidualBlock(new ceres::AutoDiffCostFunction<DistanceResidual, 1, 3>(
                                   new DistanceResidual{b.x - a.x, b.y - a.y, d.measured, weight}),
                               nullptr, p);
    }
    ceres::Solver::Summary summary;
    ceres::Solve(options(), &problem, &summary);
  }
  const auto ours = fit_square(in);
  if (!ours || std::fabs(ours->fit->scale_x - p[0]) > 1e-9 || std::fabs(ours->fit->scale_y - p[1]) > 1e-9 ||
      std::fabs(ours->fit->skew - p[2]) > 1e-9)
    state.SkipWithError("the two solvers differ");
}
BENCHMARK(network_ceres)->Unit(benchmark::kMicrosecond);

void circle_ceres(benchmark::State& state) {
  double p[3];
  for (auto _ : state) {
    p[0] = 119, p[1] = 81, p[2] = 39;
    ceres::Problem problem;
    for (const auto& q : circle_points())
      problem.AddResidualBlock(new ceres::AutoDiffCostFunction<CircleResidual, 1, 3>(new CircleResidual{q.x, q.y}),
                               nullptr, p);
    ceres::Solver::Summary summary;
    ceres::Solve(options(), &problem, &summary);
  }
  const auto ours = fit_circle(circle_points(), 0, true);
  if (!ours || std::fabs(ours->center.x - p[0]) > 1e-9 || std::fabs(ours->center.y - p[1]) > 1e-9 ||
      std::fabs(ours->diameter - 2 * p[2]) > 2e-9)
    state.SkipWithError("the two solvers differ");
}
BENCHMARK(circle_ceres)->Unit(benchmark::kMicrosecond);

#endif

}  // namespace
