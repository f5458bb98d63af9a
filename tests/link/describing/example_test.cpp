// A pattern from one example finds that line, and the next with other figures.
#include "link/describing/example.h"

#include <gtest/gtest.h>

#include "link/lines/line_pattern.h"

namespace ypsi::link {
namespace {

std::vector<std::string> words_of(std::string_view line) {
  std::vector<std::string> words;
  for (const Token& t : tokens_of(line)) words.push_back(std::string(line.substr(t.begin, t.end - t.begin)));
  return words;
}

/// The pattern with the token that reads `word` as `group`, in turn.
std::string marked(const std::string& line, std::vector<std::pair<std::string, std::string>> meanings, bool whole) {
  std::vector<Mark> marks;
  std::size_t from = 0;
  for (const Token& t : tokens_of(line))
    if (from < meanings.size() && line.substr(t.begin, t.end - t.begin) == meanings[from].first)
      marks.push_back({t, meanings[from++].second});
  EXPECT_EQ(from, meanings.size()) << line;
  return pattern_of(line, marks, whole);
}

TEST(Example, WordsAndNumbersOfALine) {
  using W = std::vector<std::string>;
  EXPECT_EQ(words_of("stands 12.500 -3.000 0 x-home on"), (W{"stands", "12.500", "-3.000", "0", "x-home", "on"}));
  EXPECT_EQ(words_of("V100=81.25"), (W{"V100", "81.25"}));
  EXPECT_EQ(words_of("now;1;+0.5;;."), (W{"now", "1", "+0.5"}));
  EXPECT_EQ(words_of("done at 7."), (W{"done", "at", "7"}));
  EXPECT_EQ(words_of(""), W{});
  EXPECT_EQ(words_of("\x01\xff -- .."), W{});
}

TEST(Example, OtherFiguresAreFound) {
  const auto pattern =
      LinePattern::of(marked("stands 12.500 -3.000 0.000 still",
                             {{"12.500", "mx"}, {"-3.000", "my"}, {"0.000", "mz"}, {"still", "state"}}, false));
  const auto found = pattern.find("stands -100.25 4 7.1 goes-on");
  ASSERT_TRUE(found);
  EXPECT_EQ(found->groups.at("mx"), "-100.25");
  EXPECT_EQ(found->groups.at("my"), "4");
  EXPECT_EQ(found->groups.at("state"), "goes-on");
  EXPECT_FALSE(pattern.find("stands where it was"));
  EXPECT_TRUE(
      pattern.find("tostands 1 2 3 still"
                   "ok"))
      << "in the middle of another line";
}

TEST(Example, AReasonGoesOnToTheEnd) {
  const auto words = LinePattern::of(marked("no: it would pass (a) limit.", {{"it", "why"}}, true));
  EXPECT_EQ(words.find("no: door open, 2 of 3")->groups.at("why"), "door open, 2 of 3");
  const auto number = LinePattern::of(marked("nak 33", {{"33", "why"}}, true));
  EXPECT_EQ(number.find("nak 7")->groups.at("why"), "7");
  EXPECT_FALSE(number.find("nak 7 more"));
}

TEST(Example, ContactIsTheWordThatWasSeenAtOne) {
  const auto pattern = LinePattern::of(marked("met yes at 1.5", {{"yes", "contact"}, {"1.5", "mx"}}, true));
  EXPECT_EQ(pattern.find("met yes at 2")->groups.at("contact"), "yes");
  const auto missed = pattern.find("met no at 2");
  ASSERT_TRUE(missed);
  EXPECT_FALSE(missed->groups.contains("contact"));
}

TEST(Example, InputsAreAllThatStandThere) {
  const auto spoken = LinePattern::of(marked("on x-home probe", {{"x-home", "inputs"}}, false));
  EXPECT_EQ(spoken.find("on z-far y-home emergency")->groups.at("inputs"), "z-far y-home emergency");
  const auto letters = LinePattern::of(marked("now;4;0;a;7", {{"4", "state"}, {"a", "inputs"}, {"7", "feed"}}, false));
  EXPECT_EQ(letters.find("now;1;0;;300")->groups.at("inputs"), "");
  EXPECT_EQ(letters.find("now;1;0;bcp;300")->groups.at("inputs"), "bcp");
}

TEST(Example, SignsOfExpressionsAreThemselves) {
  const std::string line = R"([a|b] {c} (d)* e+ f? ^g$ \h .)";
  const auto pattern = LinePattern::from(pattern_of(line, {}, true));
  ASSERT_TRUE(pattern) << pattern.error().message;
  EXPECT_TRUE(pattern->find(line));
  EXPECT_FALSE(pattern->find("[a|b] {c} (d)* ee f? ^g$ \\h ."));
}

TEST(Example, FiguresMayStandForWords) {
  const auto state = LinePattern::of(marked("now;2.0;7", {{"2.0", "state"}}, true));
  EXPECT_EQ(state.find("now;3.1;8")->groups.at("state"), "3.1");
  const auto inputs = LinePattern::of(marked("on 1.5 2.Q", {{"1.5", "inputs"}}, true));
  EXPECT_EQ(inputs.find("on 1.5 2.Q")->groups.at("inputs"), "1.5 2");
}

TEST(Example, AMeaningCountsOnce) {
  const std::string pattern = marked("1 2", {{"1", "mx"}, {"2", "mx"}}, true);
  EXPECT_EQ(pattern, "^(?P<mx>-?[0-9.]+) -?[0-9.]+$");
}

}  // namespace
}  // namespace ypsi::link
