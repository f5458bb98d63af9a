// Jobs of every sort with something planted in them, each found with its line; and as many without, in which nothing
// is.
#include "core/program/checks.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <random>

#include "core/router_book.h"

#include "core/motion/planner.h"
#include "core/program/envelope.h"
#include "core/program/read_setting.h"
#include "core/program/spoken_tools.h"

namespace ypsi {
namespace {

/// Router with a board of 300 by 200 by 18 on it, zero on its top at the front left corner, three clamps beside it.
Book workshop() {
  Book book = router_book(0);
  book.machine.spindle.nut_diameter = 30;
  book.machine.spindle.nut_length = 20;
  book.tools = {cutter(1, "", 6, 30), cutter(2, "", 3, 22), cutter(3, "", 12, 35)};
  book.job.stock_size = {300, 200, 18};
  book.job.frames[0] = {"", 200, 150, -80, false, 1};
  // 12 mm higher than the stock, at its left, right and back.
  book.job.clamps = {{"left", 175, 250, 40, 40, 30}, {"right", 525, 250, 40, 40, 30}, {"back", 350, 375, 40, 40, 30}};
  return book;
}

std::vector<Finding> check(const std::string& text, const Book& book) {
  const auto program = read_program(text, read_setting(book));
  EXPECT_TRUE(program) << program.error().message;
  if (!program) return {};
  Kinematics k;
  CheckSetting setting;
  setting.tool = 1;
  setting.end_s = estimate_time(*program, k).end_s;
  return check_program(*program, book, setting);
}

std::string told(const std::vector<Finding>& findings) {
  std::string all;
  for (const auto& f : findings) all += fmt::format("{} {} line {}: {}\n", name(f.weight), f.code, f.line, f.message);
  return all;
}

/// A job like a workshop's: pockets, contours, holes, with lifts between; `seed` chooses sizes, tools and order.
std::string job(unsigned seed, std::vector<std::string>* lines = nullptr) {
  std::mt19937 random(seed);
  const auto number = [&](double low, double high) {
    return std::round(std::uniform_real_distribution<double>(low, high)(random) * 100) / 100;
  };
  std::vector<std::string> out{"(a job of our own)", "G21 G90 G17 G94"};
  const auto tool = [&](int n) {
    out.push_back(fmt::format("T{} M6", n));
    out.push_back(fmt::format("S{} M3", 12000 + 1000 * n));
    out.emplace_back("G0 Z15");
  };
  tool(1);
  const int pockets = 1 + static_cast<int>(seed % 3);
  for (int p = 0; p < pockets; ++p) {
    const double x = 30 + 80 * p + number(0, 10), y = number(30, 60), w = number(20, 50), h = number(20, 60);
    const double depth = number(2, 9);
    out.push_back(fmt::format("G0 X{:.3f} Y{:.3f}", x, y));
    for (double z = -2; z > -depth - 2; z -= 2) {
      out.push_back(fmt::format("G1 Z{:.3f} F300", std::max(z, -depth)));
      for (double row = 0; row <= h; row += 4.5)
        out.push_back(fmt::format("G1 X{:.3f} Y{:.3f} F1500", std::lround(row / 4.5) % 2 == 0 ? x + w : x, y + row));
      // Inside the pocket that is there now, a rapid below the top is what CAM output does.
      out.push_back(fmt::format("G0 Z{:.3f}", std::max(z, -depth) + 0.5));
      out.push_back(fmt::format("G1 X{:.3f} Y{:.3f} F1500", x, y));
    }
    out.emplace_back("G0 Z15");
  }
  if (seed % 2 == 0) {
    tool(2);
    out.push_back(fmt::format("G99 G83 X{:.2f} Y150 Z-12 R2 Q3 F200", number(20, 60)));
    for (int i = 0; i < 4; ++i) out.push_back(fmt::format("X{:.2f} Y{:.2f}", 80 + 40.0 * i, number(140, 180)));
    out.emplace_back("G80");
    out.emplace_back("G0 Z15");
  }
  tool(3);
  // Round the part, inside the board, in two passes with a lead-in arc.
  for (const double z : {-6.0, -12.0}) {
    out.emplace_back("G0 X20 Y14");
    out.push_back(fmt::format("G1 Z{} F300", z));
    out.emplace_back("G3 X14 Y20 I-6 J0 F1200");
    for (const char* p :
         {"G1 Y180", "G2 X20 Y186 I6 J0", "G1 X280", "G2 X286 Y180 J-6", "G1 Y20", "G2 X280 Y14 I-6", "G1 X20"})
      out.emplace_back(p);
    out.emplace_back("G0 Z15");
  }
  out.emplace_back("M5");
  out.emplace_back("M30");
  if (lines) *lines = out;
  std::string text;
  for (const auto& l : out) text += l + "\n";
  return text;
}

class CleanJobs : public testing::TestWithParam<unsigned> {};
TEST_P(CleanJobs, HaveNothingAgainstThem) {
  const auto findings = check(job(GetParam()), workshop());
  EXPECT_EQ(count(findings, Weight::stops), 0u) << told(findings);
  EXPECT_EQ(count(findings, Weight::warns), 0u) << told(findings);
  EXPECT_GE(count(findings, Weight::informs), 3u) << "extents of the centre and of the cut, and the time";
}
INSTANTIATE_TEST_SUITE_P(Checks, CleanJobs, testing::Range(0u, 20u));

/// What is planted: lines put in after a line that begins so (its first, or its last with `last`), or a changed book.
struct Planted {
  const char* name;
  const char* code;
  std::function<void(std::vector<std::string>& lines, Book& book)> how;
  int weight = 0;  ///< 0: stops, 1: warns
};

std::size_t line_of(const std::vector<std::string>& lines, const std::string& start, bool last = false) {
  std::size_t found = lines.size();
  for (std::size_t i = 0; i < lines.size(); ++i)
    if (lines[i].starts_with(start)) {
      found = i;
      if (!last) break;
    }
  EXPECT_LT(found, lines.size()) << start;
  return found;
}
void insert(std::vector<std::string>& lines, std::size_t at, std::vector<std::string> what) {
  lines.insert(lines.begin() + static_cast<std::ptrdiff_t>(at), what.begin(), what.end());
}

class PlantedJobs : public testing::TestWithParam<Planted> {};
TEST_P(PlantedJobs, AreFoundInEachOfTwentyJobs) {
  for (unsigned seed = 0; seed < 20; ++seed) {
    std::vector<std::string> lines;
    job(seed, &lines);
    Book book = workshop();
    lines[0] = "(planted)";
    GetParam().how(lines, book);
    std::string text;
    std::uint32_t planted = 0;
    for (std::size_t i = 0; i < lines.size(); ++i) {
      if (lines[i].ends_with("(here)")) planted = static_cast<std::uint32_t>(i + 1);
      text += lines[i] + "\n";
    }
    const auto findings = check(text, book);
    const auto found = std::find_if(findings.begin(), findings.end(), [&](const Finding& f) {
      return f.code == GetParam().code && static_cast<int>(f.weight) == GetParam().weight;
    });
    ASSERT_NE(found, findings.end()) << seed << "\n" << told(findings);
    if (planted > 0) {
      EXPECT_EQ(found->line, planted) << seed << "\n" << told(findings);
    }
    EXPECT_GT(found->message.size(), 30u);
  }
}

using Lines = std::vector<std::string>;
INSTANTIATE_TEST_SUITE_P(
    Checks, PlantedJobs,
    testing::Values(
        Planted{"rapid_down_into_stock", "rapid_in_stock",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 X150 Y95", "G0 Z-3 (here)", "G0 Z15"});
                }},
        Planted{"rapid_across_standing_stock", "rapid_in_stock",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 X5 Y100", "G1 Z-4 F300", "G0 X9 Y195 (here)", "G0 Z15"});
                }},
        Planted{"rapid_out_of_a_slot_sideways", "rapid_in_stock",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"),
                         {"G0 X250 Y120", "G1 Z-5 F300", "G1 X270 F900", "G0 X270 Y160 (here)", "G0 Z15"});
                }},
        Planted{"rapid_deeper_than_was_cut", "rapid_in_stock",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 X20 Y14", "G0 Z-12", "G0 Z-15 (here)", "G0 Z15"});
                }},
        Planted{"tool_meets_a_clamp", "clamp",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 Z5", "G0 X-40 Y100 (here)", "G0 Z15"});
                }},
        Planted{"cut_into_a_clamp", "clamp",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 X150 Y190", "G1 Z-2 F300", "G1 Y220 F900 (here)", "G0 Z15"});
                }},
        Planted{"nut_meets_a_clamp", "clamp",
                [](Lines& l, Book& b) {
                  // 55 high: the nut of T3 (35 out, cutting at -12 and deeper) is at 23, the clamp's top at 37.
                  b.job.clamps.push_back({"tall", 510, 190, 10, 10, 55});
                  insert(l, line_of(l, "M5"), {"G0 X292 Y40", "G1 Z-12 F300 (here)", "G0 Z60"});
                }},
        Planted{"boot_meets_a_clamp", "clamp",
                [](Lines&, Book& b) {
                  b.machine.spindle.boot_diameter = 90;
                  b.machine.spindle.boot_drop = 45;  // its edge 10 above T3's tip
                }},
        Planted{
            "arc_into_a_clamp", "clamp",
            [](Lines& l, Book&) {
              insert(l, line_of(l, "M5"), {"G0 X295 Y60", "G1 Z-1 F200", "G3 X295 Y140 I0 J40 F900 (here)", "G0 Z15"});
            }},
        Planted{"beyond_the_limit", "limit",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 Z20", "G0 X610 (here)", "G0 X100"});
                }},
        Planted{"arc_beyond_the_limit", "limit",
                [](Lines& l, Book& b) {
                  b.machine.axis(Axis::y).soft_max = 345;
                  insert(
                      l, line_of(l, "M5"),
                      {"G0 Z20", "G0 X100 Y190", "G2 X110 Y190 I5 J0 F900", "G2 X130 Y190 I10 J0 (here)", "G0 X100"});
                }},
        Planted{"z_beyond_the_limit", "limit",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 Z81 (here)", "G0 Z15"});
                }},
        Planted{"into_the_bed", "into_bed",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 X100 Y14", "G1 Z-19 F200 (here)", "G0 Z15"});
                }},
        Planted{"zero_on_the_bed", "z_reference",
                [](Lines&, Book& b) {
                  b.job.used().on_bed = true;
                  b.job.used().z_mm = -98;
                }},
        Planted{"spindle_off", "spindle_off",
                [](Lines& l, Book&) { std::erase_if(l, [](const std::string& s) { return s.ends_with("M3"); }); }},
        Planted{"no_spindle_after_a_change", "spindle_off",
                [](Lines& l, Book&) { l.erase(l.begin() + static_cast<std::ptrdiff_t>(line_of(l, "S15000"))); }},
        Planted{"tool_missing", "tool_missing", [](Lines& l, Book&) { l[line_of(l, "T3 M6")] = "T7 M6"; }},
        Planted{"tool_of_another_diameter", "tool_differs",
                [](Lines& l, Book&) { l[0] = "(T3 D=6.35 flat end mill) (here)"; }},
        Planted{"tool_of_another_diameter_in_words", "tool_differs",
                [](Lines& l, Book&) { insert(l, line_of(l, "T1 M6"), {"(1/8 in end mill, two flutes) (here)"}); }},
        Planted{"zero_not_set", "no_zero", [](Lines&, Book& b) { b.job.used().y_mm.reset(); }},
        Planted{"frame_not_set", "frame_not_set", [](Lines& l, Book&) { l[1] += " G56"; }},
        Planted{"too_short_a_tool", "nut_in_stock", [](Lines&, Book& b) { b.tools[2].length_out = 8; }},
        Planted{"lengths_counted_twice", "length_twice",
                [](Lines& l, Book& b) {
                  b.setter = ToolSetter{700, 40, 1, {-60}};
                  b.tools[1].offset = 4;
                  b.job.used().z_tool = 2;
                  insert(l, line_of(l, "T1 M6"), {"G43 H2"});
                }},
        Planted{"inches_as_millimetres", "units",
                [](Lines&, Book& b) {
                  b.job.stock_size = {12, 8, 18};
                  b.job.clamps.clear();
                }},
        Planted{"past_the_edge", "off_stock",
                [](Lines&, Book& b) {
                  b.job.stock_corner = {20, 0};
                },
                1},
        Planted{"scraping_rapid", "low_rapid",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 Z0.2", "G0 X100 Y90 (here)", "G0 Z15"});
                },
                1},
        Planted{"too_fast", "feed_over",
                [](Lines& l, Book&) {
                  insert(l, line_of(l, "M5"), {"G0 X50 Y100", "G1 Z12 F2000 (here)", "G0 Z15"});
                },
                1},
        Planted{"spindle_too_fast", "speed_over",
                [](Lines& l, Book&) { insert(l, line_of(l, "M5"), {"S30000 M3 (here)"}); }, 1},
        Planted{"first_move_across", "first_move", [](Lines& l, Book&) { insert(l, 1, {"G0 X50 Y50 (here)"}); }, 1}),
    [](const auto& p) { return p.param.name; });

