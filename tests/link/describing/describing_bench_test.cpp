// Descriptions written at the bench, by somebody who knows of each controller only what it answers, and then worked
// with.
#include "link/describing/describing_bench.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>

#include "link/lines/can_do.h"
#include "link/lines/lines_fixture.h"

namespace ypsi::link {
namespace {

using Meanings = std::vector<std::pair<std::string, std::string>>;

class Describing : public LinesTest {
 protected:
  void sit_down(const std::string& face) {
    machine_ = standin::ServedMachine::from_scenario(demo_scenario()).value();
    ASSERT_TRUE(machine_->wear(face));
    auto line = std::make_unique<BadLine>(*machine_);
    line_ = line.get();
    bench_ = std::make_unique<DescribingBench>(std::move(line), told(), std::make_shared<ControllerDescription>());
    ASSERT_TRUE(bench_->begin());
    ASSERT_TRUE(bench_->opened().value());
    wait(0.5);
  }
  void wait(double seconds) {
    for (double t = 0; t < seconds; t += 0.01) {
      line_->pass(0.01);
      bench_->poll();
    }
  }
  /// What comes back.
  std::vector<std::string> hear(const std::string& text, double seconds = 0.4) {
    EXPECT_TRUE(bench_->say(text));
    wait(seconds);
    return bench_->came_since_said();
  }
  /// The last line of the log that begins so.
  std::string last(const std::string& beginning) {
    const auto& lines = bench_->log().lines();
    const auto found = std::find_if(lines.rbegin(), lines.rend(), [&](const LoggedLine& line) {
      return line.from_controller && line.bytes.starts_with(beginning);
    });
    return found == lines.rend() ? std::string() : found->bytes;
  }
  void mean(Part part, const std::string& line, const Meanings& meanings = {}) {
    std::vector<Mark> marks;
    std::size_t next = 0;
    for (const Token& t : tokens_of(line))
      if (next < meanings.size() && line.substr(t.begin, t.end - t.begin) == meanings[next].first)
        marks.push_back({t, meanings[next++].second});
    ASSERT_EQ(next, meanings.size()) << "“" << line << "”";
    ASSERT_TRUE(bench_->learn(part, line, marks));
  }
  TryFound try_it(Part part, double at_once = 20) {
    line_->machine_speed = at_once;
    const auto begun = bench_->begin_try(part);
    EXPECT_TRUE(begun) << begun.error().message;
    for (int i = 0; i < 60000 && bench_->trying(); ++i) wait(0.01);
    line_->machine_speed = 1;
    return bench_->found().value_or(TryFound{});
  }
  /// One that is worked with later, as the file has it.
  void work_with_it() {
    const auto read = read_controller(write_controller(bench_->draft()));
    ASSERT_TRUE(read) << read.error().message;
    bench_.reset();
    start(machine_face_, *read);
  }
  ControllerDescription& draft() { return bench_->draft(); }
  /// The plate on the stock under the tool, the clip on; the tool a little above it.
  void lay_plate() {
    line_->machine_speed = 20;
    const auto stock = machine_->bench().stock_seen();
    ASSERT_TRUE(stock);
    const WorkZero zero = truth().controller().status().work_zero;
    EXPECT_TRUE(bench_->say(fmt::format("G90 G1 X{:.3f} Y{:.3f} F3000", (stock->x0 + stock->x1) / 2 - zero.x,
                                        (stock->y0 + stock->y1) / 2 - zero.y)));
    wait(4);
    machine_->bench().set_clip(true);
    machine_->bench().lay_plate(PlatePlace::on_stock);
    const double low = truth().controller().setting("axis.z.soft_min_mm").value();
    EXPECT_TRUE(bench_->say(fmt::format("G38.2 Z{:.3f} F300", low - zero.z)));
    wait(4);
    EXPECT_TRUE(bench_->say("G91 G1 Z2 F300"));
    wait(1);
    EXPECT_TRUE(bench_->say("G90"));
    wait(0.5);
    line_->machine_speed = 1;
  }
  /// The words of a line as they stand there.
  std::vector<std::string> words(const std::string& line) {
    std::vector<std::string> all;
    for (const Token& t : tokens_of(line)) all.push_back(line.substr(t.begin, t.end - t.begin));
    return all;
  }

