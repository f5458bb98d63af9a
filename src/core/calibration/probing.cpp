#include "core/calibration/probing.h"

#include <Eigen/Cholesky>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>

#include "core/metrology/coverage.h"
#include "core/metrology/spread.h"

namespace ypsi {
namespace {

constexpr double on_a_line = 1e-9;  // width over length of the cloud of points

/// Width over length of points about their middle. Of two by two the singular values have closed forms, which compile
/// in no time.
double slenderness(const Eigen::MatrixX2d& points) {
  const double xx = points.col(0).squaredNorm(), yy = points.col(1).squaredNorm(),
               xy = points.col(0).dot(points.col(1));
  const double direction = 0.5 * std::atan2(2 * xy, xx - yy);
  const Eigen::Vector2d along(std::cos(direction), std::sin(direction)), across(-along(1), along(0));
  return (points * across).norm() / (points * along).norm();
}

/// The larger eigenvalue of a symmetric two by two.
double largest_eigenvalue(const Eigen::Matrix2d& of) {
  return (of(0, 0) + of(1, 1)) / 2 + std::hypot((of(0, 0) - of(1, 1)) / 2, of(0, 1));
}

}  // namespace

PlateResult touch_plate(double trigger_z, double thickness, bool plate_on_stock, bool reference_is_bed,
                        double stock_thickness) {
  PlateResult out;
  out.surface_z = trigger_z - thickness;
  out.work_zero_z = out.surface_z;
  if (plate_on_stock && reference_is_bed) out.work_zero_z -= stock_thickness;
  if (!plate_on_stock && !reference_is_bed) out.work_zero_z += stock_thickness;
  return out;
}

double touched_edge(double trigger, bool towards_plus, double tool_diameter, double wall) {
  return trigger + (towards_plus ? 1 : -1) * (tool_diameter / 2 + wall);
}

Point2 turned_corner(const WallTouch& x, const WallTouch& y, double tool_diameter, double turn) {
  const double tangent = std::tan(turn), cosine = std::cos(turn);
  const auto line = [&](const WallTouch& t) {
    return t.trigger + (t.towards_plus ? 1 : -1) * (tool_diameter / 2 + t.wall) / cosine;
  };
  const double x_t = line(x), y_t = line(y);
  // x0 = x_t + tan(turn)·(x.other - y0), y0 = y_t - tan(turn)·(y.other - x0), solved together.
  const double x0 = (x_t + tangent * (x.other - y_t) + tangent * tangent * y.other) / (1 + tangent * tangent);
  return {x0, y_t - tangent * (y.other - x0)};
}

Result<EdgeResult> edge_rotation(Point2 a, Point2 b, bool along_y) {
  // Turned so that the edge should lie along +x: for an edge along Y its y becomes x, its -x becomes y.
  double along = along_y ? b.y - a.y : b.x - a.x, across = along_y ? a.x - b.x : b.y - a.y;
  if (along == 0 && across == 0)
    return fail("degenerate", "Both points are the same place; touch the edge at two places far apart.", "b");
  if (along < 0) along = -along, across = -across;
  if (!(std::fabs(across) < along * 1e9))
    return fail("degenerate", "These points lie across the axis, not along it; say along which axis the edge lies.",
                "along");
  return EdgeResult{std::atan2(across, along), across / along * 1000};
}

Result<TurnedStock> turned_stock(Point2 a, const std::vector<double>& across_a, Point2 b,
                                 const std::vector<double>& across_b, bool along_y, double step) {
  if (across_a.empty() || across_b.empty())
    return fail("too_few", "Touch the edge at two places, far apart.", "points");
  (along_y ? a.x : a.y) = mean(across_a);
  (along_y ? b.x : b.y) = mean(across_b);
  const auto edge = edge_rotation(a, b, along_y);
  if (!edge) return tl::make_unexpected(edge.error());
  const int freedom = static_cast<int>(across_a.size() + across_b.size()) - 2;
  const double pooled =
      freedom > 0 ? (squares_about_mean(across_a) + squares_about_mean(across_b)) / freedom : step * step;
  const auto variance = [&](const std::vector<double>& readings) {
    return pooled / static_cast<double>(readings.size()) + step * step / 12;
  };
  const double apart = std::hypot(b.x - a.x, b.y - a.y);
  return TurnedStock{edge->rotation, t95(claim_degrees_of_freedom + std::max(0, freedom)) *
                                         std::sqrt(variance(across_a) + variance(across_b)) / apart};
}

Result<CircleResult> fit_circle(const std::vector<Point2>& points, double tip, bool inside) {
  if (points.size() < 3) return fail("too_few", "A circle needs at least three points.", "points_mm");
  const auto n = static_cast<Eigen::Index>(points.size());

  // About the middle and in units of the cloud's size, so that neither far origins nor units cost digits.
  double mx = 0, my = 0;
  for (const auto& p : points) mx += p.x / static_cast<double>(n), my += p.y / static_cast<double>(n);
  double size = 0;
  for (const auto& p : points) size = std::max({size, std::fabs(p.x - mx), std::fabs(p.y - my)});
  const auto flat = [] {
    return fail("degenerate", "The points lie on one line (or on one place); spread them around the circle.",
                "points_mm");
  };
  if (!(size > 0) || !std::isfinite(size)) return flat();
  Eigen::MatrixX2d q(n, 2);
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& p = points[static_cast<std::size_t>(i)];
    q.row(i) << (p.x - mx) / size, (p.y - my) / size;
  }
  if (!(slenderness(q) > on_a_line)) return flat();