/// What stands at 0 is where it is, though nothing ever changes to it.
TEST(Checks, AProgramThatBeginsAtZeroIsLookedAtFromItsFirstMove) {
  const auto found = [](const std::string& text, const Book& book, const char* code) -> std::uint32_t {
    for (const Finding& f : check(text, book))
      if (f.code == code && f.weight == Weight::stops) return f.line;
    return 0;
  };
  const std::string head = "G21 G90\nT1 M6\nS9000 M3\n";
  // Along X at Y 0, from X 0: through standing stock.
  EXPECT_EQ(found(head + "G0 X0 Y0 Z5\nG1 Z-2 F300\nG0 X40\nG0 Z15\nM30\n", workshop(), "rapid_in_stock"), 6u);
  // The first that is known of it lies in the stock already.
  EXPECT_EQ(found(head + "G0 X50 Y50\nG0 Z-3\nG0 Z15\nM30\n", workshop(), "rapid_in_stock"), 5u);
  EXPECT_EQ(found(head + "G0 Z-3\nG0 X50 Y50\nG0 Z15\nM30\n", workshop(), "rapid_in_stock"), 5u);
  // A clamp over the zero: 12 above the stock's top, and the tool comes to 4 there.
  Book book = workshop();
  book.job.clamps = {{"at zero", 200, 150, 40, 40, 30}};
  EXPECT_EQ(found(head + "G0 X0 Y0\nG0 Z4\nG0 Z15\nM30\n", book, "clamp"), 5u);
  EXPECT_EQ(found(head + "G0 Z4\nG0 X0 Y0\nG0 Z15\nM30\n", book, "clamp"), 5u);
  EXPECT_EQ(found(head + "G0 Z20\nG0 X0 Y0\nG0 X100 Y100\nG1 Z-2 F300\nG0 Z20\nM30\n", book, "clamp"), 0u);
  // By distances from nowhere nobody can say where it goes.
  EXPECT_EQ(found(head + "G91\nG0 Z-3\nG0 X50 Y50\nG0 Z15\nM30\n", workshop(), "rapid_in_stock"), 0u);
}