  std::string machine_face_;
  std::unique_ptr<DescribingBench> bench_;
};

/// What both descriptions do is the same, whatever their patterns look like.
void expect_the_same(const ControllerDescription& written, const std::string& face) {
  const auto shipped = read_controller(controller_text(face));
  ASSERT_TRUE(shipped);
  EXPECT_EQ(what_it_can_do(written), what_it_can_do(*shipped));
  const auto own = lines_of(write_controller(written)), other = lines_of(write_controller(*shipped));
  for (std::size_t i = 0; i < std::min(own.size(), other.size()); ++i)
    ASSERT_EQ(own[i], other[i]) << "the first line that differs";
  EXPECT_EQ(own.size(), other.size());
}

TEST_F(Describing, BareFromItsAnswersAlone) {
  sit_down(machine_face_ = "bare");
  draft().name = "Bare bench";
  draft().greeting.send = "who";
  ASSERT_EQ(hear("who").back(), "bare bench, ready to work");
  mean(Part::greeting, "bare bench, ready to work");
  EXPECT_TRUE(try_it(Part::greeting).worked);

  ASSERT_EQ(hear("G4 P0.1").back(), "so");
  mean(Part::taken, "so");
  EXPECT_TRUE(try_it(Part::taken, 1).worked);
  draft().block.answered = Answered::done;

  const auto refused = hear("nonsense");
  ASSERT_FALSE(refused.empty());
  ASSERT_TRUE(refused.back().starts_with("not so, ")) << refused.back();
  const auto tokens = tokens_of(refused.back());
  ASSERT_TRUE(bench_->learn(Part::refused, refused.back(), {{tokens[2], "why"}}));
  const TryFound no = try_it(Part::refused);
  EXPECT_TRUE(no.worked);
  EXPECT_FALSE(no.groups.at("why").empty());

  draft().acts.home.block = "M860";
  draft().takes_not = {"G10", "M6"};
  const TryFound homed = try_it(Part::home);
  EXPECT_TRUE(homed.worked) << homed.why;
  for (const Axis a : all_axes) EXPECT_NEAR(homed.to[a], counted()[a], 0.05) << letter(a);
  const TryFound dwell = try_it(Part::taken, 1);
  EXPECT_TRUE(dwell.worked);
  EXPECT_GT(dwell.seconds, 0.95) << "a block is answered once it is done";
  const double before = counted().x;
  const TryFound jogged = try_it(Part::jog);
  EXPECT_TRUE(jogged.worked) << jogged.why;
  EXPECT_NEAR(std::abs(counted().x - before), TryMoves::jog, 0.01);
  expect_the_same(draft(), "bare");
  work_with_it();
  home();
  jog(Axis::y, 20);
}

TEST_F(Describing, AskedFromItsAnswersAlone) {
  sit_down(machine_face_ = "asked");
  draft().name = "Asked mill";
  draft().greeting.send = "who";
  mean(Part::greeting, hear("who").back());
  mean(Part::taken, hear("G4 P0.01").back());
  ASSERT_TRUE(bench_->learn(Part::refused, "left it: x", {{tokens_of("left it: x").back(), "why"}}));
  const TryFound no = try_it(Part::refused);
  EXPECT_TRUE(no.worked);
  EXPECT_TRUE(no.line.starts_with("left it: "));
  EXPECT_LT(try_it(Part::taken).seconds, 0.5) << "once it was taken";
  draft().block.in_flight_bytes = 96;

  ASSERT_TRUE(bench_->say_bytes("05"));
  wait(0.2);
  const std::string told = last("stands");
  mean(Part::place, told,
       {{"0.000", "mx"},
        {"0.000", "my"},
        {"0.000", "mz"},
        {"lost", "state"},
        {"0", "feed"},
        {"0", "spindle"},
        {"nothing", "inputs"}});
  draft().report.ask.bytes = "05";
  draft().report.every_s = 0.1;
  draft().states = {{"still", "ready"},           {"running", "moving"}, {"paused", "held"},
                    {"lost", "not_homed"},        {"halted", "stopped"}, {"emergency", "emergency_stop"},
                    {"wants-tool", "tool_change"}};
  for (const char* end : {"home", "far"})
    for (const Axis a : all_axes)
      draft().inputs[std::string(axis_key(a)) + "-" + end] = std::string(end) + "_" + axis_key(a);
  draft().inputs["probe"] = "probe";
  draft().inputs["emergency"] = "emergency_stop";
  const TryFound place = try_it(Part::place);
  ASSERT_TRUE(place.worked);
  EXPECT_EQ(place.groups.at("state"), "lost");
  EXPECT_EQ(place.groups.at("inputs"), "nothing");

  draft().acts.home.block = "seek home";
  draft().acts.jog.block = "creep {axis} {distance} {rate}";
  draft().acts.end_jog.bytes = "1c";
  draft().acts.hold.bytes = "13";
  draft().acts.go_on.bytes = "11";
  draft().acts.abandon.bytes = "19";
  draft().acts.stop.bytes = "07";
  draft().acts.feed_override.block = "haste {percent}";
  draft().takes_not = {"M6"};
  EXPECT_FALSE(try_it(Part::hold).worked) << "it is not homed";
  EXPECT_NE(bench_->found()->why.find("home it"), std::string::npos) << bench_->found()->why;
  ASSERT_TRUE(try_it(Part::home).worked) << bench_->found()->why;
  for (const Part part : {Part::jog, Part::end_jog, Part::hold, Part::go_on, Part::abandon}) {
    const TryFound found = try_it(part, 1);
    EXPECT_TRUE(found.worked) << static_cast<int>(part) << ": " << found.why << " " << found.from.x << " to "
                              << found.to.x;
    if (part != Part::hold) {  // it tells where it was held, and went on
      EXPECT_NEAR(found.to.x, counted().x, 0.01) << static_cast<int>(part);
    }
  }
  draft().trust = {true, false, true};

  lay_plate();
  const auto met = words(last("met"));
  ASSERT_EQ(met.size(), 6U);
  draft().probe.block = "G38.2 {axis}{place} F{rate}";
  mean(Part::probe, last("met"), {{met[1], "contact"}, {met[3], "mx"}, {met[4], "my"}, {met[5], "mz"}});
  const TryFound touched = try_it(Part::probe, 5);
  EXPECT_TRUE(touched.worked) << touched.why;
  EXPECT_NEAR(touched.to.z, truth().controller().status().probe.at.z, 0.001);
  machine_->bench().set_clip(false);
  EXPECT_FALSE(try_it(Part::probe, 5).worked) << "it met nothing";
  wait(0.5);
  ASSERT_FALSE(last("trouble").empty());
  const auto trouble = tokens_of(last("trouble"));
  ASSERT_TRUE(bench_->learn(Part::trouble, last("trouble"), {{trouble[1], "why"}}));
  const std::pair<const char*, const char*> names[] = {
      {"_steps", "steps_per_mm"},      {"_fastest", "max_rate_mm_min"}, {"_gain", "accel_mm_s2"},
      {"_low", "soft_min_mm"},         {"_high", "soft_max_mm"},        {"_switch_at", "home_coordinate_mm"},
      {"_switch_high", "home_at_max"}, {"_back_off", "pull_off_mm"},    {"_turned", "reversed"}};
  for (const auto& [its, ours] : names) {
    const std::string setting = axis_setting(Axis::x, ours), own = std::string("x") + its;
    draft().settings[setting] = {{"tell " + own, "", ""}, "", "let " + own + " {value}", 3, own};
    const auto came = hear("tell " + own);
    ASSERT_FALSE(came.empty()) << own;
    ASSERT_TRUE(bench_->learn_setting(setting, came.back()));
  }
  say_for_other_axes(draft(), 0);
  const TryFound settings = try_it(Part::settings);
  EXPECT_TRUE(settings.worked) << settings.why;
  EXPECT_EQ(settings.settings.size(), 27u);
  for (const auto& [name, value] : settings.settings)
    EXPECT_NEAR(value, truth().controller().setting(name).value(), 1e-4) << name;
  ASSERT_TRUE(try_it(Part::stop, 1).worked);
  expect_the_same(draft(), "asked");
  work_with_it();
  home();
  jog(Axis::y, 20);
}

TEST_F(Describing, TellingFromItsAnswersAlone) {
  sit_down(machine_face_ = "telling");
  draft().name = "Telling bench 7";
  draft().greeting.send = "WHO";
  EXPECT_TRUE(bench_->say("WHO"));
  wait(0.2);
  mean(Part::greeting, last("TELLING"));
  EXPECT_TRUE(bench_->say("G4 P0.01"));
  wait(0.2);
  mean(Part::taken, last("ack"));
  EXPECT_TRUE(bench_->say("Q9"));
  wait(0.2);
  const auto no = words(last("nak"));
  mean(Part::refused, last("nak"), {{no[1], "why"}});
  for (int i = 0; i < 30; ++i) EXPECT_TRUE(bench_->say("G4 P0.1"));
  wait(4);
  mean(Part::not_now, last("wait"));
  draft().block.in_flight_blocks = 6;
  draft().block.reasons = {{"31", "it would pass a limit"},
                           {"32", "it does not know where it is"},
                           {"33", "it is busy"},
                           {"34", "the number is outside its range"},
                           {"35", "it was stopped"},
                           {"36", "the probe touched nothing"},
                           {"37", "the probe's input was on before the search"},
                           {"40", "it does not understand that"}};

  // It tells by itself; with the probe's clip held to the tool there is a letter at the end.
  machine_->bench().hold_switch(Axis::x, true);
  wait(0.3);
  const auto told = words(last("now"));
  ASSERT_EQ(told.size(), 8U) << last("now");
  mean(Part::place, last("now"),
       {{told[1], "state"},
        {told[2], "wx"},
        {told[3], "wy"},
        {told[4], "wz"},
        {told[5], "feed"},
        {told[6], "spindle"},
        {told[7], "inputs"}});
  EXPECT_EQ(told[7], "a");
  machine_->bench().hold_switch(Axis::x, false);
  draft().report.every_s = 0.1;
  draft().states = {{"1", "ready"},   {"2", "moving"},         {"3", "held"},       {"4", "not_homed"},
                    {"5", "stopped"}, {"6", "emergency_stop"}, {"7", "tool_change"}};
  draft().inputs = {{"a", "home_x"}, {"b", "home_y"}, {"c", "home_z"}, {"d", "far_x"},
                    {"e", "far_y"},  {"f", "far_z"},  {"p", "probe"},  {"s", "emergency_stop"}};
  EXPECT_TRUE(try_it(Part::place, 1).worked);
  draft().acts.home.block = "REFERENCE";
  draft().acts.hold.text = "PAUSE";
  draft().acts.go_on.text = "RESUME";
  draft().acts.abandon.text = "FORGET";
  draft().acts.stop.text = "HALT";
  draft().takes_not = {"G53", "M6"};
  draft().trust = {true, false, true};
  ASSERT_TRUE(try_it(Part::home).worked) << bench_->found()->why;
  for (const Part part : {Part::jog, Part::hold, Part::go_on, Part::abandon}) {
    const TryFound found = try_it(part, 1);
    EXPECT_TRUE(found.worked) << static_cast<int>(part) << ": " << found.why << " " << found.from.x << " to "
                              << found.to.x;
  }
  lay_plate();
  const auto met = words(last("touch"));
  ASSERT_EQ(met.size(), 5U) << last("touch");
  draft().probe.block = "G38.2 {axis}{place} F{rate}";
  mean(Part::probe, last("touch"), {{met[1], "contact"}, {met[2], "mx"}, {met[3], "my"}, {met[4], "mz"}});
  EXPECT_TRUE(try_it(Part::probe, 5).worked) << bench_->found()->why;
  machine_->bench().set_clip(false);
  EXPECT_FALSE(try_it(Part::probe, 5).worked) << "it met nothing";
  wait(0.5);
  const auto trip = words(last("trip"));
  ASSERT_EQ(trip.size(), 2U);
  mean(Part::trouble, last("trip"), {{trip[1], "why"}});

  const auto setting = [&](const std::string& ours, int number) {
    const std::string own = fmt::format("V{}", number);
    draft().settings[ours] = {{own, "", ""}, "", own + "={value}", 3, own};
    const auto came = hear(own, 0.15);
    ASSERT_FALSE(came.empty()) << own;
    ASSERT_TRUE(bench_->learn_setting(ours, came.back())) << came.back();
  };
  const char* const of_axis[] = {"steps_per_mm", "max_rate_mm_min",    "accel_mm_s2", "soft_min_mm", "soft_max_mm",
                                 "reversed",     "home_coordinate_mm", "home_at_max", "pull_off_mm"};
  for (int i = 0; i < 9; ++i) setting(axis_setting(Axis::x, of_axis[i]), 100 + i);
  say_for_other_axes(draft(), 10);
  for (int frame = 0; frame < 9; ++frame)
    for (const Axis a : all_axes) setting(work_zero_setting(frame, a), 200 + 3 * frame + static_cast<int>(index(a)));
  setting("work.frame", 299);
  const TryFound settings = try_it(Part::settings, 1);
  EXPECT_TRUE(settings.worked) << settings.why;
  EXPECT_EQ(settings.settings.size(), 55U);
  for (const auto& [name, value] : settings.settings)
    EXPECT_NEAR(value, truth().controller().setting(name).value(), 1e-4) << name;
  EXPECT_TRUE(try_it(Part::stop, 1).worked) << bench_->found()->why;
  expect_the_same(draft(), "telling");
  work_with_it();
  home();
  jog(Axis::y, 20);
}

TEST_F(Describing, WhatDoesNotAnswerIsSaid) {
  sit_down("bare");
  draft().block.accepted = "^ok$";
  const TryFound silent = try_it(Part::taken, 1);
  EXPECT_FALSE(silent.worked);
  EXPECT_TRUE(silent.line.empty());
  EXPECT_GE(silent.seconds, 3);
  EXPECT_FALSE(try_it(Part::jog).worked) << "nothing tells when a move has ended";
  EXPECT_NE(bench_->found()->why.find("name"), std::string::npos) << bench_->found()->why;
  draft().block.accepted = "((";
  EXPECT_FALSE(try_it(Part::taken, 1).worked);
  EXPECT_NE(bench_->found()->why.find("pattern"), std::string::npos);
  EXPECT_FALSE(bench_->begin_try(Part::trust));
  EXPECT_FALSE(bench_->say_bytes("1g"));
  EXPECT_FALSE(bench_->learn_setting("axis.x.steps_per_mm", "nothing here"));
  line_->cut = true;
  EXPECT_FALSE(bench_->say("who"));
  EXPECT_FALSE(bench_->begin_try(Part::taken));
}

TEST_F(Describing, AMoveThatIsGivenUpStands) {
  sit_down("asked");
  draft() = read_controller(controller_text("asked")).value();
  ASSERT_TRUE(try_it(Part::home).worked) << bench_->found()->why;
  const double from = counted().x;
  ASSERT_TRUE(bench_->begin_try(Part::hold));
  EXPECT_FALSE(bench_->say("G0 X0")) << "while something is tried";
  wait(1);
  ASSERT_GT(std::abs(counted().x - from), 1);
  bench_->give_up_try();
  EXPECT_FALSE(bench_->trying());
  wait(1);
  const double stood = counted().x;
  wait(1);
  EXPECT_EQ(counted().x, stood);
  EXPECT_LT(std::abs(stood - from), TryMoves::interrupted - 1);
}

TEST_F(Describing, WhatIsGivenUpByABlockIsToldSo) {
  sit_down("asked");
  draft() = read_controller(controller_text("asked")).value();
  ASSERT_TRUE(try_it(Part::home).worked) << bench_->found()->why;
  draft().acts.abandon = {"drop it", "", ""};
  ASSERT_TRUE(bench_->begin_try(Part::hold));
  wait(0.6);
  bench_->give_up_try();
  EXPECT_NE(bench_->log().to_text().find(" > drop it\n"), std::string::npos) << "nothing is looked at after it";
}

TEST_F(Describing, WhatIsSaidIsLogged) {
  sit_down("asked");
  ASSERT_TRUE(bench_->say_bytes("05"));
  ASSERT_TRUE(bench_->say("who"));
  wait(0.2);
  const std::string text = bench_->log().to_text();
  EXPECT_NE(text.find(" > <05>\n"), std::string::npos) << text;
  EXPECT_NE(text.find(" > who\n"), std::string::npos) << text;
  EXPECT_NE(text.find(" < asked mill 2 awake\n"), std::string::npos) << text;
  EXPECT_EQ(bench_->log().lines().front().hexadecimal().substr(0, 8), "61 73 6b");
}

TEST(SettingsOfOtherAxes, FollowLettersAndNumbers) {
  ControllerDescription d;
  d.settings["axis.x.steps_per_mm"] = {
      {"tell x_steps", "", ""}, "^x_steps is (?P<value>.*)$", "let x_steps {value}", 3, "X max"};
  d.settings["axis.x.soft_max_mm"] = {{"V104", "", ""}, "^V104=(?P<value>.*)$", "V104={value}", 3, "max 104"};
  d.settings["axis.y.soft_max_mm"] = {{"own", "", ""}, "own", "", 3, ""};
  say_for_other_axes(d, 10);
  EXPECT_EQ(d.settings.at("axis.y.steps_per_mm").get.block, "tell y_steps");
  EXPECT_EQ(d.settings.at("axis.z.steps_per_mm").set, "let z_steps {value}");
  EXPECT_EQ(d.settings.at("axis.z.steps_per_mm").called, "Z max") << "the x in max is a letter of a word";
  EXPECT_EQ(d.settings.at("axis.z.soft_max_mm").answer, "^V124=(?P<value>.*)$");
  EXPECT_EQ(d.settings.at("axis.z.soft_max_mm").called, "max 124");
  EXPECT_EQ(d.settings.at("axis.y.soft_max_mm").answer, "own") << "what is said already is kept";
}

}  // namespace
}  // namespace ypsi::link
