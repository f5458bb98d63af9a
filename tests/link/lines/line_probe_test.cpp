// Probing and settings over a described line.
#include <fmt/format.h>

#include "lines_fixture.h"

namespace ypsi::link {
namespace {

class Refusing : public LinesTest {};

class ProbingFace : public LinesTest, public ::testing::WithParamInterface<const char*> {
 protected:
  void SetUp() override {
    start(GetParam());
    home();
  }
  /// The plate on the stock under the tool, the clip on.
  void lay_plate() {
    const auto stock = machine_->bench().stock_seen();
    ASSERT_TRUE(stock);
    const double x = (stock->x0 + stock->x1) / 2, y = (stock->y0 + stock->y1) / 2;
    jog(Axis::x, x - link_->status().position.x);
    jog(Axis::y, y - link_->status().position.y);
    machine_->bench().set_clip(true);
    machine_->bench().lay_plate(PlatePlace::on_stock);
    pass(0.5);
  }
};
INSTANTIATE_TEST_SUITE_P(Lines, ProbingFace, ::testing::Values("asked", "telling"), face_name);

TEST_P(ProbingFace, TellsWhereItTouched) {
  lay_plate();
  const double low = link_->setting("axis.z.soft_min_mm").value();
  const double zero = truth().controller().status().work_zero.z;
  run("G90 G54 G38.2 Z" + std::to_string(low - zero) + " F300\n");
  ASSERT_EQ(run_.state(), RunState::finished) << run_.why();
  const ProbeResult told = link_->status().probe, counted_there = truth().controller().status().probe;
  EXPECT_TRUE(told.contact);
  EXPECT_EQ(told.count, 1U);
  for (const Axis a : all_axes) EXPECT_NEAR(told.at[a], counted_there.at[a], 0.001) << letter(a);
  EXPECT_NEAR(link_->status().position.z, counted().z, 0.02) << "and where it came to stand after it";
}

TEST_F(Refusing, ASearchIsWrittenAsItIsDescribed) {
  auto description = read_controller(controller_text("asked")).value();
  description.probe.block = "G38.2 F{rate} {axis}{place}";
  start("asked", description);
  home();
  const double z = link_->status().position.z - link_->status().work_zero.z;
  std::string sent;
  line_->down = [&](std::string bytes) { return sent += bytes, bytes; };
  run("G91 G38.2 Z-5 F300\n");  // it touches nothing, and that is said
  EXPECT_NE(sent.find(fmt::format("G38.2 F300 Z{:.4f}\n", z - 5)), std::string::npos) << sent;
  EXPECT_EQ(run_.state(), RunState::failed);
  // What follows a search by distances still goes by distances.
  rest();
  const double x = counted().x;
  machine_->bench().set_clip(true);
  run("G91 G38.3 Z-1 F300\nG1 X7 F600\nG90\n");
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  EXPECT_NEAR(counted().x, x + 7, 0.02);
}

TEST_P(ProbingFace, SaysThatItTouchedNothing) {
  run("G91 G38.2 Z-5 F300\n");
  EXPECT_EQ(run_.state(), RunState::failed);
  EXPECT_NE(run_.why().find("touched nothing"), std::string::npos) << run_.why();
  rest();
  EXPECT_FALSE(link_->status().probe.contact);
  EXPECT_EQ(link_->status().state, MachineState::ready);
}

TEST_P(ProbingFace, DoesNotBeginWhileItsInputIsOn) {
  truth().plant().short_probe();
  pass(1);
  ASSERT_TRUE(link_->status().inputs.probe);
  const double z = counted().z;
  run("G91 G38.2 Z-5 F300\n");
  EXPECT_EQ(run_.state(), RunState::failed);
  pass(2);
  EXPECT_EQ(counted().z, z);
}

TEST_P(ProbingFace, SetsWhatItIsToldAndReadsItBack) {
  ASSERT_TRUE(link_->set_setting("axis.x.steps_per_mm", 81.23456));
  pass(2);
  EXPECT_TRUE(link_->refusals().empty());
  EXPECT_NEAR(truth().controller().setting("axis.x.steps_per_mm").value(),
              GetParam() == std::string("asked") ? 81.2346 : 81.23456, 1e-9)
      << "in as many digits as it tells";
  EXPECT_EQ(link_->setting("axis.x.steps_per_mm").value(), truth().controller().setting("axis.x.steps_per_mm").value())
      << "as it stands there";
  EXPECT_NEAR(link_->as_taken("axis.x.steps_per_mm", 81.23456), link_->setting("axis.x.steps_per_mm").value(), 1e-9)
      << "so the book's digits are no difference";
  EXPECT_FALSE(link_->status().homed[0]) << "nobody knows where X stands now";
}

/// What it answers to the first says nothing about the second.
TEST_P(ProbingFace, ASettingThatIsSetTwiceIsNotRefused) {
  ASSERT_TRUE(link_->set_setting("axis.z.soft_min_mm", -104));
  ASSERT_TRUE(link_->set_setting("axis.z.soft_min_mm", -106));
  pass(2);
  EXPECT_TRUE(link_->refusals().empty());
  EXPECT_EQ(link_->setting("axis.z.soft_min_mm").value(), -106);
  EXPECT_EQ(truth().controller().setting("axis.z.soft_min_mm").value(), -106);
}

TEST_P(ProbingFace, AWorkZeroIsSetThere) {
  ASSERT_TRUE(link_->set_work_zero(Axis::x, 12.345));
  ASSERT_TRUE(link_->set_setting("work.g55.y_mm", 7.5));
  pass(2);
  EXPECT_NEAR(truth().controller().setting("work.g54.x_mm").value(), 12.345, 1e-4);
  EXPECT_NEAR(truth().controller().setting("work.g55.y_mm").value(), 7.5, 1e-4);
  EXPECT_NEAR(link_->status().work_zero.x, 12.345, 1e-4);
  for (const Axis a : all_axes) EXPECT_NEAR(link_->status().position[a], counted()[a], 0.02) << letter(a);
}

TEST_F(Refusing, ASettingThatIsRefusedIsAsItWas) {
  start("telling");
  const double before = link_->setting("axis.x.soft_max_mm").value();
  line_->down = [](std::string bytes) { return bytes.starts_with("V104=") ? std::string("V104=abc\n") : bytes; };
  ASSERT_TRUE(link_->set_setting("axis.x.soft_max_mm", before - 10));
  pass(2);
  const auto refused = link_->refusals();
  ASSERT_FALSE(refused.empty());
  EXPECT_EQ(refused.front().setting, "axis.x.soft_max_mm");
  EXPECT_NE(refused.front().why.message.find("does not understand"), std::string::npos)
      << "its number, in the description's words: " << refused.front().why.message;
  EXPECT_EQ(link_->setting("axis.x.soft_max_mm").value(), before);
}

TEST_F(Refusing, WhatTheLineDoesNotTellIsAskedOfTheOwner) {
  start("bare");
  ASSERT_TRUE(link_->set_setting("axis.x.steps_per_mm", 81.5));
  const HandCard* card = link_->hands().card();
  ASSERT_NE(card, nullptr);
  EXPECT_EQ(card->kind, HandCard::Kind::settings);
  EXPECT_EQ(card->settings.front().name, "axis.x.steps_per_mm");
  // A zero too: this one takes no G10.
  ASSERT_TRUE(link_->set_work_zero(Axis::x, 5));
  EXPECT_EQ(link_->hands().card()->settings.size(), 2U);
  ASSERT_TRUE(link_->hands().answer(link_->hands().card()->number, {}));
  EXPECT_EQ(link_->setting("axis.x.steps_per_mm").value(), 81.5);
  // What its inputs show it does not say either.
  ASSERT_FALSE(link_->tells_inputs());
  MachineInputs seen;
  seen.home_switch[1] = true;
  link_->hands().show_inputs(seen);
  EXPECT_EQ(link_->status().inputs, seen);
}

TEST_F(Refusing, HomingByHandWhereItIsNotDescribed) {
  auto description = read_controller(controller_text("bare")).value();
  description.acts.home = {};
  start("bare", description);
  ASSERT_TRUE(link_->home());
  ASSERT_NE(link_->hands().card(), nullptr);
  EXPECT_EQ(link_->hands().card()->kind, HandCard::Kind::home);
  EXPECT_EQ(link_->status().state, MachineState::moving);
  ASSERT_TRUE(truth().controller().home());  // what its owner does
  line_->machine_speed = 20;
  pass(4);
  HandAnswer said;
  said.at = counted();
  ASSERT_TRUE(link_->hands().answer(link_->hands().card()->number, said));
  pass(0.1);
  EXPECT_EQ(link_->status().state, MachineState::ready);
  line_->machine_speed = 1;
  const double x = counted().x;
  jog(Axis::x, 30);
  EXPECT_NEAR(counted().x, x + 30, 0.02);
}

TEST_F(Refusing, AToolChangeThatItDoesNotTakeIsAPauseHere) {
  start("bare");
  home();
  ASSERT_TRUE(run_.start(*link_, "G90 G54 G1 X20 Y20 F3000\nT2 M6\nG1 X30\n"));
  for (double t = 0; t < 60 && link_->status().state != MachineState::tool_change; t += 0.1) run_for(0.1);
  ASSERT_EQ(link_->status().state, MachineState::tool_change);
  EXPECT_EQ(link_->status().wanted_tool, 2);
  run_for(3);
  EXPECT_NEAR(to_work(counted(), truth().controller().status().work_zero).x, 20, 0.02);
  link_->tool_changed(2);
  for (double t = 0; t < 60 && run_.state() == RunState::running; t += 0.1) run_for(0.1);
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  EXPECT_EQ(link_->status().tool, 2);
}

TEST_F(Refusing, WordsThatItDoesNotTakeAreWrittenAsMoves) {
  auto description = read_controller(controller_text("telling")).value();
  description.takes_not = {"G53", "G2", "G3", "G81"};
  start("telling", description);
  home();
  std::string sent;
  line_->down = [&](std::string bytes) { return sent += bytes, bytes; };
  run("G90 G54 G0 X50 Y50\nG2 X70 Y50 I10 J0 F1500\nG81 X80 Y60 Z-6 R-3 F300\nG80\n");
  ASSERT_EQ(run_.state(), RunState::finished) << run_.why();
  EXPECT_EQ(sent.find("G2 "), std::string::npos) << sent;
  EXPECT_EQ(sent.find("G81"), std::string::npos) << sent;
  EXPECT_NEAR(to_work(counted(), truth().controller().status().work_zero).x, 80, 0.02);
  EXPECT_NEAR(to_work(counted(), truth().controller().status().work_zero).y, 60, 0.02);
  // The half circle about 60, 50 with radius 10 goes over its top.
  EXPECT_NE(sent.find("Y60.0000"), std::string::npos);
}

}  // namespace
}  // namespace ypsi::link
