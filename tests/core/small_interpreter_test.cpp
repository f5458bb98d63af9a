// Random programs read by the real interpreter and by a plain one written here, from the standard alone: words one by
// one, no fast ways, for G0 to G3 with I J or R, G17, G20 G21, G90 G91, G53 to G55, G92, G43 G49 and F.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <charconv>
#include <cmath>
#include <map>
#include <numbers>
#include <random>

#include "core/program/arc.h"
#include "core/program/interpreter.h"

namespace ypsi::small_interpreter {
namespace {

struct Move {
  int g = 0;
  std::array<double, 3> to{}, centre{};
  double feed = 0;
};

/// Places in G54's frame, mm. Only what the generator below writes.
class Plain {
 public:
  Plain(std::array<double, 3> g54, std::array<double, 3> g55, double length) : zero_{g54, g55}, length_(length) {}

  void line(const std::string& text) {
    std::map<char, double> word;
    std::vector<double> g;
    for (std::size_t at = 0; at < text.size();) {
      const char letter = text[at++];
      if (letter == ' ') continue;
      double value = 0;
      at = static_cast<std::size_t>(std::from_chars(text.data() + at, text.data() + text.size(), value).ptr -
                                    text.data());
      if (letter == 'G')
        g.push_back(value);
      else
        word[letter] = value;
    }
    bool machine = false, named = false;
    for (const double code : g) {
      if (code == 20 || code == 21) unit_ = code == 20 ? 25.4 : 1;
      if (code == 90 || code == 91) relative_ = code == 91;
      if (code == 54 || code == 55) frame_ = code == 55 ? 1 : 0;
      if (code == 43 || code == 49) added_ = code == 43 ? length_ : 0;
      if (code == 53) machine = true;
      if (code == 92) named = true;
      if (code <= 3) g_ = static_cast<int>(code);
    }
    if (word.contains('F')) feed_ = word['F'] * unit_;
    const std::string axes = "XYZ";
    if (named) {
      for (std::size_t i = 0; i < 3; ++i)
        if (word.contains(axes[i])) shifted_[i] += here_[i] - place(i, word[axes[i]] * unit_);
      return;
    }
    std::array<double, 3> to = here_;
    bool moves = false;
    for (std::size_t i = 0; i < 3; ++i) {
      if (!word.contains(axes[i])) continue;
      moves = true;
      const double v = word[axes[i]] * unit_;
      to[i] = machine ? v - zero_[0][i] : relative_ ? here_[i] + v : place(i, v);
    }
    if (!moves) return;
    Move m{g_, to, {}, feed_};
    if (g_ >= 2) {
      if (word.contains('R')) {
        // Of the two centres the one for which the way is the shorter; behind it for R below nothing.
        const double r = word['R'] * unit_, dx = to[0] - here_[0], dy = to[1] - here_[1], d = std::hypot(dx, dy);
        const double off = std::sqrt(std::max(0.0, r * r - d * d / 4)) * ((g_ == 3) == (r > 0) ? 1 : -1);
        m.centre = {here_[0] + dx / 2 - off * dy / d, here_[1] + dy / 2 + off * dx / d, 0};
      } else {
        m.centre = {here_[0] + word['I'] * unit_, here_[1] + word['J'] * unit_, 0};
      }
    }
    moves_.push_back(m);
    here_ = to;
  }
  const std::vector<Move>& moves() const { return moves_; }
  const std::array<double, 3>& here() const { return here_; }
  double unit() const { return unit_; }
  /// What a word must say for a place of G54.
  double say(std::size_t i, double mm) const {
    return (relative_ ? mm - here_[i] : mm - (zero_[frame_][i] - zero_[0][i]) - shifted_[i] - (i == 2 ? added_ : 0)) /
           unit_;
  }