TEST(Checks, ExtentsOfCentreAndCutDifferByTheRadius) {
  const auto findings =
      check("T3 M6\nS9000 M3\nG0 Z5\nG0 X20 Y30\nG1 Z-4 F100\nG1 X120 Y80 F900\nG0 Z5\nM30\n", workshop());
  const auto message = [&](const char* code) {
    for (const auto& f : findings)
      if (f.code == code) return f.message;
    return std::string();
  };
  // 12 mm cutter; zero at 200, 150, -80.
  EXPECT_NE(message("extents_centre").find("machine's positions X 200.0 to 320.0, Y 150.0 to 230.0"), std::string::npos)
      << message("extents_centre");
  EXPECT_NE(message("extents_cut").find("X 14.0 to 126.0, Y 24.0 to 86.0, down to Z"), std::string::npos)
      << message("extents_cut");
}

TEST(Checks, TheDialIsNamedForEverySpeed) {
  Book book = workshop();
  book.machine.spindle.dial = {{1, 10000}, {6, 25000}};
  const auto findings = check(job(2), book);
  std::size_t dials = 0;
  for (const auto& f : findings)
    if (f.code == "dial") {
      ++dials;
      // 13000 rpm: a fifth of the way from 10000 to 25000 on five steps.
      if (f.message.find("13000") != std::string::npos) {
        EXPECT_NE(f.message.find("2.0"), std::string::npos) << f.message;
      }
    }
  EXPECT_EQ(dials, 3u) << told(findings);
}

