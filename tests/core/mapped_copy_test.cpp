// Random programs, corrected and turned: what the copy makes of them lands where the program meant, arcs within the
// copy_tolerance.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <random>

#include "core/program/corrected_copy.h"
#include "core/program/interpreter.h"

namespace ypsi {
namespace {

constexpr double copy_tolerance = 0.004;

/// A program of straight moves, arcs by centre and helices, in the units and the way of counting that the seed gives.
std::string random_program(unsigned seed) {
  std::mt19937 random(seed);
  const auto pick = [&](double low, double high) { return std::uniform_real_distribution<double>(low, high)(random); };
  const bool inches = seed % 3 == 0, increments = seed % 2 == 0;
  const double unit = inches ? 1 / 25.4 : 1;
  std::string text = fmt::format("G90 {}\nG0 X{:.4f} Y{:.4f} Z{:.4f}\n{}\n", inches ? "G20" : "G21",
                                 pick(-50, 50) * unit, pick(-50, 50) * unit, 5 * unit, increments ? "G91" : "G90");
  for (int i = 0; i < 40; ++i) {
    switch (random() % 5) {
      case 0:
        text += fmt::format("G0 Z{:.4f}\n", pick(-2, 2) * unit);
        break;
      case 1:
        text += fmt::format("G1 X{:.4f} F{:.2f}\n", pick(-80, 80) * unit, pick(100, 2000) * unit);
        break;
      case 2:
        text += fmt::format("G1 X{:.4f} Y{:.4f} Z{:.4f} F{:.2f} (slanted)\n", pick(-80, 80) * unit,
                            pick(-80, 80) * unit, pick(-2, 2) * unit, pick(100, 2000) * unit);
        break;
      case 3:  // a full turn, about a centre
        text +=
            fmt::format("G{} I{:.4f} J{:.4f} F900\n", random() % 2 ? 2 : 3, pick(4, 40) * unit, pick(-40, 40) * unit);
        break;
      default:  // half a turn: by increments its end is twice the way to its centre
        if (increments) {
          const double i_mm = std::round(pick(3, 30) * unit * 1e4) / 1e4;
          text += fmt::format("G{} X{:.4f} Z{:.4f} I{:.4f} J0 F900\n", random() % 2 ? 2 : 3, 2 * i_mm,
                              pick(-1, 1) * unit, i_mm);
        } else {
          text += "M3 S12000\n";
        }
    }
  }
  return text + "M2\n";
}

/// Walks program and copy side by side; `forward` says where a place of the copy lands.
void expect_same_path(const Program& meant, const Program& copy,
                      const std::function<WorkPosition(const WorkPosition&)>& forward, const std::string& what) {
  std::size_t at = 0;
  for (std::size_t i = 0; i < meant.motions.size(); ++i) {
    const Motion& m = meant.motions[i];
    const WorkPosition from = meant.begin_of(i);
    const double close = 3e-3;  // increments are rounded one by one
    while (true) {
      ASSERT_LT(at, copy.motions.size()) << what;
      const WorkPosition to = forward(copy.motions[at].end), before = forward(copy.begin_of(at));
      ++at;
      const bool end =
          std::fabs(to.x - m.end.x) < close && std::fabs(to.y - m.end.y) < close && std::fabs(to.z - m.end.z) < close;
      if (!is_arc(m)) {
        EXPECT_TRUE(end) << what << ", motion " << i << " of line " << m.line;
        break;
      }
      const Arc& arc = meant.arc_of(m);
      const double radius = std::hypot(from.x - arc.centre_first, from.y - arc.centre_second);
      const double middle =
          std::hypot((before.x + to.x) / 2 - arc.centre_first, (before.y + to.y) / 2 - arc.centre_second);
      EXPECT_NEAR(std::hypot(to.x - arc.centre_first, to.y - arc.centre_second), radius,
                  close + arc_radius_tolerance_mm)
          << what;
      EXPECT_GT(middle, radius - copy_tolerance - close - arc_radius_tolerance_mm) << what << ", a chord too long";
      // A full turn begins where it ends: it is over when its way is made.
      const bool back = std::hypot(to.x - m.end.x, to.y - m.end.y) < close;
      const bool first = std::hypot(before.x - from.x, before.y - from.y) < close && at > 0;
      if (end && back && !(first && radius > 2 * close && std::hypot(to.x - from.x, to.y - from.y) < close)) break;
    }
  }
  EXPECT_EQ(at, copy.motions.size()) << what;
}

TEST(MappedCopies, RandomProgramsLandWhereTheyMeant) {
#ifdef YPSI_SANITIZE
  constexpr unsigned programs = 30;
#else
  constexpr unsigned programs = 120;
#endif
  std::mt19937 random(77);
  for (unsigned seed = 1; seed <= programs; ++seed) {
    const std::string text = random_program(seed);
    const auto meant = read_program(text);
    ASSERT_TRUE(meant) << meant.error().message << "\n" << text;
    std::uniform_real_distribution<double> scale(0.98, 1.02), lean(-0.004, 0.004), turn(-0.5, 0.5);
    const PlaneErrors errors{scale(random), scale(random), lean(random)};
    const auto corrected = corrected_copy(text, errors, copy_tolerance);
    ASSERT_TRUE(corrected) << corrected.error().message;
    expect_same_path(
        *meant, corrected->program, [&](const WorkPosition& p) { return landed(p, errors); },
        fmt::format("corrected {}", seed));
    const double by = turn(random);
    const auto turned = turned_copy(text, by, copy_tolerance);
    ASSERT_TRUE(turned) << turned.error().message;
    expect_same_path(
        *meant, turned->program,
        [&](const WorkPosition& p) {
          return WorkPosition{p.x * std::cos(by) + p.y * std::sin(by), p.y * std::cos(by) - p.x * std::sin(by), p.z};
        },
        fmt::format("turned {}", seed));
  }
}

TEST(MappedCopies, ATurnThereAndBackChangesNothing) {
  for (unsigned seed = 2; seed < 40; seed += 3) {
    const std::string text = random_program(seed);
    const auto there = turned_copy(text, 0.3, copy_tolerance);
    ASSERT_TRUE(there);
    const auto back = turned_copy(there->text, -0.3, copy_tolerance);
    ASSERT_TRUE(back);
    ASSERT_EQ(back->program.motions.size(), there->program.motions.size()) << "no arc is left to break";
    EXPECT_EQ(back->arcs, 0u);
    const auto meant = read_program(text);
    EXPECT_NEAR(back->program.motions.back().end.x, meant->motions.back().end.x, 5e-3);
    EXPECT_NEAR(back->program.motions.back().end.y, meant->motions.back().end.y, 5e-3);
    EXPECT_EQ(back->program.events.size(), meant->events.size());
  }
}

/// A machine with positional errors, linear between its targets, by the way an axis moves.
struct PlaceErrors {
  std::vector<double> targets, plus, minus;
  double of(double commanded, int direction) const {
    const auto& e = direction > 0 ? plus : minus;
    if (commanded <= targets.front()) return e.front();
    for (std::size_t i = 1; i < targets.size(); ++i)
      if (commanded <= targets[i])
        return e[i - 1] + (e[i] - e[i - 1]) * (commanded - targets[i - 1]) / (targets[i] - targets[i - 1]);
    return e.back();
  }
  ErrorTable table() const {
    ErrorTable out;
    for (std::size_t i = 0; i < targets.size(); ++i) out.rows.push_back({targets[i], -plus[i], -minus[i]});
    return out;
  }
};

// On paper: at 50 it goes 0.1 too far towards +; towards - everywhere 0.05 too far to +.
TEST(MappedCopies, ATableIsFollowedFromTargetToTargetAndRoundTheTurn) {
  const PlaceErrors x{{0, 50, 100}, {0, 0.1, 0}, {0.05, 0.05, 0.05}};
  const auto copy =
      tabled_copy("G21 G90\nG0 X0 Y0 Z5\nG1 X100 F600\nG1 X20\nG1 Y10\nM2\n", {x.table(), std::nullopt}, {}, 0.01);
  ASSERT_TRUE(copy) << copy.error().message;
  const auto& moves = copy->program.motions;
  ASSERT_EQ(moves.size(), 7u) << copy->text;
  EXPECT_NEAR(moves[1].end.x, 50, 1e-4) << "there it stands at 50.1, where the line is broken";
  EXPECT_NEAR(moves[2].end.x, 100, 1e-4);
  EXPECT_NEAR(moves[3].end.x, 99.95, 1e-4) << "turned round on the spot";
  EXPECT_NEAR(moves[4].end.x, 50, 1e-4);
  EXPECT_NEAR(moves[5].end.x, 19.95, 1e-4);
  EXPECT_NEAR(moves[6].end.x, 19.95, 1e-4) << "Y alone moves";
  EXPECT_NEAR(moves[6].end.y, 10, 1e-9);
  // The same 200 mm further on the machine.
  const PlaceErrors away{{200, 250, 300}, x.plus, x.minus};
  const auto there =
      tabled_copy("G21 G90\nG0 X0 Y0 Z5\nG1 X100 F600\nM2\n", {away.table(), std::nullopt}, WorkZero{200, 0, 0}, 0.01);
  EXPECT_NEAR(there->program.motions[1].end.x, 50, 1e-4);
}

TEST(MappedCopies, RandomProgramsArriveWhereTheyMeantInSpiteOfPositionalErrors) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> somewhere(-90, 90), off(-0.2, 0.2);
  for (int round = 0; round < 40; ++round) {
    std::array<PlaceErrors, 2> errors;
    std::array<std::optional<ErrorTable>, 2> tables;
    for (std::size_t a = 0; a < 2; ++a) {
      for (double target = -100; target <= 100; target += 25) {
        errors[a].targets.push_back(target);
        errors[a].plus.push_back(off(random));
        errors[a].minus.push_back(errors[a].plus.back() + 0.15);
      }
      tables[a] = errors[a].table();
    }
    std::string text = "G21 G90\nG0 X0 Y0 Z5\nG1 X1 Y1 F900\n";
    std::vector<WorkPosition> meant{{1, 1, 5}};
    for (int i = 0; i < 20; ++i) {
      meant.push_back({somewhere(random), i % 4 == 0 ? meant.back().y : somewhere(random), 5});
      text += fmt::format("G1 X{:.9f} Y{:.9f}\n", meant.back().x, meant.back().y);
    }
    const auto copy = tabled_copy(text + "M2\n", tables, {}, 0.01);
    ASSERT_TRUE(copy) << copy.error().message;
    std::array<int, 2> direction{1, 1};
    WorkPosition at{};
    std::size_t arrived = 0;
    for (const Motion& m : copy->program.motions) {
      for (std::size_t a = 0; a < 2; ++a)
        if (std::fabs(m.end[static_cast<Axis>(a)] - at[static_cast<Axis>(a)]) > 1e-9)
          direction[a] = m.end[static_cast<Axis>(a)] > at[static_cast<Axis>(a)] ? 1 : -1;
      at = m.end;
      if (m.kind == MotionKind::rapid) continue;
      const double x = at.x + errors[0].of(at.x, direction[0]), y = at.y + errors[1].of(at.y, direction[1]);
      if (std::hypot(x - meant[arrived].x, y - meant[arrived].y) < 1e-3 && arrived + 1 < meant.size()) ++arrived;
      if (arrived == 0) continue;
      // On the way from the last place to the next.
      const WorkPosition &from = meant[arrived - 1], &to = meant[arrived];
      const double long_mm = std::hypot(to.x - from.x, to.y - from.y);
      const double beside = ((to.x - from.x) * (y - from.y) - (to.y - from.y) * (x - from.x)) / long_mm;
      EXPECT_NEAR(beside, 0, 2e-3) << round << ": " << x << " " << y;
    }
    EXPECT_GE(arrived, meant.size() - 2) << round;
  }
}

TEST(MappedCopies, ATableThatCannotHelpIsRefused) {
  const std::string text = "G21 G90\nG0 X0 Y0\nG1 X10 F600\nM2\n";
  EXPECT_EQ(tabled_copy(text, {}, {}, 0.01).error().code, "out_of_range");
  ErrorTable table{.rows = {{0, 0, 0}}};
  EXPECT_EQ(tabled_copy(text, {table, std::nullopt}, {}, 0.01).error().where, "tables");
  table.rows.push_back({100, 0.1, 0});
  EXPECT_EQ(tabled_copy(text, {table, std::nullopt}, {}, 0).error().where, "arc_tolerance");
  table.period_too_short = true;
  EXPECT_NE(tabled_copy(text, {table, std::nullopt}, {}, 0.01).error().message.find("leave most of it"),
            std::string::npos);
}

/// Where a program's motions go from a place that its writer did not know.
std::vector<WorkPosition> ways_from(const WorkPosition& start, const std::string& text) {
  Interpreter interpreter(start);
  Program program;
  std::uint32_t number = 0;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find('\n', at), text.size());
    EXPECT_TRUE(interpreter.line(text.substr(at, end - at), ++number, program)) << text.substr(at, end - at);
    at = end + 1;
  }
  std::vector<WorkPosition> ways;
  for (const Motion& motion : program.motions) ways.push_back(motion.end);
  return ways;
}

