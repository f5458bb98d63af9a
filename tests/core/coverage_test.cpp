// What U promises: simulated 2,000 times with the instrument's claims true, each fitted quantity's U must hold the
// truth in at least 93 % of the cases and be, in the mean, at most twice the error that 95 % of them stay below. Once
// more with a reader who scatters three times the claim; that is printed, and must still hold in most cases.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

#include "core/calibration/first_cut.h"
#include "core/calibration/homing.h"
#include "core/calibration/scale.h"
#include "core/calibration/squareness.h"
#include "core/calibration/tool_setter.h"

namespace ypsi {
namespace {

#ifdef YPSI_SANITIZE
constexpr int coverage_trials = 500;
#else
constexpr int coverage_trials = 2000;
#endif

/// A person with an instrument whose claims hold: one calibration error per trial (and kind), each end rounded.
class Reader {
 public:
  Reader(const Instrument& instrument, double scatter_factor, std::mt19937_64& random)
      : i_(instrument), factor_(scatter_factor), random_(random) {
    relative_ = i_.u_rel * normal_(random_);
  }
  double read(double truth, int kind = 0) {
    const auto [fixed, is_new] = fixed_.try_emplace(kind, 0.0);
    if (is_new) fixed->second = i_.u_cal_mm * normal_(random_);
    const double seen = truth * (1 + relative_) + fixed->second + factor_ * i_.scatter_mm() * normal_(random_);
    std::uniform_real_distribution<double> somewhere(0, i_.resolution_mm);
    const double offset = somewhere(random_);
    const auto rounded = [&](double v) { return std::round(v / i_.resolution_mm) * i_.resolution_mm; };
    return i_.ends >= 2 ? rounded(offset + seen) - rounded(offset) : rounded(seen);
  }

 private:
  const Instrument& i_;
  double factor_;
  std::mt19937_64& random_;
  double relative_ = 0;
  std::map<int, double> fixed_;
  std::normal_distribution<double> normal_;
};

class Tally {
 public:
  void add(const std::string& quantity, double error, double U) {
    auto& q = all_[quantity];
    q.errors.push_back(std::fabs(error));
    q.held += std::fabs(error) <= U;
    q.sum_U += U;
  }
  void judge(const char* title, bool claims_true) {
    for (auto& [name, q] : all_) {
      std::sort(q.errors.begin(), q.errors.end());
      const double n = static_cast<double>(q.errors.size()), held = 100 * q.held / n;
      const double ratio = q.sum_U / n / std::max(q.errors[q.errors.size() * 95 / 100], 1e-300);
      std::printf("    %-12s %-18s %s  held %5.1f %%  mean U / 95 %% error %.2f\n", title, name.c_str(),
                  claims_true ? "claims true  " : "3 x scatter  ", held, ratio);
      EXPECT_GE(held, claims_true ? 93 : 80) << title << " " << name;
      if (claims_true) {
        EXPECT_LE(ratio, 2) << title << " " << name;
      }
    }
  }