 private:
  double place(std::size_t i, double v) const {
    return v + zero_[frame_][i] - zero_[0][i] + shifted_[i] + (i == 2 ? added_ : 0);
  }
  std::array<double, 3> zero_[2], shifted_{}, here_{};
  double length_, unit_ = 1, added_ = 0, feed_ = 0;
  std::size_t frame_ = 0;
  bool relative_ = false;
  int g_ = 0;
  std::vector<Move> moves_;
};

TEST(SmallInterpreter, ReadsTheSameMovesInTwoThousandRandomPrograms) {
  std::mt19937 random(41);
  const auto number = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  const auto below = [&](unsigned n) { return static_cast<unsigned>(random() % n); };
  std::size_t arcs = 0, all = 0;
  for (int k = 0; k < 2000; ++k) {
    ReadSetting setting;
    setting.frames.zeros[0] = {100, 200, -50};
    setting.frames.zeros[1] = {130, 190, -45};
    setting.frames.tool_offsets[1] = 3.5;
    Plain plain({100, 200, -50}, {130, 190, -45}, 3.5);
    std::string text;
    const auto write = [&](const std::string& line) {
      text += line + "\n";
      plain.line(line);
    };
    write("G21 G90 G17 F600");
    const unsigned lines = 5 + below(30);
    for (unsigned n = 0; n < lines; ++n) {
      const auto places = [&](const char* axes) {
        std::string words;
        for (const char* a = axes; *a != 0; ++a)
          words += fmt::format("{}{:.4f} ", *a, plain.say(static_cast<std::size_t>(*a - 'X'), number(-80, 80)));
        return words;
      };
      switch (below(12)) {
        case 0:
          write(below(2) == 0 ? "G20" : "G21");
          break;
        case 1:
          write(below(2) == 0 ? "G91" : "G90");
          break;
        case 2:
          write(below(2) == 0 ? "G55" : "G54");
          break;
        case 3:
          write(below(2) == 0 ? "G43 H1" : "G49");
          break;
        case 4:
          write(fmt::format("G92 X{:.3f}", number(-3, 3)));
          break;
        case 5:
          write(fmt::format("G53 G0 Z{:.3f}", number(-60, -1) / plain.unit()));
          break;
        case 6:
        case 7: {
          // An arc about a centre, its end somewhere on it.
          const double r = number(1, 40), a = number(0, 6.28), sweep = number(0.3, 5.8);
          const double cx = plain.here()[0] - r * std::cos(a), cy = plain.here()[1] - r * std::sin(a);
          const bool left = below(2) == 0;
          const double b = left ? a + sweep : a - sweep;
          const std::string end = fmt::format("G{} X{:.5f} Y{:.5f} ", left ? 3 : 2, plain.say(0, cx + r * std::cos(b)),
                                              plain.say(1, cy + r * std::sin(b)));
          if (below(3) == 0 && std::fabs(sweep - std::numbers::pi) > 0.1)
            write(end + fmt::format("R{:.5f}", (sweep > std::numbers::pi ? -r : r) / plain.unit()));
          else
            write(end + fmt::format("I{:.5f} J{:.5f}", (cx - plain.here()[0]) / plain.unit(),
                                    (cy - plain.here()[1]) / plain.unit()));
          ++arcs;
          write("G1 F" + fmt::format("{:.1f}", number(20, 900)));
          break;
        }
        case 8:
          write("G0 " + places("XYZ"));
          break;
        case 9:
          write("G1 " + places("Z"));
          break;
        default:
          write((below(2) == 0 ? "G1 " : "G0 ") + places(below(2) == 0 ? "XY" : "X"));
      }
    }
    text += "M30\n";
    if (plain.moves().empty()) continue;
    const auto read = read_program(text, setting);
    ASSERT_TRUE(read) << read.error().message << "\n" << text;
    ASSERT_EQ(read->motions.size(), plain.moves().size()) << text;
    for (std::size_t i = 0; i < plain.moves().size(); ++i) {
      const Move& want = plain.moves()[i];
      const Motion& is = read->motions[i];
      ++all;
      ASSERT_EQ(static_cast<int>(is.kind), want.g) << i << "\n" << text;
      for (const Axis a : all_axes) ASSERT_NEAR(is.end[a], want.to[index(a)], 1e-9) << i << letter(a) << "\n" << text;
      if (want.g > 0) {
        ASSERT_NEAR(read->feed_of(is), want.feed, 1e-4 * want.feed) << text;
      }
      if (want.g >= 2) {
        ASSERT_NEAR(read->arc_of(is).centre_first, want.centre[0], 1e-6) << i << "\n" << text;
        ASSERT_NEAR(read->arc_of(is).centre_second, want.centre[1], 1e-6) << i << "\n" << text;
      }
    }
  }
  EXPECT_GT(arcs, 5000u);
  EXPECT_GT(all, 20000u);
}

}  // namespace
}  // namespace ypsi::small_interpreter