// A lift that goes across while it lifts meets the clamps: from wherever the tool stands, what only lifts only lifts.
TEST(MappedCopies, TheFirstLiftOnlyLifts) {
  const std::string text = "G21 G90\nG0 Z10\nG0 X50\nG0 Y40\nG1 Z-1 F100\nG1 X60\nG1 Z-2\nG0 Z10\nM2\n";
  const WorkPosition start{-130, 75, -3};
  for (const auto& copy :
       {turned_copy(text, 0.3, copy_tolerance), corrected_copy(text, {1.004, 0.997, 0.02}, copy_tolerance)}) {
    ASSERT_TRUE(copy) << copy.error().message;
    const auto ways = ways_from(start, copy->text);
    ASSERT_GE(ways.size(), 5u) << copy->text;
    EXPECT_EQ(ways.front(), (WorkPosition{start.x, start.y, 10})) << copy->text;
    // Nothing below the safe height but straight up and down, or where the cut goes.
    for (std::size_t i = 1; i < ways.size(); ++i)
      if (ways[i].z != ways[i - 1].z) {
        EXPECT_EQ(ways[i].x, ways[i - 1].x) << copy->text;
        EXPECT_EQ(ways[i].y, ways[i - 1].y) << copy->text;
      }
    const WorkPosition& end = ways.back();
    EXPECT_GT(std::hypot(end.x - start.x, end.y - start.y), 100) << "and it gets there";
  }
  EXPECT_NE(turned_copy(text, 0.3, copy_tolerance)->text.find("G0 Z10\n"), std::string::npos);
}

