// The whole link, client to controller, over lines that lose, repeat and garble.
#include <fmt/format.h>

#include <cmath>
#include <fstream>
#include <random>
#include <thread>

#include "link/in_process.h"
#include "link/messages.h"
#include "link_fixture.h"

namespace ypsi::link {
namespace {

TEST_F(LinkTest, TheHandshakeTellsWhoAnswers) {
  open();
  const Identity& who = client_->wire().identity();
  EXPECT_EQ(who.name, "Stand-in");
  EXPECT_EQ(who.axes, (std::vector<std::string>{"x", "y", "z"}));
  EXPECT_TRUE(who.can("simulated"));
  EXPECT_FALSE(who.can("fly"));
  EXPECT_GT(who.look_ahead, 0);
  EXPECT_EQ(client_->status().state, MachineState::not_homed);
}

TEST_F(LinkTest, EverySettingTheManualNamesCanBeReadAndWritten) {
  open();
  std::ifstream manual(std::string(YPSI_RESOURCES) + "/../docs/link.md");
  std::string line;
  int names = 0;
  while (std::getline(manual, line)) {
    if (!line.starts_with("| `axis.") && !line.starts_with("| `work.") && !line.starts_with("| `tool.") &&
        !line.starts_with("| `limits.") && !line.starts_with("| `probe."))
      continue;
    const std::string name = line.substr(3, line.find('`', 3) - 3);
    const auto was = client_->setting(name);
    ASSERT_TRUE(was) << name << ": " << was.error().message;
    EXPECT_TRUE(client_->set_setting(name, *was)) << name;
    ++names;
  }
  EXPECT_GT(names, 15);
  EXPECT_EQ(client_->setting("axis.x.colour").error().code, "unknown_setting");
  EXPECT_EQ(client_->set_setting("axis.x.steps_per_mm", -3).error().code, "out_of_range");
  ASSERT_TRUE(client_->set_setting("work.g57.y_mm", 12.25));
  EXPECT_EQ(truth().controller().setting("work.g57.y_mm").value(), 12.25);
  EXPECT_EQ(truth().controller().setting("work.g54.y_mm").value(), 0);
}

// Two hundred steps of 0.5 mm: each block that were lost or done twice would show in where it ends.
TEST_F(LinkTest, EveryBlockIsDoneOnceWhateverTheLineDoes) {
  std::string text = "G21 G91 F6000\n";
  for (int i = 0; i < 200; ++i) text += i % 2 ? "G1 X0.5 Y0.25 (there)\n" : "G1 X0.5 (here)\n";
  const Noise kinds[] = {{},
                         {.lost = 100},
                         {.repeated = 300},
                         {.changed = 2},
                         {.dropped = 2},
                         {.added = 2},
                         {.lost = 30, .repeated = 50, .changed = 1, .dropped = 1, .added = 1}};
  for (std::size_t kind = 0; kind < std::size(kinds); ++kind)
    for (std::uint64_t seed = 1; seed <= 3; ++seed) {
      start(demo_scenario());
      open();
      home();
      const double x = client_->status().position.x, y = client_->status().position.y;
      Noise noise = kinds[kind];
      noise.random.seed(seed);
      line_->down = noise;
      noise.random.seed(seed + 100);
      line_->up = noise;
      // A start over a bad line may have to be asked for twice, as a person would.
      for (int i = 0; i < 5 && !run_.start(*client_, text); ++i) pass(0.2);
      for (int i = 0; i < 20000 && run_.state() == RunState::running; ++i) {
        run_.tick();
        pass(0.01);
      }
      line_->down = line_->up = nullptr;
      pass(0.3);
      EXPECT_EQ(run_.state(), RunState::finished) << "kind " << kind << " seed " << seed << ": " << run_.why();
      EXPECT_NEAR(client_->status().position.x, x + 100, 0.02) << "kind " << kind << " seed " << seed;
      EXPECT_NEAR(client_->status().position.y, y + 25, 0.02) << "kind " << kind << " seed " << seed;
    }
}

TEST_F(LinkTest, ABlockThatIsRefusedEndsTheProgramBeforeIt) {
  open();
  home();
  run("G21 G90 F3000\nG1 X20\nG1 X5000\nG1 X30\nM30\n");
  EXPECT_EQ(run_.state(), RunState::failed);
  EXPECT_NE(run_.why().find("Line 3"), std::string::npos) << run_.why();
  pass(3);
  EXPECT_LE(client_->status().position.x, 20.1);
  EXPECT_EQ(run("G21 G90 F3000\nG1 X25\nM30\n"), MachineState::ready) << "and the next program runs";
  EXPECT_EQ(run_.state(), RunState::finished);
  EXPECT_NEAR(client_->status().position.x, 25, 0.02);
}

/// Homed an axis may stand a step outside of its limit: what does not move it is taken, what moves it farther is not.
TEST_F(LinkTest, AnAxisThatStandsOutsideOfItsLimitIsLeftThere) {
  open();
  home();
  const double at = client_->status().position.x;
  ASSERT_TRUE(client_->set_setting("axis.x.soft_min_mm", at + 0.3));
  EXPECT_EQ(run("G21 G90 F3000\nG0 Z-8\nM30\n"), MachineState::ready);
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  run(fmt::format("G21 G90 F3000\nG0 X{:.3f}\nM30\n", at - 1 - client_->status().work_zero.x));
  EXPECT_EQ(run_.state(), RunState::failed);
  EXPECT_NE(run_.why().find("Line 2"), std::string::npos) << run_.why();
  EXPECT_NEAR(client_->status().position.x, at, 0.02);
}

TEST_F(LinkTest, TheLookAheadIsBoundedByCredits) {
  open();
  home();
  ASSERT_TRUE(client_->begin_program());
  int sent = 0;
  while (sent < 100000 && client_->send("G91 G1 X0.001 F10", 1)) ++sent;
  EXPECT_GT(sent, 200);
  EXPECT_LT(sent, 1200);
  EXPECT_EQ(client_->send("G1 X1", 1).error().code, "full");
  client_->abandon();
  pass(1);
  EXPECT_EQ(client_->status().state, MachineState::ready);
}

TEST_F(LinkTest, AHostThatFallsSilentLeavesAStandingMachine) {
  open();
  home();
  ASSERT_TRUE(client_->begin_program());
  ASSERT_TRUE(client_->send("S9000 M3", 1));
  ASSERT_TRUE(client_->send("G1 X500 F2000", 2));
  pass(2);
  EXPECT_EQ(client_->status().state, MachineState::cutting);
  const double at = client_->status().position.x;
  line_->pass(3);  // the machine's time goes on, the host's does not
  const auto s = truth().link().status();
  EXPECT_EQ(s.state, MachineState::stopped);
  EXPECT_EQ(s.spindle_rpm, 0);
  EXPECT_NEAR(s.position.x, at + 1.05 * 2000 / 60, 5) << "a second of silence, and the way to brake";
  // It goes on where it was left: connected anew, homed anew.
  open();
  EXPECT_EQ(client_->status().state, MachineState::stopped);
  home();
}

TEST_F(LinkTest, APeerThatStopsAnsweringIsToldInWords) {
  open();
  home();
  line_->up = [](const std::string&) { return std::string(); };
  pass(1.3);
  EXPECT_EQ(client_->status().state, MachineState::offline);
  EXPECT_NE(client_->wire().trouble().find("stopped answering"), std::string::npos);
  EXPECT_EQ(client_->home().error().code, "offline");
  EXPECT_EQ(client_->send("G1", 1).error().code, "offline");
  line_->up = nullptr;
  open();
  EXPECT_TRUE(client_->home());
}

TEST_F(LinkTest, ACutCableEndsTheRunWithTheLine) {
  open();
  home();
  begin("G21 G91 F2000 S9000 M3\nG1 X30\nG1 X30\nG1 X100\nM30\n", 2.5);
  ASSERT_EQ(run_.state(), RunState::running);
  line_->cut = true;
  pass(0.1);
  run_.tick();
  EXPECT_EQ(run_.state(), RunState::failed);
  EXPECT_NE(run_.why().find("was cut"), std::string::npos) << run_.why();
  EXPECT_GE(run_.line_in_hand(), 3u);
}

TEST_F(LinkTest, WhyAConnectionFailsIsSaid) {
  line_->cut = true;
  EXPECT_NE(client_->open().error().message.find("cable"), std::string::npos);
  line_->cut = false;
  line_->up = [](const std::string&) { return std::string(); };
  EXPECT_NE(client_->open(0.5).error().message.find("Nothing answers"), std::string::npos);
  line_->up = [](const std::string&) { return std::string("login: \nPassword: \n"); };
  EXPECT_NE(client_->open(0.5).error().message.find("not a controller"), std::string::npos);
  line_->up = nullptr;
  line_->down = [](std::string bytes) {
    const auto at = bytes.find("\"link\":2");
    return at == std::string::npos ? bytes : "\n" + down_line(0, R"({"hello":{"link":9,"name":"later"}})");
  };
  EXPECT_NE(client_->open(0.5).error().message.find("version 2"), std::string::npos);
}

TEST_F(LinkTest, NoiseHoldsAndStopsButNeverLetsGo) {
  open();
  home();
  begin("G21 G91 F300\nG1 X100\nM2\n", 1);
  client_->hold();
  pass(1);
  ASSERT_EQ(client_->status().state, MachineState::held);
  const MachinePosition at = client_->status().position;
  std::mt19937_64 dice(5);
  for (int i = 0; i < 64; ++i) {
    std::string noise = "\x02\xfd\n\x02\xfd";
    for (int n = 0; n < 1024; ++n) {
      const auto byte = static_cast<unsigned char>(dice());
      // What stops would end the hold, and rightly.
      if (byte != 3 && byte != 4) noise += static_cast<char>(byte);
    }
    machine_->receive(noise);
    pass(0.02);
  }
  EXPECT_EQ(client_->status().state, MachineState::held);
  EXPECT_EQ(client_->status().position, at);
  client_->go_on();
  pass(1);
  EXPECT_EQ(client_->status().state, MachineState::cutting);
  EXPECT_GT(client_->status().position.x, at.x + 1);
}

TEST_F(LinkTest, ARequestThatComesTooLateIsNotDone) {
  open();
  home();
  const MachinePosition at = client_->status().position;
  // The line stands still for longer than anybody waits, and then brings everything.
  std::string kept_back;
  line_->down = [&](std::string bytes) {
    kept_back += bytes;
    return std::string();
  };
  EXPECT_TRUE(client_->jog(Axis::x, 5, 600)) << "taken on trust";
  EXPECT_EQ(client_->status().state, MachineState::moving);
  pass(0.8);
  ASSERT_TRUE(client_->status().refusal);
  EXPECT_NE(client_->status().refusal->message.find("did not answer in time"), std::string::npos);
  EXPECT_EQ(client_->status().state, MachineState::ready);
  line_->down = nullptr;
  machine_->receive(kept_back);
  pass(2);
  EXPECT_EQ(truth().controller().status().position, at) << "it was said that it failed";
  ASSERT_TRUE(client_->jog(Axis::x, 5, 600));
  pass(1);
  EXPECT_FALSE(client_->status().refusal) << "the next one is in time";
  EXPECT_NEAR(truth().controller().status().position.x, at.x + 5, 0.02);
}

TEST_F(LinkTest, NothingWaitsForTheLineAndHoldGoesAtOnce) {
  open();
  home();
  ASSERT_TRUE(client_->jog(Axis::x, 200, 3000));
  pass(0.5);
  // From here on the controller hears and is not heard.
  line_->up = [](const std::string&) { return std::string(); };
  line_->waits = 0;
  EXPECT_EQ(client_->set_setting("work.g55.x_mm", 3).error().code, "busy") << "known without asking";
  EXPECT_TRUE(client_->setting("axis.x.steps_per_mm"));
  client_->set_feed_override(0.5);
  client_->tool_changed(2);
  (void)client_->jog(Axis::x, 1, 100);
  client_->hold();
  EXPECT_EQ(line_->waits, 0);
  line_->pass(0.5);
  EXPECT_EQ(truth().controller().status().state, MachineState::ready) << "a jog that is held is over";
  EXPECT_LT(truth().controller().status().position.x, 60);
}

TEST_F(LinkTest, AMotionAskedForAfterASettingBeginsOnlyOnceThatWasTaken) {
  open();
  home();
  const auto delayed = [this](int by) {
    line_->up = [kept = std::string(), left = by](const std::string& bytes) mutable {
      kept += bytes;
      return left-- > 0 ? std::string() : std::exchange(kept, {});
    };
  };
  const double x = client_->status().position.x;
  delayed(5);
  ASSERT_TRUE(client_->set_setting("axis.x.accel_mm_s2", 300));
  ASSERT_TRUE(client_->jog(Axis::x, 5, 600));
  EXPECT_EQ(client_->setting("axis.x.accel_mm_s2").value(), 300) << "on trust";
  EXPECT_EQ(truth().controller().status().state, MachineState::ready) << "not sent yet";
  EXPECT_EQ(client_->status().state, MachineState::moving) << "but asked for";
  pass(2);
  EXPECT_NEAR(client_->status().position.x, x + 5, 0.02);
  // Refused: another host's finger is on the emergency stop's other contact, say; nothing moves, and it is told.
  delayed(5);
  line_->down = [](const std::string& bytes) {
    const auto at = bytes.find("axis.x.pull_off_mm");
    return at == std::string::npos ? bytes
                                   : down_line(std::stoul(bytes), R"({"do":"set","name":"axis.x.off","value":2})");
  };
  ASSERT_TRUE(client_->set_setting("axis.x.pull_off_mm", 2.5));
  ASSERT_TRUE(client_->jog(Axis::x, 5, 600));
  pass(2);
  EXPECT_NEAR(client_->status().position.x, x + 5, 0.02);
  ASSERT_TRUE(client_->status().refusal);
  EXPECT_EQ(client_->status().refusal->code, "unknown_setting");
  const auto refused = client_->refusals();
  ASSERT_EQ(refused.size(), 1u);
  EXPECT_EQ(refused[0].setting, "axis.x.pull_off_mm");
  EXPECT_NE(client_->setting("axis.x.pull_off_mm").value(), 2.5) << "what it had before";
  // What was asked for and not sent is not begun after an act that ends things.
  line_->down = nullptr;
  delayed(5);
  ASSERT_TRUE(client_->set_setting("axis.x.accel_mm_s2", 350));
  ASSERT_TRUE(client_->jog(Axis::x, 5, 600));
  client_->end_jog();
  pass(2);
  EXPECT_NEAR(client_->status().position.x, x + 5, 0.02);
}

TEST_F(LinkTest, AProgramsOwnZerosAreKnownWhenItIsOver) {
  open();
  home();
  run("G21 G10 L2 P3 X12.5\nG4 P0.1\nM2\n");
  pass(0.2);
  EXPECT_EQ(client_->setting("work.g56.x_mm").value(), 12.5);
}

TEST_F(LinkTest, StatesTakeAThirdOfTheLineAtMost) {
  constexpr double seconds = 10;
  for (const double baud : {57600.0, 115200.0, 0.0}) {
    start(demo_scenario());
    machine_->set_line_rate(baud / 10);
    open();
    home();
    std::size_t bytes = 0;
    line_->up = [&bytes](const std::string& said) { return bytes += said.size(), said; };
    pass(seconds);
    const auto idle = static_cast<double>(std::exchange(bytes, 0)) / seconds;
    EXPECT_LT(idle, 2500) << "standing";
    ASSERT_TRUE(client_->jog(Axis::x, 500, 2000));
    bytes = 0;
    pass(seconds);
    EXPECT_EQ(client_->status().state, MachineState::moving);
    const auto moving = static_cast<double>(bytes) / seconds;
    EXPECT_GT(moving, idle);
    if (baud > 0) {
      EXPECT_LT(moving, baud / 10 * 0.45) << "a third for states, and the short lines";
    }
  }
}

}  // namespace
}  // namespace ypsi::link