TEST(Envelope, MeetsABoxWhereAClosedFormSaysSo) {
  const Box box{10, 10, 20, 20, 5};
  // Beside: the disc just passes, and just does not.
  EXPECT_FALSE(meets(box, 3, 0, {6.99, 0, 0}, {6.99, 40, 0}));
  EXPECT_TRUE(meets(box, 3, 0, {7.01, 0, 0}, {7.01, 40, 0}));
  // Past a corner at 45 degrees: the corner (10, 10) is sqrt(2)·d/2 from x + y = 20 - d.
  const double d = 3 * std::sqrt(2.0);
  EXPECT_FALSE(meets(box, 3, 0, {20 - d - 0.02, 0, 0}, {0, 20 - d - 0.02, 0}));
  EXPECT_TRUE(meets(box, 3, 0, {20 - d + 0.02, 0, 0}, {0, 20 - d + 0.02, 0}));
  // Downwards along X from Z 8 at 0 to Z -2 at 40: at its last place over the box (x = 23) Z is 2.25.
  const auto met = meets(box, 3, 0, {0, 15, 8}, {40, 15, -2});
  ASSERT_TRUE(met);
  EXPECT_NEAR(met->at.x, 23, 1e-9);
  EXPECT_NEAR(met->depth, 5 - 2.25, 1e-9);
  EXPECT_FALSE(meets(box, 3, 10, {0, 15, 8}, {40, 15, -2})) << "ten above the tip it passes over";
  EXPECT_TRUE(meets(box, 1, 0, {15, 15, 3}, {15, 15, 9})) << "straight up out of it";
}

