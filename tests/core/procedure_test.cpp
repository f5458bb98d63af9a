// What every procedure owes the machine: to stop it, to give back what was lent, and to say so where it cannot.
#include "core/procedures/procedure.h"

#include <gtest/gtest.h>

#include <map>

#include "core/idle_link.h"
#include "core/procedures/runner.h"

namespace ypsi {
namespace {

/// A controller with settings, which takes them only while it stands, and none where it is stubborn.
class Lender final : public IdleLink {
 public:
  std::map<std::string, double, std::less<>> settings{{"axis.x.soft_max_mm", 800}};
  bool stubborn = false;
  int abandoned = 0;

  Result<double> setting(std::string_view name) const override {
    const auto found = settings.find(name);
    if (found == settings.end()) return fail("unknown_setting", "There is no such setting.");
    return found->second;
  }
  Result<void> set_setting(std::string_view name, double value) override {
    if (now.state == MachineState::offline) return fail("offline", "Nobody answers.");
    if (!stands(now.state)) return fail("busy", "It moves.");
    if (stubborn) return fail("out_of_range", "Never.");
    settings[std::string(name)] = value;
    return {};
  }
  void abandon() override { ++abandoned; }
};

class Borrower final : public Procedure {
 public:
  Result<void> start(MachineLink& to) {
    begin(to);
    if (const auto ok = lend("axis.x.soft_max_mm", 820); !ok) fail_with(ok.error());
    return begun();
  }
  int steps = 0;

 private:
  void step(const MachineStatus&) override { ++steps; }
};

TEST(Procedure, WhatWasLentGoesBackOnceTheMachineStands) {
  Lender machine;
  Borrower run;
  ASSERT_TRUE(run.start(machine));
  EXPECT_EQ(machine.settings["axis.x.soft_max_mm"], 820);
  machine.now.state = MachineState::moving;
  run.cancel();
  EXPECT_EQ(machine.abandoned, 1);
  EXPECT_TRUE(run.running()) << "it is not over while the machine moves";
  EXPECT_EQ(run.waits_for(), WaitsFor::nothing);
  run.tick();
  EXPECT_EQ(run.steps, 0) << "but it does nothing any more";
  machine.now.state = MachineState::ready;
  run.tick();
  EXPECT_EQ(run.phase(), Procedure::Phase::failed);
  EXPECT_EQ(run.error().code, "cancelled");
  EXPECT_EQ(machine.settings["axis.x.soft_max_mm"], 800);
  EXPECT_TRUE(run.owed().empty());
}

TEST(Procedure, WhatIsNotTakenBackIsSaidAndOwed) {
  Lender machine;
  Runner runner;
  const auto run = std::make_shared<Borrower>();
  ASSERT_TRUE(runner.start(run, [&] { return run->start(machine); }));
  EXPECT_EQ(runner.start(std::make_shared<Borrower>(), [] { return Result<void>(); }).error().code, "busy");
  machine.stubborn = true;
  runner.cancel({"ended", "", ""});
  EXPECT_FALSE(runner.running());
  EXPECT_NE(run->error().message.find("could not be put back: Never."), std::string::npos) << run->error().message;
  ASSERT_EQ(runner.owed().size(), 1u);
  EXPECT_EQ(runner.owed()[0].name, "axis.x.soft_max_mm");
  EXPECT_EQ(runner.owed()[0].found, 800);
}

TEST(Procedure, ALostLineEndsItAndNothingIsAskedOfItAfterwards) {
  Lender machine;
  Runner runner;
  const auto run = std::make_shared<Borrower>();
  ASSERT_TRUE(runner.start(run, [&] { return run->start(machine); }));
  machine.now.state = MachineState::offline;
  machine.now.message = "The cable was cut.";
  EXPECT_TRUE(runner.tick()) << "it ended just now";
  EXPECT_FALSE(runner.tick());
  EXPECT_EQ(run->error().message, "The cable was cut.");
  EXPECT_EQ(runner.owed().size(), 1u);
  run->cancel();
  run->tick();
  EXPECT_EQ(machine.abandoned, 0);
}

TEST(Procedure, WhoeverWaitsNoticesAnEmergencyStop) {
  Lender machine;
  Borrower run;
  ASSERT_TRUE(run.start(machine));
  machine.now.state = MachineState::emergency_stop;
  run.tick();
  EXPECT_EQ(run.phase(), Procedure::Phase::failed);
  EXPECT_EQ(run.steps, 0);
  EXPECT_EQ(machine.settings["axis.x.soft_max_mm"], 800);
}

}  // namespace
}  // namespace ypsi
