// Descriptions of controllers: read, refused with their place, written as they were.
#include <gtest/gtest.h>

#include <chrono>
#include <random>

#include "lines_fixture.h"

namespace ypsi::link {
namespace {

TEST(ControllerDescription, IsWrittenAsItIsRead) {
  for (const char* face : {"bare", "asked", "telling"}) {
    const auto read = read_controller(controller_text(face));
    ASSERT_TRUE(read) << face << ": " << read.error().message;
    const std::string written = write_controller(*read);
    const auto again = read_controller(written);
    ASSERT_TRUE(again) << again.error().message;
    EXPECT_EQ(write_controller(*again), written);
    EXPECT_EQ(nlohmann::json::parse(written)["block"]["accepted"],
              nlohmann::json::parse(controller_text(face))["block"]["accepted"]);
  }
}

TEST(ControllerDescription, KeepsWhatItDoesNotKnow) {
  auto text = nlohmann::json::parse(controller_text("bare"));
  text["painted"] = "green";
  const auto read = read_controller(text.dump());
  ASSERT_TRUE(read);
  EXPECT_EQ(nlohmann::json::parse(write_controller(*read))["painted"], "green");
}

TEST(ControllerDescription, NeedsFourThings) {
  const char* least =
      R"({"format":"ypsilograph-controller","version":1,"name":"Least","block":{"accepted":"^y$","answered":"done"}})";
  EXPECT_TRUE(read_controller(least)) << read_controller(least).error().message;
  for (const char* key : {"format", "version", "name", "block"}) {
    auto without = nlohmann::json::parse(least);
    without.erase(key);
    EXPECT_FALSE(read_controller(without.dump())) << key;
  }
}

struct Bad {
  const char* pointer;
  nlohmann::json value;
  const char* code;
  const char* where;
};

TEST(ControllerDescription, IsRefusedWithItsPlace) {
  const Bad all[] = {
      {"/block/accepted", "(", "bad_pattern", "block.accepted"},
      {"/block/accepted", "", "missing", "block.accepted"},
      {"/block/accepted", 7, "wrong_type", "block.accepted"},
      {"/block/in_flight_blocks", 0, "out_of_range", "block.in_flight_blocks"},
      {"/report/answer", "stands", "missing", "report.answer"},
      {"/report/answer", "(?P<state>.) (?P<mx>.)", "missing", "report.answer"},
      {"/states/still", "asleep", "out_of_range", "states.still"},
      {"/states/still", 3, "wrong_type", "states.still"},
      {"/inputs/probe", "touch", "out_of_range", "inputs.probe"},
      {"/acts/hold/bytes", "1", "out_of_range", "acts.hold.bytes"},
      {"/acts/hold/text", "both", "out_of_range", "acts.hold"},
      {"/acts/continue", nullptr, "missing", "acts.continue"},
      {"/acts/home", {{"bytes", "11"}}, "wrong_type", "acts.home"},
      {"/acts/jog/block", "creep {axis} {distance}", "missing", "acts.jog"},
      {"/acts/jog/block", "creep {axis} {distance} {rate} {smell}", "out_of_range", "acts.jog"},
      {"/probe/block", nullptr, "missing", "probe.block"},
      {"/settings/axis.x.steps_per_mm/answer", "(.*)", "missing", "settings.axis.x.steps_per_mm.answer"},
      {"/settings/axis.x.steps_per_mm/set", "let", "missing", "settings.axis.x.steps_per_mm.set"},
      {"/settings/axis.x.steps_per_mm/digits", 99, "out_of_range", "settings.axis.x.steps_per_mm.digits"},
      {"/settings/colour", {{"set", "{value}"}}, "out_of_range", "settings.colour"},
      {"/line/ending", "\t", "out_of_range", "line.ending"},
      {"/version", 2, "newer", "version"},
      {"/format", "ypsilograph-book", "wrong_type", "format"}};
  for (const Bad& bad : all) {
    auto text = nlohmann::json::parse(controller_text("asked"));
    text[nlohmann::json::json_pointer(bad.pointer)] = bad.value;
    const auto read = read_controller(text.dump());
    ASSERT_FALSE(read) << bad.pointer << " " << bad.value;
    EXPECT_EQ(read.error().code, bad.code) << bad.pointer << ": " << read.error().message;
    EXPECT_EQ(read.error().where, bad.where) << bad.pointer << ": " << read.error().message;
  }
  EXPECT_EQ(read_controller("").error().code, "not_json");
  EXPECT_EQ(read_controller("[]").error().code, "not_json");
}

TEST(ControllerDescription, SaysHowItIsKnownThatAMoveHasEnded) {
  auto text = nlohmann::json::parse(controller_text("bare"));
  text["block"].erase("answered");
  EXPECT_EQ(read_controller(text.dump()).error().where, "block.answered");
  text["block"]["settle"] = "G4 P0.01";
  EXPECT_TRUE(read_controller(text.dump()));
}

/// Expressions that make other readers run for ever.
TEST(LinePattern, NoExpressionMakesItRunAway) {
  const std::string line(1 << 20, 'a');
  for (const char* evil :
       {"(a+)+$b", "(a|a)*b", "(a|aa)+b", "(.*a){12}b", "((a*)*)*b", "^(([a-z])+.)+[A-Z]([a-z])+$"}) {
    const auto pattern = LinePattern::from(evil);
    if (!pattern) continue;  // too big: said
    const auto begun = std::chrono::steady_clock::now();
    EXPECT_FALSE(pattern->find(line)) << evil;
    EXPECT_LT(std::chrono::steady_clock::now() - begun, std::chrono::seconds(20)) << evil;
  }
  EXPECT_EQ(LinePattern::from("((((a{0,100}){0,100}){0,100}){0,100})").error().code, "bad_pattern");
  EXPECT_EQ(LinePattern::from(std::string(5000, 'a')).error().code, "bad_pattern");
  EXPECT_EQ(LinePattern::from("(?P<x>a)(?=b)").error().code, "bad_pattern") << "what needs going back is not taken";
}

TEST(LinePattern, FindsItsGroupsByName) {
  const auto pattern = LinePattern::from("at (?P<mx>-?[0-9.]+)(?: off (?P<why>.*))?").value();
  const auto found = pattern.find("it is at -12.5 now");
  ASSERT_TRUE(found);
  EXPECT_EQ(found->groups.at("mx"), "-12.5");
  EXPECT_FALSE(found->groups.contains("why"));
  EXPECT_EQ(found->begin, 6U);
  EXPECT_EQ(found->end, 14U);
  EXPECT_FALSE(LinePattern().find("anything"));
}

/// The page that explains descriptions builds one from nothing: each of its steps is one that can be read.
TEST(ControllerDescription, TheWorkedExampleOfThePageIsOne) {
  std::ifstream file(std::string(YPSI_CONTROLLERS) + "/../../docs/controllers.md");
  std::vector<std::string> blocks(1);
  for (std::string line; std::getline(file, line);) {
    if (line.starts_with("    "))
      blocks.back() += line.substr(4) + "\n";
    else if (!blocks.back().empty())
      blocks.emplace_back();
  }
  std::string text;
  int steps = 0;
  for (const std::string& block : blocks) {
    if (block.starts_with("{"))
      text = block;
    else if (block.starts_with('"') && !text.empty())
      text = text.substr(0, text.rfind('}')) + ",\n" + block + "}";
    else
      continue;
    const auto read = read_controller(text);
    ASSERT_TRUE(read) << read.error().message << "\n" << text;
    ++steps;
  }
  EXPECT_EQ(steps, 4);
}

TEST(ControllerDescription, TheSchemaThatShipsIsTheOneItHas) {
  std::ifstream file(std::string(YPSI_CONTROLLERS) + "/../../schema/controller.schema.json");
  std::stringstream shipped;
  shipped << file.rdbuf();
  EXPECT_EQ(shipped.str(), controller_schema()) << "write it anew by `ypsilo controller schema`";
}

}  // namespace
}  // namespace ypsi::link
