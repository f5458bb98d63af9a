// Habits of writing: what CAM programs, converters and hands put around the same moves changes none of them.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <functional>

#include "core/program/interpreter.h"
#include "core/program/unroll.h"

namespace ypsi::habits {
namespace {

/// Lines of a clean program each; what they mean is in motions_of().
const std::vector<std::pair<const char*, std::vector<std::string>>> same_moves = {
    {"square", {"G0 Z5", "G0 X10 Y10", "G1 Z-2 F200", "X30 F800", "Y30", "X10", "Y10", "G0 Z5"}},
    {"arcs", {"G0 Z5", "G0 X10 Y0", "G1 Z-1 F300", "G3 X0 Y10 I-10 J0 F600", "G2 X10 Y0 I0 J-10", "G0 Z5"}},
    {"holes", {"G0 Z5", "G81 X10 Y10 Z-3 R1 F200", "X20", "Y20", "G80", "G0 Z9"}},
    {"increments", {"G0 X1 Y2 Z3", "G91", "G1 X5 F500", "Y5", "Z-4", "G90", "G0 Z5"}},
    {"helix", {"G0 X5 Y0 Z2", "G3 X5 Y0 Z0 I-5 J0 F400", "G3 X5 Y0 Z-2 I-5 J0", "G0 Z5"}},
    {"ramp", {"G0 X0 Y0 Z1", "G1 X40 Z-1 F900", "X0 Z-2", "X40 Z-3", "G0 Z10"}},
};

struct Habit {
  const char* name;
  std::function<std::string(const std::vector<std::string>&)> write;
};

std::string joined(const std::vector<std::string>& lines, const std::string& end = "\n") {
  std::string all;
  for (const auto& line : lines) all += line + end;
  return all;
}
Habit head(const char* name, const std::string& first) {
  return {name, [first](const auto& lines) { return first + "\n" + joined(lines); }};
}
Habit foot(const char* name, const std::string& last) {
  return {name, [last](const auto& lines) { return joined(lines) + last; }};
}
Habit each(const char* name, std::function<std::string(const std::string&)> change) {
  return {name, [change](const auto& lines) {
            std::string all;
            for (const auto& line : lines) all += change(line) + "\n";
            return all;
          }};
}
std::string spaced(const std::string& line) {
  std::string out;
  for (const char c : line) {
    out += c;
    if (c != ' ') out += ' ';
  }
  return out;
}

const std::vector<Habit> all_habits = {
    head("program number", "O1234"),
    head("program number and name", "O0007 (DIAL PLATE)"),
    head("colon number", ":1234"),
    head("number of a name", "O<dial plate>"),
    head("byte order mark", "\xEF\xBB\xBF(made elsewhere)"),
    head("tape mark", "%"),
    head("rounding of corners", "G64"),
    head("rounding of corners by P", "G64 P0.05"),
    head("rounding of corners by P and Q", "G64 P0.05 Q0.02"),
    head("exact stop", "G61.1"),
    head("exact path", "G61"),
    head("all switched off", "G15 G40 G49 G50 G67 G69 G80 G97"),
    head("in lines of their own", "G15\nG50\nG67\nG69\nG97 S12000"),
    head("return level", "G98"),
    head("no length", "G49 H0"),
    head("overrides", "M48"),
    head("millimetres by G71", "G71"),
    head("numbers of what only compensation would use", "G40 D0"),
    head("coolants", "M7 M8\nM9"),
    head("rotary axes at nought", "A0 B0. C0.000"),
    head("safe line", "N5 G21 G17 G90 G94 G40 G49 G80 G54"),
    head("long comment", "(" + std::string(60'000, 'x') + ")"),
    head("nested comment", "(dial (upper (left)) plate)"),
    head("comment in a comment that is not closed", "(dial (upper left)"),
    head("comment after a semicolon with brackets", "; (dial (plate"),
    head("empty lines", "\n\n  \t\n"),
    foot("end by M30", "M30\n"),
    foot("end by M2 without a line end", "M2"),
    foot("end by a percent sign", "%"),
    foot("control character", "M30\n\x1a"),
    foot("control character in its own right", "\x1a"),
    foot("zeros behind M30", "M30\n%\n\n"),
    each("numbered", [](const std::string& l) { return "N10 " + l; }),
    each("comment on each", [](const std::string& l) { return l + " (so)"; }),
    each("semicolon on each", [](const std::string& l) { return l + " ; so"; }),
    each("block delete", [](const std::string& l) { return "/" + l; }),
    each("block delete by a numbered switch", [](const std::string& l) { return "/2 " + l; }),
    each("block delete behind the number", [](const std::string& l) { return "N7 /" + l; }),
    each("blanks everywhere", spaced),
    each("rotary axis on each", [](const std::string& l) { return l[1] == '8' ? l : l + " A0."; }),
    each("lower case",
         [](std::string l) {
           for (char& c : l) c = static_cast<char>(std::tolower(c));
           return l;
         }),
    each("nought before the number",
         [](std::string l) {
           for (const char* word : {"G0", "G1", "G2", "G3"})
             if (l.starts_with(std::string(word) + " ")) l.insert(1, "0");
           return l;
         }),
    each("plus signs",
         [](std::string l) {
           for (std::size_t i = 1; i < l.size(); ++i)
             if ((l[i - 1] == 'X' || l[i - 1] == 'Y') && l[i] != '-') l.insert(i, "+");
           return l;
         }),
    each("points",
         [](const std::string& l) {
           std::string out;
           for (std::size_t i = 0; i < l.size(); ++i) {
             out += l[i];
             const bool last = i + 1 == l.size() || l[i + 1] == ' ';
             if (last && l[0] != 'G' && std::isdigit(static_cast<unsigned char>(l[i]))) out += '.';
           }
           return out;
         }),
    {"carriage returns alone", [](const auto& lines) { return joined(lines, "\r"); }},
    {"both line ends", [](const auto& lines) { return joined(lines, "\r\n"); }},
    {"percent signs at both ends", [](const auto& lines) { return "%\n" + joined(lines) + "%\nG0 X999\n"; }},
    {"behind the end", [](const auto& lines) { return joined(lines) + "M30\nG0 X999 Z-99\n"; }},
    {"called", [](const auto& lines) { return "O1\nM98 P100\nM30\nO100\n" + joined(lines) + "M99\n"; }},
    {"called from a call",
     [](const auto& lines) {
       return "%\nO1\nM98 P0100\nM30\nO0100\nM98 P200\nM99\nO200\n" + joined(lines) + "M99\n%\n";
     }},
    {"called by an O-word",
     [](const auto& lines) { return "o10 sub\n" + joined(lines) + "o10 endsub\no10 call\nM2\n"; }},
    {"called by a name",
     [](const auto& lines) { return "o<plate> sub\n" + joined(lines) + "o<plate> endsub\nO<plate> call\nM2\n"; }},
    {"first the main program",
     [](const auto& lines) { return "G21\no10 call\nM2\no10 sub\n" + joined(lines) + "o10 endsub\n"; }},
};

std::string motions_of(const Program& program) {
  std::string all;
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const Motion& m = program.motions[i];
    all += fmt::format("{} {:.6f} {:.6f} {:.6f} F{:g}", static_cast<int>(m.kind), m.end.x, m.end.y, m.end.z,
                       program.feed_of(m));
    if (is_arc(m))
      all += fmt::format(" round {:.6f} {:.6f}", program.arc_of(m).centre_first, program.arc_of(m).centre_second);
    all += "\n";
  }
  return all;
}

TEST(Habits, OfWritingChangeNoMove) {
  std::size_t programs = 0;
  for (const auto& [name, lines] : same_moves) {
    const auto clean = read_program(joined(lines));
    ASSERT_TRUE(clean) << clean.error().message;
    for (const Habit& habit : all_habits) {
      SCOPED_TRACE(fmt::format("{}: {}", name, habit.name));
      const auto read = read_program(habit.write(lines));
      ++programs;
      ASSERT_TRUE(read) << read.error().message << "\n" << habit.write(lines).substr(0, 500);
      EXPECT_EQ(motions_of(*read), motions_of(*clean));
    }
  }
  EXPECT_GE(programs, 290u);
}

TEST(Habits, WhatIsPassedOverIsTold) {
  const auto read = read_program("O12\nG64 P0.1\nG21 A0 X 1 2.5 G0\nG69 G0 Y1\nG69 A0\nM30\n");
  ASSERT_TRUE(read) << read.error().message;
  std::string told;
  for (const PassedOver& p : read->passed_over) told += fmt::format("{} line {} times {}\n", p.what, p.line, p.times);
  EXPECT_EQ(told,
            "program number line 1 times 1\nG64 line 2 times 1\nblank inside a number line 3 times 1\n"
            "A line 3 times 2\nG69 line 4 times 2\n");
  EXPECT_DOUBLE_EQ(read->motions[0].end.x, 12.5);
}

TEST(Habits, AnEndAndWhatComesAfterItAreKnown) {
  const struct {
    const char* text;
    bool has_end;
    std::uint32_t after;
  } cases[] = {{"G0 X1\n", false, 0},
               {"G0 X1\nM30\n", true, 0},
               {"G0 X1\nM2\n\n%\n", true, 0},
               {"%\nG0 X1\n%\n", true, 0},
               {"G0 X1\n%", true, 0},
               {"%\nG0 X1\n", false, 0},
               {"G0 X1\n\x1a", false, 0},
               {"G0 X1\nM30\n(a remark)\nG0 X2\n", true, 4},
               {"%\nG0 X1\n%\nG0 X2\n", true, 4},
               {"G0 X1\n%\nG0 X2\n", false, 0}};
  for (const auto& c : cases) {
    SCOPED_TRACE(c.text);
    const auto read = read_program(c.text);
    ASSERT_TRUE(read);
    EXPECT_EQ(read->has_end, c.has_end);
    EXPECT_EQ(read->after_end, c.after);
  }
}

TEST(Habits, ARotaryAxisThatTurnsIsRefusedWhereItDoes) {
  for (const char* text : {"G0 X1 A0\nG0 X2 A90\n", "G0 B10\nG91\nG0 B1\n", "G0 C0\nG0 C-.001\n"}) {
    const auto read = read_program(text);
    ASSERT_FALSE(read) << text;
    EXPECT_NE(read.error().message.find("three axes"), std::string::npos) << read.error().message;
  }
  EXPECT_TRUE(read_program("G0 A90 X1\nG0 A90 X2\nG91\nG0 A0 X1\n"));
}

TEST(Habits, WhatIsRefusedSaysWhatTheCamProgramMustBeTold) {
  const std::pair<const char*, const char*> refused[] = {{"G41 D1 X1", "tool's centre"},
                                                         {"G42.1 X1", "tool's centre"},
                                                         {"G68 R30", "turn the part"},
                                                         {"G5 X1 I1", "lines and arcs"},
                                                         {"G5.1 X1", "lines and arcs"},
                                                         {"G16", "write X and Y"},
                                                         {"G51 X2", "in its size"},
                                                         {"G65 P100", "its moves"},
                                                         {"G84 Z-1", "G81 to G83"},
                                                         {"G95 F1", "G94"},
                                                         {"G96 S100", "G97"}};
  for (const auto& [line, told] : refused) {
    const auto read = read_program(std::string("G0 X0\n") + line + "\n");
    ASSERT_FALSE(read) << line;
    EXPECT_EQ(read.error().where, "2:1");
    EXPECT_NE(read.error().message.find(told), std::string::npos) << read.error().message;
  }
}

// Digits that a CAM program writes for an arc: its true places rounded, in all quarters and sizes.
TEST(Habits, ArcsAreReadWithinTheirDigits) {
  const auto rounded = [](double v, int decimals) { return fmt::format("{:.{}f}", v, decimals); };
  for (const auto& [unit, decimals] : {std::pair{"G20", 3}, {"G20", 4}, {"G21", 2}, {"G21", 3}})
    for (int k = 0; k < 500; ++k) {
      const double r = 0.2 + 0.037 * k, a = 0.7 * k, b = a + 0.3 + 0.011 * k;
      const double cx = 3.3 * std::cos(k), cy = 1.7 * std::sin(2.0 * k);
      const auto text = fmt::format("{} G17 G90\nG0 X{} Y{}\nG3 X{} Y{} I{} J{} F10\n", unit,
                                    rounded(cx + r * std::cos(a), decimals), rounded(cy + r * std::sin(a), decimals),
                                    rounded(cx + r * std::cos(b), decimals), rounded(cy + r * std::sin(b), decimals),
                                    rounded(-r * std::cos(a), decimals), rounded(-r * std::sin(a), decimals));
      const auto read = read_program(text);
      ASSERT_TRUE(read) << text << read.error().message;
    }
  // Not within them.
  EXPECT_FALSE(read_program("G21\nG0 X10.000 Y0.000\nG3 X0.000 Y10.020 I-10.000 J0.000 F10\n"));
  EXPECT_FALSE(read_program("G20\nG0 X1.000 Y0\nG3 X0.000 Y1.004 I-1.000 J0.000 F10\n"));
}

TEST(SubPrograms, AreWrittenOutWithTheirRepeatsAndValues) {
  const auto read = read_program(
      "O1\nG90 G0 Z5\nM98 P20 L3\nM98 P30\nM30\n"
      "O20\nG91 G0 X10\nM98 P30\nM99\n"
      "O30\nG90 G1 Z-1 F100\nG0 Z5\nM99\n");
  ASSERT_TRUE(read) << read.error().message;
  EXPECT_TRUE(read->unrolled);
  ASSERT_EQ(read->motions.size(), 1u + 3 * 3 + 2);
  EXPECT_DOUBLE_EQ(read->motions[7].end.x, 30);
  EXPECT_EQ(read->motions[1].line, 7u) << "lines are those of the file";
  EXPECT_EQ(read->motions.back().line, 12u);

  const auto values =
      read_program("o5 sub\nG0 X#1 Y[#2 * 2]\no5 endsub\no5 call [3] [1 + 1]\n#40 = 7\no5 call [#40] [0]\nM2\n");
  ASSERT_TRUE(values) << values.error().message;
  ASSERT_EQ(values->motions.size(), 2u);
  EXPECT_EQ(values->motions[0].end, (WorkPosition{3, 4, 0}));
  EXPECT_EQ(values->motions[1].end, (WorkPosition{7, 0, 0}));

  // The text written out makes the same moves by itself.
  const auto text = unroll("O1\nG0 X1 (keep)\nG90 M98 P20 L2\nM30\nO20\n/G91 X1\nM99\n");
  ASSERT_TRUE(text) << text.error().message;
  EXPECT_EQ(text->text, "G0 X1 (keep)\nG90 (sub-program 20)\n/G91 X1\n/G91 X1\nM30\n");
  EXPECT_EQ(text->lines, (std::vector<std::uint32_t>{2, 3, 6, 6, 4}));
}

TEST(SubPrograms, ThatCannotBeFollowedSayWhy) {
  const struct {
    const char *text, *where, *told;
  } cases[] = {
      {"G0 X1\nM98 P7\nM30\n", "2:1", "not in this file"},
      {"M98 P1\nM30\nO1\nM98 P1\nM99\n", "4:1", "deep"},
      {"G0 X1\nM99\n", "2:1", "without an end"},
      {"O1\nG0 X1\nM99\n", "3:1", "without an end"},
      {"o1 while [#1 LT 5]\nG0 X1\no1 endwhile\n", "1:1", "loops"},
      {"o1 repeat [3]\nG0 X1\no1 endrepeat\nM2\n", "1:1", "loops"},
      {"o1 sub\nG0 X1\no1 call\nM2\n", "1:1", "not ended"},
      {"o1 sub\no2 sub\no2 endsub\no1 endsub\nM2\n", "2:1", "within another"},
      {"#5=1\no1 sub\nG0 X#1\no1 endsub\no1 call [2]\nM2\n", "1:1", "hand over"},
      {"M98 P1 L1000000\nM30\nO1\nG0 X1\nG0 X2\nG0 X3\nM99\n", "5:1", "2,000,000"},
      {"O1\nG0 X1\nM98 P2 L1.5\nM30\nO2\nG0 X2\nM99\n", "3:1", "whole number"},
  };
  for (const auto& c : cases) {
    SCOPED_TRACE(c.text);
    const auto read = read_program(c.text);
    ASSERT_FALSE(read);
    EXPECT_EQ(read.error().where, c.where) << read.error().message;
    EXPECT_NE(read.error().message.find(c.told), std::string::npos) << read.error().message;
  }
}

}  // namespace
}  // namespace ypsi::habits
