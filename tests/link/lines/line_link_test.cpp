// A described controller, by each face of the stand-in: what is asked of it is done, and what it cannot tell is known.
#include "lines_fixture.h"

namespace ypsi::link {
namespace {

constexpr double a_step = 0.02;

const char* const square =
    "G21 G90 G54\n"
    "M3 S9000\n"
    "G0 X100 Y100 Z-5\n"
    "G1 X130 F1200\n"
    "G1 Y125\n"
    "(and back by an arc)\n"
    "G3 X100 Y125 I-15 J0 F900 ; half of it\n"
    "G0 Z-2\n"
    "M5\n"
    "M30\n";

INSTANTIATE_TEST_SUITE_P(Lines, EachFace, ::testing::Values("bare", "asked", "telling"), face_name);

TEST_P(EachFace, HomesAndKnowsWhereItIs) {
  EXPECT_EQ(link_->status().state, MachineState::not_homed);
  home();
  EXPECT_EQ(link_->status().state, MachineState::ready);
  for (const Axis a : all_axes) EXPECT_NEAR(link_->status().position[a], counted()[a], a_step) << letter(a);
  EXPECT_EQ(link_->status().homing.count, 1U);
}

TEST_P(EachFace, MovesOneAxisAsFarAsItIsAsked) {
  home();
  const MachinePosition before = counted();
  jog(Axis::x, 87.35);
  EXPECT_NEAR(counted().x, before.x + 87.35, a_step);
  EXPECT_NEAR(counted().y, before.y, a_step);
  EXPECT_NEAR(link_->status().position.x, counted().x, a_step);
  jog(Axis::x, -12.2, 900);
  EXPECT_NEAR(counted().x, before.x + 75.15, a_step);
}

TEST_P(EachFace, MovesALittleBeforeHoming) {
  const double before = counted().y;
  jog(Axis::y, 4, 300);
  EXPECT_NEAR(counted().y, before + 4, 0.05);
  EXPECT_EQ(link_->jog(Axis::y, 40, 300).error().code, "not_homed");
}

TEST_P(EachFace, EndsAJogSoonAfterItIsLetGo) {
  home();
  ASSERT_TRUE(link_->jog(Axis::x, 300, 3000));
  pass(1);
  const double let_go = counted().x;
  link_->end_jog();
  rest();
  const double stood = counted().x;
  EXPECT_LT(stood - let_go, 3000.0 / 60 * 0.5) << "half a second of way";
  pass(1);
  EXPECT_EQ(counted().x, stood);
  EXPECT_NEAR(link_->status().position.x, stood, a_step);
  EXPECT_EQ(link_->status().state, MachineState::ready);
}

TEST_P(EachFace, RefusesWhatWouldPassALimitBeforeItIsSent) {
  home();
  const double limit = link_->setting("axis.x.soft_max_mm").value();
  const auto refused = link_->jog(Axis::x, limit - counted().x + 10, 3000);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, "limit");
  run("G90 G53 G0 X" + std::to_string(limit + 10) + "\n");
  EXPECT_EQ(run_.state(), RunState::failed);
  rest();
  EXPECT_EQ(link_->status().state, MachineState::ready);
  EXPECT_LT(counted().x, limit);
}

TEST_P(EachFace, RunsAProgramToItsEnd) {
  home();
  ASSERT_TRUE(link_->set_setting("work.g54.z_mm", 0));
  pass(1);
  EXPECT_EQ(run(square), MachineState::ready) << run_.why();
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  const MachineStatus now = link_->status();
  const WorkPosition at = to_work(counted(), truth().controller().status().work_zero);
  EXPECT_NEAR(at.x, 100, a_step);
  EXPECT_NEAR(at.y, 125, a_step);
  for (const Axis a : all_axes) EXPECT_NEAR(now.position[a], counted()[a], a_step) << letter(a);
  EXPECT_EQ(truth().controller().status().spindle_rpm, 0);
}

TEST_P(EachFace, ReadsThePlacesInAProgramWhileItRuns) {
  home();
  ASSERT_TRUE(run_.start(*link_, square));
  std::uint32_t highest = 0;
  bool cut = false;
  for (double t = 0; t < 100 && run_.state() == RunState::running; t += 0.01) {
    run_.tick();
    pass(0.01);
    const std::uint32_t line = link_->status().block_in_hand;
    EXPECT_GE(line + 1, highest) << "it goes on, and not back";
    highest = std::max(highest, line);
    cut = cut || link_->status().state == MachineState::cutting;
  }
  EXPECT_TRUE(cut);
  EXPECT_GE(highest, 7U);
}

TEST_P(EachFace, EndsAProgramThatIsAbandoned) {
  home();
  ASSERT_TRUE(run_.start(*link_, "G90 G54 G1 X20 Y20 F600\nG1 X120 Y20\nG1 X20 Y120\nG1 X20 Y20\n"));
  run_for(3);
  run_.abandon();
  rest();
  EXPECT_EQ(link_->status().state, MachineState::ready) << link_->status().message;
  const MachinePosition stood = counted();
  pass(3);
  EXPECT_EQ(counted(), stood);
  for (const Axis a : all_axes) EXPECT_NEAR(link_->status().position[a], stood[a], a_step) << letter(a);
  jog(Axis::x, 5);  // and is taken on again
  EXPECT_NEAR(counted().x, stood.x + 5, a_step);
}

TEST_P(EachFace, HoldsAndGoesOn) {
  home();
  std::string text = "G90 G54 G1 F900\n";
  for (int i = 1; i <= 60; ++i) text += "X" + std::to_string(10 + i) + "\n";
  ASSERT_TRUE(run_.start(*link_, text));
  run_for(1.5);
  link_->hold();
  run_for(2);
  EXPECT_EQ(link_->status().state, MachineState::held);
  const MachinePosition held = counted();
  run_for(2);
  EXPECT_EQ(counted(), held);
  link_->go_on();
  for (double t = 0; t < 60 && run_.state() == RunState::running; t += 0.1) run_for(0.1);
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  EXPECT_NEAR(to_work(counted(), truth().controller().status().work_zero).x, 70, a_step);
}

TEST_P(EachFace, GoesOnInAnotherFrame) {
  for (const auto& [name, mm] : {std::pair{"work.g55.x_mm", 50.0}, {"work.g55.y_mm", 40.0}})
    ASSERT_TRUE(truth().controller().set_setting(name, mm));
  start_again();
  home();
  const bool works_alone = std::string(GetParam()) == "telling";
  run(std::string("G90 G54 G1 X20 Y20 F2400\nX60\nG55\nX20 Y20\n") + (works_alone ? "" : "G92 X0\nX30\nG92.1\n") +
      "G54 X25\n");
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  EXPECT_NEAR(counted().x, truth().controller().setting("work.g54.x_mm").value() + 25, a_step);
  EXPECT_NEAR(counted().y, truth().controller().setting("work.g55.y_mm").value() + 20, a_step);
  for (const Axis a : all_axes) EXPECT_NEAR(link_->status().position[a], counted()[a], a_step) << letter(a);
}

TEST_P(EachFace, WhatCannotBeFollowedIsRefused) {
  home();
  run("G90 G54 G1 X20 Y20 F2400\nG92 X0\n");
  const bool works_alone = std::string(GetParam()) == "telling";
  EXPECT_EQ(run_.state(), works_alone ? RunState::failed : RunState::finished) << run_.why();
}

TEST_P(EachFace, WaitsWhereTheProgramAsksToStop) {
  home();
  ASSERT_TRUE(run_.start(*link_, "G90 G54 G1 X20 Y20 F2400\nM0\nG1 X50\n"));
  for (double t = 0; t < 60 && link_->status().state != MachineState::held; t += 0.1) run_for(0.1);
  ASSERT_EQ(link_->status().state, MachineState::held);
  run_for(15);
  EXPECT_NEAR(to_work(counted(), truth().controller().status().work_zero).x, 20, a_step);
  link_->go_on();
  for (double t = 0; t < 60 && run_.state() == RunState::running; t += 0.1) run_for(0.1);
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  EXPECT_NEAR(to_work(counted(), truth().controller().status().work_zero).x, 50, a_step);
}

TEST_P(EachFace, ABlockThatIsRefusedIsTheLast) {
  home();
  line_->down = [](std::string bytes) {
    if (const auto at = bytes.find("X90"); at != std::string::npos) bytes.replace(at, 3, "Q90");
    return bytes;
  };
  double highest = 0;
  ASSERT_TRUE(run_.start(*link_, "G90 G54 G1 X40 Y30 F1200\nG1 X90\nG1 Y80\nG1 X40\nG1 Y30\n"));
  for (double t = 0; t < 30; t += 0.01) {
    run_.tick();
    pass(0.01);
    highest = std::max(highest, to_work(counted(), truth().controller().status().work_zero).y);
  }
  EXPECT_EQ(run_.state(), RunState::failed);
  EXPECT_NE(run_.why().find("refuses"), std::string::npos) << run_.why();
  EXPECT_LT(highest, 79) << run_.why() << " it went on from where the refused block should have led to";
  EXPECT_NE(link_->status().state, MachineState::cutting);
}

TEST_P(EachFace, SaysWhenTheLineIsCut) {
  home();
  line_->cut = true;
  pass(1);
  EXPECT_EQ(link_->status().state, MachineState::offline);
  EXPECT_NE(link_->status().message.find("cut"), std::string::npos) << link_->status().message;
  EXPECT_EQ(link_->jog(Axis::x, 1, 100).error().code, "offline");
  line_->cut = false;
  ASSERT_TRUE(link_->open());
  EXPECT_NE(link_->status().state, MachineState::offline);
}

TEST_P(EachFace, SaysThatItStartedAgain) {
  home();
  ASSERT_TRUE(run_.start(*link_, "G90 G54 G1 X20 Y20 F300\nG1 X120 Y20\n"));
  run_for(1);
  truth().controller().restart();
  run_for(2);
  EXPECT_EQ(run_.state(), RunState::failed);
  EXPECT_EQ(link_->status().state, MachineState::not_homed);
  EXPECT_NE(run_.why().find("started again"), std::string::npos) << run_.why();
  home();
}

}  // namespace
}  // namespace ypsi::link