  // Start: the algebraic circle 2ax + 2by + c = x^2 + y^2.
  Eigen::MatrixX3d A(n, 3);
  A.leftCols<2>() = 2 * q;
  A.col(2).setOnes();
  const Eigen::VectorXd squared = q.rowwise().squaredNorm();
  const Eigen::Matrix3d gram = A.transpose() * A;
  const Eigen::Vector3d start = gram.ldlt().solve(A.transpose() * squared);
  double a = start(0), b = start(1), r = std::sqrt(std::max(start(2) + a * a + b * b, 1e-30));

  // Gauss-Newton with Levenberg's damping where a step does not help.
  const auto cost = [&](double x, double y, double radius) {
    double sum = 0;
    for (Eigen::Index i = 0; i < n; ++i) {
      const double d = std::hypot(q(i, 0) - x, q(i, 1) - y) - radius;
      sum += d * d;
    }
    return sum;
  };
  double now = cost(a, b, r), damping = 0;
  for (int step = 0; step < 200; ++step) {
    Eigen::Matrix3d N = Eigen::Matrix3d::Zero();
    Eigen::Vector3d g = Eigen::Vector3d::Zero();
    for (Eigen::Index i = 0; i < n; ++i) {
      const double dx = q(i, 0) - a, dy = q(i, 1) - b, d = std::max(std::hypot(dx, dy), 1e-300);
      const Eigen::Vector3d j(dx / d, dy / d, 1);  // of (radius - distance) with its sign turned
      N += j * j.transpose();
      g += j * (d - r);
    }
    N.diagonal() *= 1 + damping;
    const Eigen::Vector3d s = N.ldlt().solve(g);
    if (!s.allFinite()) break;
    const double next = cost(a + s(0), b + s(1), r + s(2));
    if (next <= now) {
      a += s(0), b += s(1), r += s(2);
      const bool settled = s.norm() <= 1e-15 * (1 + std::hypot(a, b) + r);
      now = next;
      damping /= 10;
      if (damping < 1e-12) damping = 0;
      if (settled) break;
    } else {
      if (s.norm() <= 1e-13 * (1 + std::hypot(a, b) + r)) break;
      damping = std::max(damping * 10, 1e-6);
    }
  }
  CircleResult out;
  out.center = {mx + a * size, my + b * size};
  out.diameter = 2 * r * size + (inside ? tip : -tip);
  out.rms = std::sqrt(now / static_cast<double>(n)) * size;
  Eigen::Matrix3d normal = Eigen::Matrix3d::Zero();
  for (Eigen::Index i = 0; i < n; ++i) {
    const double dx = q(i, 0) - a, dy = q(i, 1) - b, d = std::max(std::hypot(dx, dy), 1e-300);
    const Eigen::Vector3d j(dx / d, dy / d, 1);
    normal += j * j.transpose();
  }
  const Eigen::Matrix3d spread_of = normal.inverse();
  out.center_factor = std::sqrt(largest_eigenvalue(spread_of.topLeftCorner<2, 2>()));
  out.diameter_factor = 2 * std::sqrt(spread_of(2, 2));
  if (!(out.diameter >= 0))
    return fail(
        "degenerate",
        "The tip is larger than the circle that its centre ran on; check the tip's diameter, and inside or outside.",
        "tip_diameter_mm");
  return out;
}

}  // namespace ypsi