TEST(MappedCopies, KeepTheSignsOfAProgram) {
  const std::string text =
      "%\r\n(a dial)\r\nG21 G90\r\nG0 Z5\r\nG0 X0 Y0\r\nG1 Z-1 F200\r\n/G2 X20 Y0 I10 J0 (deleted where wanted)\r\n"
      "G0 Z5\r\nM30\r\n%\r\n";
  const auto copy = turned_copy(text, 0.5, 0.05);
  ASSERT_TRUE(copy) << copy.error().message;
  EXPECT_TRUE(copy->text.starts_with("%\r\n(a dial)\r\n")) << copy->text;
  EXPECT_TRUE(copy->text.ends_with("%\r\n")) << copy->text;
  ASSERT_EQ(copy->arcs, 1u);
  std::size_t chords = 0, deleted = 0;
  for (std::size_t at = 0; at < copy->text.size();) {
    const std::size_t end = copy->text.find('\n', at);
    const std::string line = copy->text.substr(at, end - at);
    EXPECT_TRUE(line.ends_with('\r')) << line;
    if (line.find("G1 X") != std::string::npos) {
      ++chords;
      deleted += line.starts_with('/');
    }
    at = end + 1;
  }
  EXPECT_GT(chords, 5u);
  EXPECT_EQ(deleted, chords) << "every part of it goes with it";
  EXPECT_NE(copy->text.find("(deleted where wanted)"), std::string::npos);
}

}  // namespace
}  // namespace ypsi
