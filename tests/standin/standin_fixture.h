#pragma once
// The stand-in through its link, as a real controller would be driven; only expectations look at the truth.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <sstream>

#include "core/procedures/run_program.h"
#include "standin/standin.h"

namespace ypsi::standin {
inline Scenario demo() {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.scenario.json");
  std::stringstream text;
  text << file.rdbuf();
  return read_scenario(text.str()).value();
}

class StandInTest : public ::testing::Test {
 protected:
  void start(Scenario scenario) { machine_ = std::make_unique<StandIn>(std::move(scenario)); }
  /// The demo with one switch wired otherwise.
  void wire(Axis axis, Wiring wired) {
    Scenario s = demo();
    s.axes[index(axis)].wired = wired;
    start(s);
  }
  void SetUp() override { start(demo()); }
  void run(double limit_s = 300) {
    for (double t = 0; t < limit_s; t += 0.05) {
      machine_->advance(0.05);
      const auto s = link().status().state;
      if (s == MachineState::ready || s == MachineState::not_homed || s == MachineState::stopped) return;
    }
    FAIL() << "still moving after " << limit_s << " s";
  }
  void home() {
    ASSERT_TRUE(link().home());
    run();
    ASSERT_TRUE(link().status().all_homed()) << link().status().message;
  }
  void jog(Axis axis, double mm) {
    const auto moved = link().jog(axis, mm, 6000);
    ASSERT_TRUE(moved) << moved.error().message;
    run();
  }
  /// Runs blocks as a program and waits for its end.
  void program(const std::vector<std::string>& blocks) {
    ASSERT_TRUE(link().begin_program());
    std::uint32_t line = 0;
    for (const auto& b : blocks) {
      for (int i = 0; i < 20000; ++i) {
        const auto sent = link().send(b, line + 1);
        if (sent) break;
        ASSERT_EQ(sent.error().code, "full") << sent.error().message;
        machine_->advance(0.02);
        if (link().status().refusal) return;
      }
      ++line;
    }
    link().end_program();
    run(2000);
  }
  MachineLink& link() { return machine_->link(); }
  Person& bench() { return machine_->bench(); }
  std::unique_ptr<StandIn> machine_;
};

}  // namespace ypsi::standin