 private:
  struct Quantity {
    std::vector<double> errors;
    int held = 0;
    double sum_U = 0;
  };
  std::map<std::string, Quantity> all_;
};

class CoverageOf : public ::testing::TestWithParam<bool> {
 protected:
  bool claims_true() const { return GetParam(); }
  double factor() const { return claims_true() ? 1 : 3; }
  std::mt19937_64 random_{20261124};
  std::uniform_real_distribution<double> uniform_{-1, 1};
  Tally tally_;
};

TEST_P(CoverageOf, ScaleAndLostMotion) {
  const Instrument ruler{"ruler", 0.5, 2, 0.15, 0, 0.0002};
  for (int t = 0; t < coverage_trials; ++t) {
    const double k = 1 + 0.02 * uniform_(random_), lost = 0.2 + 0.2 * uniform_(random_);
    Reader reader(ruler, factor(), random_);
    ScaleInput in;
    in.current_steps = 80;
    in.instrument = ruler;
    for (const auto& [told, reversed] :
         {std::pair{250.0, false}, {450.0, false}, {600.0, false}, {300.0, true}, {550.0, true}, {620.0, true}})
      in.readings.push_back({told, reader.read(k * told - (reversed ? lost : 0)), reversed});
    const auto r = fit_scale(in).value();
    tally_.add("scale", r.fit->scale - k, r.fit->U_scale);
    tally_.add("lost motion", *r.fit->lost_motion - lost, *r.fit->U_lost_motion);
  }
  tally_.judge("scale", claims_true());
}

TEST_P(CoverageOf, Squareness) {
  const Instrument tape{"tape", 0.5, 2, 0.2, 0.1, 0.0001};
  for (int t = 0; t < coverage_trials; ++t) {
    const double sx = 1 + 0.01 * uniform_(random_), sy = 1 + 0.01 * uniform_(random_), skew = 0.004 * uniform_(random_);
    Reader reader(tape, factor(), random_);
    SquareInput in;
    in.instrument = tape;
    in.points = {{"A", {0, 0}}, {"B", {600, 0}}, {"C", {600, 400}}, {"D", {0, 400}}};
    for (const auto& [a, b] : {std::pair{0u, 1u}, {1u, 2u}, {2u, 3u}, {3u, 0u}, {0u, 2u}, {1u, 3u}}) {
      const auto place = [&](const Point2& p) {
        return Point2{sx * p.x + sy * p.y * std::sin(skew), sy * p.y * std::cos(skew)};
      };
      const Point2 p = place(in.points[a].commanded), q = place(in.points[b].commanded);
      in.distances.push_back({a, b, reader.read(std::hypot(q.x - p.x, q.y - p.y)), HoleEdge::center, 0});
    }
    const auto r = fit_square(in).value();
    tally_.add("scale x", r.fit->scale_x - sx, r.fit->U_scale_x);
    tally_.add("scale y", r.fit->scale_y - sy, r.fit->U_scale_y);
    tally_.add("skew", r.fit->skew - skew, r.fit->U_skew);
  }
  tally_.judge("square", claims_true());
}

TEST_P(CoverageOf, FirstCut) {
  const Instrument caliper{"caliper", 0.01, 1, 0.012, 0.015, 0};
  using enum FeatureKind;
  for (int t = 0; t < coverage_trials; ++t) {
    const double e[] = {0.01 * uniform_(random_), 0.01 * uniform_(random_), 0.01 * uniform_(random_)},
                 dD = 0.3 * uniform_(random_), b[] = {0.1 + 0.1 * uniform_(random_), 0.1 + 0.1 * uniform_(random_)},
                 z0 = 0.1 * uniform_(random_), D = 6;
    Reader reader(caliper, factor(), random_);
    FirstCutInput in;
    in.tool_diameter = D;
    in.instrument = caliper;
    for (const auto& [kind, axis, n] : std::vector<std::tuple<FeatureKind, Axis, double>>{{inside, Axis::x, 30},
                                                                                          {inside, Axis::x, 90},
                                                                                          {outside, Axis::x, 60},
                                                                                          {outside, Axis::x, 150},
                                                                                          {spacing, Axis::x, 100},
                                                                                          {inside, Axis::y, 30},
                                                                                          {inside, Axis::y, 90},
                                                                                          {outside, Axis::y, 150},
                                                                                          {spacing, Axis::y, 110},
                                                                                          {depth, Axis::z, 2},
                                                                                          {depth, Axis::z, 4},
                                                                                          {depth, Axis::z, 8}}) {
      const std::size_t a = index(axis);
      const double off = kind == inside    ? e[a] * (n - D) + dD - b[a]
                         : kind == outside ? e[a] * (n + D) - dD - b[a]
                         : kind == spacing ? e[a] * n
                                           : e[2] * n + z0;
      in.features.push_back({kind, axis, n, reader.read(n + off, static_cast<int>(kind))});
    }
    const double truth[] = {e[0], e[1], dD, b[0], b[1], e[2], z0};
    const auto result = read_first_cut(in).value();
    for (const auto& q : result.estimates)
      tally_.add(name(q.quantity), q.value - truth[static_cast<std::size_t>(q.quantity)], q.U);
  }
  tally_.judge("first cut", claims_true());
}

TEST_P(CoverageOf, ToolSetterAndHomingDrift) {
  std::normal_distribution<double> normal;
  for (int t = 0; t < coverage_trials; ++t) {
    const double s = 0.003 * factor();
    const auto touch = [&](double at) { return at + s * normal(random_); };
    const double length = 3 * uniform_(random_);
    const auto r = evaluate_setter({touch(-41), touch(-41), touch(-41)},
                                   {{2, {touch(-41 + length), touch(-41 + length)}}, {3, {touch(-40), touch(-40)}}},
                                   std::nullopt, 0)
                       .value();
    tally_.add("tool offset", r.tools[0].offset - length, *r.tools[0].U);
    const double drift = 0.002 * uniform_(random_);
    std::vector<double> readings;
    for (int i = 0; i < 10; ++i) readings.push_back(std::round((drift * i + s * normal(random_)) / 0.001) * 0.001);
    const auto h = evaluate_homing(readings, 0.02, 0.001).value();
    tally_.add("homing drift", h.drift - drift, h.U_drift);
  }
  tally_.judge("references", claims_true());
}

INSTANTIATE_TEST_SUITE_P(Coverage, CoverageOf, ::testing::Bool(),
                         [](const auto& p) { return p.param ? "claims_true" : "scatter_three_times_the_claim"; });

}  // namespace
}  // namespace ypsi
