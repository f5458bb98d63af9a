// Engravers drawn by chance, small and wrong in every axis, commissioned by the rehearsal: what it found is held
// against what each was drawn with.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cstdlib>
#include <fstream>
#include <random>
#include <sstream>

#include "core/book/worksheets/cut.h"
#include "core/rehearsal/rehearsal.h"
#include "core/tasks/engraved_cut.h"
#include "core/tasks/engraving.h"
#include "standin/heads_fixture.h"
#include "standin/served_machine.h"
#include "standin/true_part.h"

namespace ypsi::standin {
namespace engraver_rehearsal_test {

#ifdef YPSI_SANITIZE
constexpr int engravers = 3;
#else
constexpr int engravers = 100;
#endif

Scenario random_engraver(std::mt19937_64& random) {
  const auto between = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/tansy.scenario.json");
  std::stringstream text;
  text << file.rdbuf();
  Scenario s = read_scenario(text.str()).value();
  s.seed = random() % 1'000'000;
  const std::array travel{between(150, 300), between(100, 200)};
  for (const Axis a : {Axis::x, Axis::y}) {
    auto& axis = s.axes[index(a)];
    axis.true_steps_per_mm = 800 * (1 + between(-0.01, 0.01));
    axis.lost_motion = between(0, 0.12);
    axis.stop_high = travel[index(a)];
    s.controller[index(a)].soft_max = travel[index(a)] - 8;
    for (auto& screw : axis.screw) screw.amplitude = between(0, 0.015);
  }
  s.axes[2].true_steps_per_mm = 800 * (1 + between(-0.01, 0.01));
  s.skew = between(-0.004, 0.004);
  s.setter->x = travel[0] - 14;
  s.setter->y = travel[1] - 12;
  s.stock.cap = 0.2;
  s.tools[1].tip = between(0.15, 0.3);
  s.nose = PhysicalNose{between(0.02, 0.05), between(-1, 3), between(0.002, 0.008)};
  return s;
}

TEST(EngraverRehearsals, LeaveARightEngraverAndADepthThatClearsTheCap) {
  std::mt19937_64 random(21);
  heads_test::Tally depth, tip, nose;
  int right = 0;
  for (int m = 0; m < engravers; ++m) {
    const Scenario s = random_engraver(random);
    const auto machine = ServedMachine::from(s);
    ServedMachine& served = *machine;
    Workshop workshop(
        served.link(), served.bench(), [&](double t) { served.advance(t); },
        starting_book(served.link(), nullptr, served.known()));
    const Rehearsal r = rehearse(workshop, rehearsal_steps());
    ASSERT_TRUE(r.completed) << m << ": " << (r.problems.empty() ? "" : r.problems.back());
    const auto kept = engraving_for(r.book, "stock", 0);
    ASSERT_TRUE(kept && kept->set && kept->depth && kept->U_depth) << m;
    const double next =
        s.nose->mm_per_tick * (*kept->set - s.nose->zero_tick) + std::normal_distribution<double>(0, s.nose->s)(random);
    depth.take(std::fabs(next - *kept->depth), *kept->U_depth);
    // The second engraving, read for itself: what is left of the tip and of what the nose was set to.
    const CutWorksheet& sheet = r.book.worksheets[cut_worksheet];
    const auto second = read_engraving(r.book);
    ASSERT_TRUE(second && sheet.set_to && r.first_cut && r.first_cut->undetermined.empty()) << m;
    for (const CutCause& c : second->causes) {
      if (c.kind == CutCauseKind::tip) tip.take(std::fabs(c.value - (s.tools[1].tip - r.book.tool(2)->tip)), c.U);
      if (c.kind == CutCauseKind::nose)
        nose.take(std::fabs(c.value - (s.nose->mm_per_tick * (*sheet.set_to - s.nose->zero_tick) - sheet.depth_mm)),
                  c.U);
    }
    const double side = std::min(s.axes[0].stop_high, s.axes[1].stop_high) - 40;
    const Tool* in = r.book.tool(served.link().status().tool);
    ASSERT_TRUE(in) << m;
    const auto part = true_part(workshop, served, in->diameter, side);
    ASSERT_TRUE(part) << part.error().message;
    right += part->worst_size <= 0.05 && part->worst_square <= 0.05 ? 1 : 0;
    if (std::getenv("YPSI_TELL"))
      fmt::print("{}: side {:.0f} size {:.3f} square {:.3f} {}\n", m, side, part->worst_size, part->worst_square,
                 r.problems.empty() ? "" : r.problems.back());
  }
  fmt::print("    engravers    tip held {:.1f} %, nose by the plate {:.1f} %\n", 100 * tip.share(), 100 * nose.share());
  fmt::print("    engravers    depth by the nose held {:.1f} %, part within 0.05 mm {} of {}\n", 100 * depth.share(),
             right, engravers);
  EXPECT_GE(depth.share(), 0.93) << "of the next groove";
  EXPECT_GE(tip.share(), 0.93);
  EXPECT_GE(nose.share(), 0.93);
  EXPECT_GE(right, 0.95 * engravers);
}

}  // namespace engraver_rehearsal_test
}  // namespace ypsi::standin
