#pragma once
// A described controller at the other end of a line that can be made bad.
#include <gtest/gtest.h>

#include <fstream>
#include <sstream>

#include "core/procedures/run_program.h"
#include "link/bad_line.h"
#include "link/lines/line_link.h"

namespace ypsi::link {

inline std::string controller_text(const std::string& face) {
  std::ifstream file(std::string(YPSI_CONTROLLERS) + "/" + face + ".controller.json");
  std::stringstream text;
  text << file.rdbuf();
  return text.str();
}

class LinesTest : public ::testing::Test {
 protected:
  HandMemory told() {
    HandMemory known;
    known.settings = truth().controller().settings();
    known.tool = truth().controller().status().tool;
    known.looked_up = true;  // the owner has said what the line does not
    return known;
  }
  void start(const std::string& face, std::optional<ControllerDescription> description = {}) {
    link_.reset();
    machine_ = standin::ServedMachine::from_scenario(demo_scenario()).value();
    ASSERT_TRUE(machine_->wear(face));
    if (!description) {
      auto read = read_controller(controller_text(face));
      ASSERT_TRUE(read) << read.error().message;
      description = std::move(*read);
    }
    auto line = std::make_unique<BadLine>(*machine_);
    line_ = line.get();
    link_ = std::make_unique<LineLink>(std::move(line), std::move(*description), told());
    const auto opened = link_->open();
    ASSERT_TRUE(opened) << opened.error().message;
  }
  /// Connected anew, by somebody who knows what the controller has.
  void start_again() {
    ControllerDescription description = link_->description();
    auto line = std::make_unique<BadLine>(*machine_);
    line_ = line.get();
    link_ = std::make_unique<LineLink>(std::move(line), std::move(description), told());
    ASSERT_TRUE(link_->open());
  }
  void pass(double seconds) {
    for (double t = 0; t < seconds - 1e-9; t += 0.01) {
      line_->pass(0.01);
      link_->poll();
    }
  }
  /// Until nothing is under way any more.
  void rest(double limit_s = 200) {
    for (double t = 0; t < limit_s; t += 0.01) {
      pass(0.01);
      const MachineState state = link_->status().state;
      if (state != MachineState::moving && state != MachineState::cutting) return;
    }
    FAIL() << "still moving after " << limit_s << " s";
  }
  void home() {
    line_->machine_speed = 20;
    const auto begun = link_->home();
    ASSERT_TRUE(begun) << begun.error().message;
    rest();
    ASSERT_TRUE(link_->status().all_homed()) << link_->status().message;
    line_->machine_speed = 1;
  }
  void jog(Axis axis, double distance, double rate = 6000) {
    const auto begun = link_->jog(axis, distance, rate);
    ASSERT_TRUE(begun) << begun.error().message;
    rest();
  }
  MachineState run(const std::string& text, double limit_s = 400) {
    const auto begun = run_.start(*link_, text);
    EXPECT_TRUE(begun) << begun.error().message;
    for (double t = 0; t < limit_s && run_.state() == RunState::running; t += 0.01) {
      run_.tick();
      pass(0.01);
    }
    return link_->status().state;
  }
  void run_for(double seconds) {
    for (double t = 0; t < seconds; t += 0.01) {
      run_.tick();
      pass(0.01);
    }
  }
  standin::StandIn& truth() { return standin::truth_of(*machine_); }
  /// Where the controller counts that it is, whatever was told.
  MachinePosition counted() { return truth().controller().status().position; }

  std::unique_ptr<standin::ServedMachine> machine_;
  BadLine* line_ = nullptr;
  std::unique_ptr<LineLink> link_;
  ProgramRun run_;
};

class EachFace : public LinesTest, public ::testing::WithParamInterface<const char*> {
 protected:
  void SetUp() override { start(GetParam()); }
};

inline std::string face_name(const ::testing::TestParamInfo<const char*>& info) {
  return info.param;
}

}  // namespace ypsi::link