TEST(SpokenTools, AreReadInTheWaysOfProgramsAndNotElsewhere) {
  const auto of = [](const std::string& text) {
    std::map<int, double> found;
    for (const SpokenTool& s : spoken_tools(read_program(text + "\nG0 X1\n").value()))
      if (s.certain) found[s.number] = s.diameter;
    return found;
  };
  const auto said =
      of("(T1  D=3.175 CR=0. - ZMIN=-5 - flat end mill)\n(tool 2: 1/4 in ball)\n(T12 dia. 6 mm)\nT4 M6 (6.35mm drill)");
  ASSERT_EQ(said.size(), 4u);
  EXPECT_NEAR(said.at(1), 3.175, 1e-9);
  EXPECT_NEAR(said.at(12), 6, 1e-9);
  EXPECT_NEAR(said.at(4), 6.35, 1e-9);
  EXPECT_NEAR(said.at(2), 6.35, 1e-9);
  EXPECT_TRUE(of("(T1 is in the drawer)\n(depth 6 mm)\n(a part of 300 x 200)").empty());
  EXPECT_NEAR(of("G20\n(T3 D=0.25)").at(3), 6.35, 1e-9) << "inches, as the program";
  // Remarks on stock, pockets and the way of cutting are about no tool.
  for (const char* remark :
       {"pocket dia 40", "T1: pocket dia 40", "D=40", "stock 300 x 200 x 18 mm", "stepover 2.4 mm",
        "drill 4 holes, dia 8", "hole D=12 mm, 4 times", "leave 0.2 mm for finishing", "tabs 6 mm wide",
        "18 mm plywood board", "ring 80 mm, T1", "T1 D1 H1", "2 flutes", "boss dia. 25 mm", "depth of pass 3 mm",
        "board 12 mm, use flat side up", "circle D=50 cut with T1", "inlay 3 mm deep"})
    EXPECT_TRUE(of(std::string("T1 M6\n(") + remark + ")\nT2 M6").empty()) << remark;
  for (const char* remark : {"6 mm end mill", "1/4\" endmill", "6mm 2 flute upcut bit", "0.25 in flat end mill",
                             "D=6.35 mm cutter", "dia 6 mm router bit", "pocket with 6 mm end mill"})
    EXPECT_EQ(of(std::string("(") + remark + ")\nT2 M6").count(2), 1u) << remark;
}

TEST(SpokenTools, AFilesNameSpeaksOfTheOnlyTool) {
  const auto named = [](const char* text, const char* name, int only) {
    const auto all = spoken_tools(read_program(text).value(), name, only);
    return all.empty() ? 0.0 : all.front().diameter;
  };
  EXPECT_NEAR(named("T3 M6\nG0 X1\n", "dial-6mm-endmill", 1), 6, 1e-9);
  EXPECT_NEAR(named("G0 X1\n", "rim_3.175mm_bit", 1), 3.175, 1e-9);
  EXPECT_EQ(named("T3 M6\nG0 X1\nT4 M6\n", "dial-6mm-endmill", 1), 0) << "which of the two?";
  EXPECT_EQ(named("G0 X1\n", "plywood-18mm-front", 1), 0);
}

}  // namespace
}  // namespace ypsi
