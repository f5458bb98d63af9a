#pragma once
// A client, a controller, and a line between them that can be made bad.
#include <gtest/gtest.h>

#include "bad_line.h"
#include "core/procedures/run_program.h"
#include "link/client.h"

namespace ypsi::link {

class LinkTest : public ::testing::Test {
 protected:
  LinkTest() { start(demo_scenario()); }
  void start(const std::string& scenario) {
    client_.reset();
    machine_ = standin::ServedMachine::from_scenario(scenario).value();
    auto line = std::make_unique<BadLine>(*machine_);
    line_ = line.get();
    client_ = std::make_unique<Client>(std::move(line));
  }
  void open() {
    const auto opened = client_->open();
    ASSERT_TRUE(opened) << opened.error().message;
  }
  void pass(double seconds) {
    for (double t = 0; t < seconds; t += 0.01) {
      line_->pass(0.01);
      client_->poll();
    }
  }
  /// What the bench reads, asked for until it is there.
  template <class Look>
  auto read(Look look) {
    auto seen = look();
    for (int i = 0; i < 100 && !seen && seen.error().code == being_taken; ++i) {
      pass(0.01);
      seen = look();
    }
    return seen;
  }
  void home() {
    line_->machine_speed = 20;
    ASSERT_TRUE(client_->home());
    pass(4);
    ASSERT_TRUE(client_->status().all_homed()) << client_->status().message;
    line_->machine_speed = 1;
  }
  MachineState run(const std::string& text, double limit_s = 400) {
    EXPECT_TRUE(run_.start(*client_, text));
    for (double t = 0; t < limit_s && run_.state() == RunState::running; t += 0.01) {
      run_.tick();
      pass(0.01);
    }
    return client_->status().state;
  }
  /// Begins a program and lets it run for a while.
  void begin(const std::string& text, double seconds) {
    ASSERT_TRUE(run_.start(*client_, text));
    for (double t = 0; t < seconds; t += 0.01) {
      run_.tick();
      pass(0.01);
    }
  }
  standin::StandIn& truth() { return standin::truth_of(*machine_); }

  std::unique_ptr<standin::ServedMachine> machine_;
  BadLine* line_ = nullptr;
  std::unique_ptr<Client> client_;
  ProgramRun run_;
};

}  // namespace ypsi::link
