#pragma once
// A small random table with three heads, and how its person brings a head over a spot.
#include "core/book/worksheets/marks.h"
#include "core/tasks/heads.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>
#include <random>

#include "core/book/book_json.h"
#include "core/heads/drawn_marks.h"
#include "core/procedures/machine_link.h"
#include "core/program/head_lines.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/all_tasks.h"
#include "core/tasks/engraving.h"
#include "core/tasks/fences.h"
#include "core/tasks/trials.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace heads_test {

inline const std::string today = "2026-11-28T12:00:00+00:00";
#ifdef YPSI_SANITIZE
constexpr int machines = 60, blades = 180;
#else
constexpr int machines = 200, blades = 600;
#endif

inline PhysicalHead physical(const std::string& name, HeadKind kind, double x, double y, int block) {
  PhysicalHead h;
  h.name = name;
  h.kind = kind;
  h.offset_x = x;
  h.offset_y = y;
  if (block > 0) {
    h.lower = "M" + std::to_string(block);
    h.raise = "M" + std::to_string(block + 1);
  }
  return h;
}

/// A small table, wrong in its own ways; quick to cross.
inline Scenario random_table(std::mt19937_64& random) {
  const auto between = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  Scenario s;
  s.seed = random();
  for (const Axis a : all_axes) {
    AxisTruth& axis = s.axes[index(a)];
    axis.true_steps_per_mm = (a == Axis::z ? 400 : 80) * between(0.995, 1.005);
    axis.lost_motion = between(0, 0.12);
    axis.stop_low = a == Axis::z ? -60 : -3;
    axis.stop_high = a == Axis::z ? 3 : 500;
    axis.switch_at_max = a == Axis::z;
    AxisBelief& belief = s.controller[index(a)];
    belief.steps_per_mm = axis.true_steps_per_mm;
    belief.max_rate = 30000;
    belief.accel = 5000;
    belief.home_at_max = axis.switch_at_max;
    belief.soft_min = a == Axis::z ? -55 : 2;
    belief.soft_max = a == Axis::z ? -2 : 490;
  }
  s.bed_z = -50;
  s.stock.size = {400, 300, 1};
  s.stock.x = 40;
  s.stock.y = 40;
  s.heads = {physical("wheel", HeadKind::wheel, 0, 0, 171),
             physical("pen", HeadKind::pen, between(40, 90), between(-5, 5), 173),
             physical("knife", HeadKind::drag_knife, between(-60, -30), between(-5, 5), 175)};
  s.heads[2].trailing = between(0.2, 0.6);
  s.instruments["caliper"] = {"caliper", 0.01, 1, 0.01, 0.015, 0};
  return s;
}

/// What its owner has in the book.
inline Book book_of(const Scenario& s) {
  Book b;
  b.machine.kind = "cutting_table";
  for (const PhysicalHead& h : s.heads) {
    Head head = told_head(h);
    head.gauge_low = 6;
    head.gauge_high = 26;
    b.machine.heads.push_back(head);
  }
  for (const auto& [name, instrument] : s.instruments) {
    Instrument i = instrument;
    i.name = name;
    b.instruments.push_back(i);
  }
  b.job.stock_size = {400, 300, 1};
  b.job.stock_corner = {0, 0};
  return b;
}

/// How often a U held, and how wide it is beside what 95 % of the errors need.
struct Tally {
  std::size_t held = 0;
  std::vector<double> errors;
  double claims = 0;
  void take(double error, double U) {
    held += error <= U ? 1 : 0;
    errors.push_back(error);
    claims += U;
  }
  double share() const { return static_cast<double>(held) / static_cast<double>(errors.size()); }
  double width() const {
    std::vector<double> sorted = errors;
    std::sort(sorted.begin(), sorted.end());
    return claims / static_cast<double>(errors.size()) / sorted[errors.size() * 95 / 100];
  }
};

class Heads : public StandInTest {
 protected:
  void to(Axis axis, double place) {
    const double way = place - link().status().position[axis];
    if (std::fabs(way) > 1e-9) jog(axis, way);
  }
  /// Brings a head over a spot by eye, both axes from below.
  void bring_over(const std::string& head, const std::string& spot) {
    for (int turn = 0; turn < 6; ++turn) {
      const auto off = bench().head_from(head, spot);
      ASSERT_TRUE(off) << off.error().message;
      const double dx = -(*off)[0], dy = -(*off)[1];
      if (turn > 1 && std::fabs(dx) < 0.08 && std::fabs(dy) < 0.08) return;
      // Slack is taken up from below: a little too far back, then up to it.
      for (const auto& [axis, way] : {std::pair{Axis::x, dx}, {Axis::y, dy}}) {
        jog(axis, way - 1);
        jog(axis, 1);
      }
    }
  }
  OverMark here() { return {link().status().position.x, link().status().position.y}; }
  void run_text(const std::string& text) {
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    program(lines);
    ASSERT_FALSE(link().status().refusal) << link().status().refusal->message;
  }
  /// As the sheet before has found it.
  void know_lost_motion(Book& b, std::mt19937_64& random) {
    Entry lost;
    lost.sheet = "lost_motion";
    lost.subject = "X";
    lost.result = {{"lost_motion_mm",
                    machine_->scenario().axes[0].lost_motion + std::normal_distribution<double>(0, 0.005)(random)},
                   {"U_lost_motion_mm", 0.01}};
    b.history.push_back(lost);
  }
  /// Work zero at the front left corner of the stock, on its top.
  void set_zero(Book& b) {
    const MachinePosition zero{40, 40, -49};
    for (const Axis a : all_axes) {
      ASSERT_TRUE(link().set_setting(work_zero_setting(0, a), zero[a]));
      b.job.zero(a) = zero[a];
    }
  }
};

}  // namespace heads_test
}  // namespace ypsi::standin
