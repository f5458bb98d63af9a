// What is switched on at a simulated machine before anything moves, as its owner does it and as it answers.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "core/rehearsal/rehearsal.h"
#include "standin/served_machine.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace arming_test {

nlohmann::json scenario_with(double supply_bar) {
  return {{"format", "ypsilograph-scenario"},
          {"version", 1},
          {"arming", {"air", "drives", "reset"}},
          {"air", {{"supply_bar", supply_bar}}},
          {"emergency_stops", {"left", "right"}},
          {"pressure_kPa", 18},
          {"zones", {{{"name", "A1"}, {"corner_mm", {100, 50}}, {"size_mm", {400, 300}}}}}};
}

std::unique_ptr<ServedMachine> machine_with(double supply_bar) {
  auto machine = ServedMachine::from_scenario(scenario_with(supply_bar).dump());
  EXPECT_TRUE(machine) << machine.error().message;
  return std::move(*machine);
}

std::string code_of(const Result<void>& result) {
  return result ? "" : result.error().code;
}

TEST(Arming, NothingMovesBeforeAllIsOnInItsOrder) {
  const auto machine = machine_with(6.1);
  MachineLink& link = machine->link();
  Bench& bench = machine->bench();
  EXPECT_EQ(code_of(link.home()), "not_armed");
  EXPECT_EQ(code_of(link.jog(Axis::x, 1, 300)), "not_armed");
  EXPECT_EQ(code_of(link.begin_program()), "not_armed");
  EXPECT_EQ(code_of(bench.arm("drives")), "not_armed") << "not before the air";
  EXPECT_EQ(code_of(bench.arm("lights")), "unknown_point");
  EXPECT_EQ(code_of(bench.arm("air")), "");
  EXPECT_NE(link.home().error().message.find("Next is the drives"), std::string::npos) << link.home().error().message;
  EXPECT_EQ(code_of(bench.arm("drives")), "");
  EXPECT_EQ(code_of(bench.arm("air")), "") << "it is on already";
  EXPECT_EQ(code_of(link.jog(Axis::x, 1, 300)), "not_armed");
  EXPECT_EQ(code_of(bench.arm("reset")), "");
  EXPECT_EQ(code_of(link.jog(Axis::x, 1, 300)), "");
}

TEST(Arming, AnEmergencyStopTakesAllOffButTheAir) {
  const auto machine = machine_with(6.1);
  Bench& bench = machine->bench();
  for (const char* point : {"air", "drives", "reset"}) EXPECT_EQ(code_of(bench.arm(point)), "");
  bench.press_emergency_stop(true);
  EXPECT_EQ(code_of(bench.arm("drives")), "not_armed") << "while it is pressed";
  bench.press_emergency_stop(false);
  EXPECT_EQ(code_of(machine->link().home()), "not_armed");
  EXPECT_EQ(code_of(bench.arm("drives")), "") << "the air is on still";
  EXPECT_EQ(code_of(bench.arm("reset")), "");
  EXPECT_EQ(code_of(machine->link().home()), "");
}

TEST(Arming, AirThatIsTooLowIsNamedWithWhatItShows) {
  const auto machine = machine_with(3.1);
  const auto on = machine->bench().arm("air");
  ASSERT_FALSE(on);
  EXPECT_EQ(on.error().code, "not_armed");
  EXPECT_NE(on.error().message.find("3.1 bar"), std::string::npos) << on.error().message;
}

TEST(Arming, AMachineWithNothingToSwitchOnMovesAtOnce) {
  auto machine = ServedMachine::from_scenario(R"({"format": "ypsilograph-scenario", "version": 1})");
  ASSERT_TRUE(machine);
  EXPECT_EQ(code_of((*machine)->bench().arm("air")), "");
  EXPECT_EQ(code_of((*machine)->link().jog(Axis::x, 1, 300)), "");
}

/// What hangs on the wall beside the machine its owner knows without measuring.
TEST(Arming, OrderStopsAndZonesAreKnownToTheOwner) {
  const auto machine = machine_with(6.1);
  const Book book = starting_book(machine->link(), nullptr, machine->known());
  EXPECT_EQ(book.machine.arming, (std::vector<std::string>{"air", "drives", "reset"}));
  EXPECT_EQ(book.machine.emergency_stops, (std::vector<std::string>{"left", "right"}));
  ASSERT_EQ(book.machine.vacuum.zones.size(), 1u);
  EXPECT_EQ(book.machine.vacuum.zones[0].name, "A1");
  EXPECT_EQ(book.machine.vacuum.zones[0].x_mm, 100);
  EXPECT_EQ(book.machine.vacuum.zones[0].depth_mm, 300);
  EXPECT_EQ(book.machine.vacuum.pressure_kPa, 18);
}

TEST(Arming, AScenarioThatSaysItWronglyIsRefusedByItsPlace) {
  for (const auto& [key, value] : {std::pair<std::string, nlohmann::json>{"arming", "air"},
                                   {"arming", {1}},
                                   {"zones", {{{"size_mm", {0, 10}}}}},
                                   {"air", {{"supply_bar", -1}}},
                                   {"pressure_kPa", 1000}}) {
    nlohmann::json scenario = scenario_with(6);
    scenario[key] = value;
    const auto read = read_scenario(scenario.dump());
    ASSERT_FALSE(read) << key << value;
    EXPECT_EQ(read.error().where.rfind(key, 0), 0u) << read.error().where;
  }
}

}  // namespace arming_test
}  // namespace ypsi::standin
