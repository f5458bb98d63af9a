// Dangers, each in a short job and found with its line; and near misses beside them, against which nothing stands.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <functional>
#include <numbers>

#include "core/router_book.h"

#include "core/motion/planner.h"
#include "core/program/checks.h"
#include "core/program/read_setting.h"
#include "core/program/tool_shape.h"

namespace ypsi::dangers_and_near_misses {
namespace {

/// A router with a board of 300 by 200 by 18, zero on its top at the front left corner. A clamp to the left of it, its
/// top 12 above the board's. T1 is the reference tool, T2 2.5 longer.
Book bench() {
  Book book = router_book(1);
  book.machine.spindle.nut_diameter = 30;
  book.machine.spindle.nut_length = 20;
  const auto tool = [](int n, const char* kind, double d, double out, double angle = 0, double tip = 0) {
    Tool t = cutter(n, kind, d, out);
    t.angle = angle;
    t.tip = tip;
    t.flutes = 2;
    return t;
  };
  book.tools = {tool(1, "flat", 6, 32),
                tool(2, "flat", 6, 34),
                tool(3, "engraver", 12, 30, 60, 0.2),
                tool(4, "surfacing", 25, 30),
                tool(5, "ball", 6, 30),
                tool(6, "drill", 5, 40),
                tool(7, "flat", 3, 25),
                tool(8, "bull nose", 12, 40, 0, 8)};
  book.setter = ToolSetter{790, 12, 1, {-60}};
  book.tools[1].offset = 2.5;
  book.tools[6].offset = -4;
  book.job.stock_size = {300, 200, 18};
  book.job.frames[0] = {"", 200, 150, -80, false, 1};
  book.job.clamps = {{"left", 175, 250, 40, 40, 30}};
  return book;
}

Judgement judged(const std::string& text, const Book& book, const std::string& file_name = {}) {
  const auto program = read_program(text, read_setting(book));
  EXPECT_TRUE(program) << program.error().message << "\n" << text;
  if (!program) return {};
  CheckSetting setting;
  setting.tool = 1;
  setting.file_name = file_name;
  setting.end_s = estimate_time(*program, Kinematics{}).end_s;
  return judge_program(*program, book, setting);
}

std::string told(const std::vector<Finding>& findings) {
  std::string all;
  for (const auto& f : findings) all += fmt::format("{} {} line {}: {}\n", name(f.weight), f.code, f.line, f.message);
  return all;
}

const std::string head = "G21 G90 G17\nT1 M6\nS12000 M3\nG0 Z15\n";             // lines 1 to 4
const std::string body = "G0 X50 Y50\nG1 Z-3 F300\nX80 F900\nY80\nX50\nY50\n";  // lines 5 to 10
const std::string foot = "G0 Z15\nM5\nM30\n";
std::string with(int tool) {
  std::string h = head;
  h.replace(h.find("T1"), 2, fmt::format("T{}", tool));
  return h;
}
std::string put(std::string text, const std::string& what, const std::string& instead) {
  const std::size_t at = text.find(what);
  EXPECT_NE(at, std::string::npos) << what;
  return text.replace(at, what.size(), instead);
}

struct Case {
  const char* name;
  std::string text;
  const char* code = nullptr;  ///< null: a near miss
  std::uint32_t line = 0;
  Weight weight = Weight::stops;
  std::function<void(Book&)> change = {};
};

const std::vector<Case>& dangers() {
  static const std::vector<Case> all = {
      // Heights at the tip, by what the controller adds.
      {"longer tool through the board", with(2) + "G43 H2\n" + put(body, "Z-3", "Z-20") + foot, "into_bed", 7},
      {"length of another tool", with(2) + "G43 H1\n" + body + foot, "length_of_other", 7},
      {"length that was never measured", with(3) + "G43 H3\n" + put(body, "Z-3", "Z-.3") + foot, "length_unknown", 5},
      {"length of no tool", head + "G43 H12\n" + body + foot, "length_unknown", 5},
      {"second tool without its length",
       with(2) + "G43 H2\n" + body + "G0 Z15\nT7 M6\nS9000 M3\nG0 Z15\nG49\n" + body + foot, "length_of_other", 18},
      {"length kept over a change",
       with(2) + "G43 H2\nG0 Z15\n" + body + "G0 Z15\nT7 M6\nS9000 M3\nG0 Z15\n" + body + foot, "length_of_other", 18},
      {"rapid into the board by a longer tool", with(2) + "G43 H7 Z15\nG0 X50 Y50\nG0 Z5\n" + body + foot,
       "rapid_in_stock", 7},
      {"Z zero set with a tool that was measured", with(2) + "G43 H2\n" + body + foot, "length_twice", 5, Weight::stops,
       [](Book& b) { b.job.used().z_tool = 2; }},
      // From wherever it comes.
      {"across before it lifts", "G21 G90\nT1 M6\nS9000 M3\nG0 X10 Y10\nG0 Z15\n" + body + foot, "first_move", 4,
       Weight::warns},
      {"across below a clamp's top", put(head, "Z15", "Z6") + body + foot, "first_move", 5, Weight::warns},
      {"down while it goes across", "G21 G90\nT1 M6\nS9000 M3\nG0 X10 Y10 Z2\n" + body + foot, "first_move", 4,
       Weight::warns},
      {"one axis before the lift", "G21 G90\nT1 M6\nS9000 M3\nG0 Y10\nG0 Z15\n" + body + foot, "first_move", 4,
       Weight::warns},
      // Limits to the micrometre, arcs too.
      {"arc a hair over the limit", head + "G0 X589.002 Y40\nG3 X589.002 Y60 I0 J10 F900\n" + body + foot, "limit", 6},
      {"move a hair over the limit", head + "G0 X599.002\n" + body + foot, "limit", 5},
      {"helix below the limit", head + "G0 X50 Y50\nG2 X50 Y50 Z-49.1 I10 J0 F500\n" + foot, "limit", 6},
      // References.
      {"G28 across low down", head + body + "G28 X0 Y0\nM30\n", "reference_unknown", 11, Weight::warns},
      {"G28 to a known place through a clamp", head + "G0 X-60 Y100\nG0 Z5\nG91 G28 X0\nG90\n" + body + foot, "clamp",
       7, Weight::stops,
       [](Book& b) {
         b.places.push_back({"G28", {500, 400, -10}, false, {}});
       }},
      {"G30 beyond the limit", head + body + "G0 Z15\nG30\nM30\n", "limit", 12, Weight::stops,
       [](Book& b) {
         b.places.push_back({"g30", {500, 900, -10}, false, {}});
       }},
      // What stands beside the moves.
      {"minutes of waiting", head + "G4 P500\n" + body + foot, "dwell_long", 5, Weight::warns},
      {"change in the board", head + body + "T2 M6\n" + foot, "change_in_stock", 11},
      {"stop in the board", head + body + "M0\n" + foot, "stop_in_stock", 11, Weight::warns},
      {"optional stop in the board", head + body + "M1\n" + foot, "stop_in_stock", 11, Weight::warns},
      {"cut off in the board", head + body, "no_end", 10, Weight::warns},
      {"cut off with the spindle on", head + body + "G0 Z15\n", "no_end", 11, Weight::warns},
      {"more behind the end", head + body + foot + "G0 X1\n", "after_end", 14, Weight::warns},
      {"more behind the percent sign", "%\n" + head + body + "G0 Z15\nM5\n%\nG1 X9\n", "after_end", 15, Weight::warns},
      {"turning the other way", put(head, "M3", "M4") + body + foot, "counter_clockwise", 3, Weight::warns},
      {"a feed that rubs", head + put(body, "F900", "F4") + foot, "feed_low", 7, Weight::warns},
      {"a pass too deep", head + put(body, "Z-3", "Z-14") + foot, "pass_depth", 7, Weight::warns},
      {"past the cutting edges", head + put(body, "Z-3", "Z-6") + put(body, "Z-3", "Z-11") + foot, "edge_short", 12,
       Weight::warns, [](Book& b) { b.tools[0].edge_length = 10; }},
      {"a plunge too fast", head + put(body, "F300", "F900") + foot, "plunge_fast", 6, Weight::warns,
       [](Book& b) { b.tools[0].max_plunge = 400; }},
      // Shapes.
      {"rapid through the ridge between two grooves",
       with(3) + "G0 X50 Y50\nG1 Z-2 F300\nX80 F900\nG0 Z15\nG0 Y54\nG1 Z-2 F300\nX50 F900\nG0 Y50\n" + foot,
       "rapid_in_stock", 12},
      {"rapid through the ridge of a ball",
       with(5) + "G0 X50 Y50\nG1 Z-2 F300\nX80 F900\nG0 Z15\nG0 Y55.5\nG1 Z-2 F300\nX50 F900\nG0 Y50\n" + foot,
       "rapid_in_stock", 12},
      {"shank of a V against a clamp", with(3) + "G0 X-2 Y100\nG1 Z-4 F300\n" + foot, "clamp", 6, Weight::stops,
       [](Book& b) { b.job.clamps[0].x_mm = 173; }},
      {"collet nut in a deep pocket", head + put(body, "Z-3", "Z-15") + foot, "nut_in_stock", 6, Weight::stops,
       [](Book& b) { b.tools[0].length_out = 12; }},
      // Said of tools.
      {"comment with a number", "(T1 D=6.35 end mill)\n" + head + body + foot, "tool_differs", 1},
      {"comment with a word for a tool", "(1/4 in end mill)\n" + head + body + foot, "tool_differs", 1},
      {"comment on a ball", "(tool 5: 8 mm ball nose)\n" + with(5) + put(body, "Z-3", "Z-1") + foot, "tool_differs", 1},
      {"through the bed by a drill", with(6) + "G81 X50 Y50 Z-25 R2 F200\nG80\n" + foot, "into_bed", 5},
      {"inches read as millimetres", head + "G0 X1 Y1\nG1 Z-.1 F20\nX9 F60\nY7\nX1\nY1\n" + foot, "units", 6,
       Weight::warns,
       [](Book& b) {
         b.job.stock_corner = {-10, -10};
       }},
      {"zero of the bed in a job for the top",
       with(1) + "G0 Z25\nG0 X50 Y50\nG1 Z12 F300\nX80 F900\nG1 Z6 F300\nX50\nG0 Z25\n" + foot, "z_reference", 9},
      {"sub-program that goes too deep",
       "O1\n" + head + "G0 X50 Y50\nM98 P9\n" + foot + "O9\nG1 Z-30 F300\nG0 Z15\nM99\n", "into_bed", 12},
      {"unrolled rapid through the board",
       "o1 sub\nG0 Z-4\nG0 X90\nG0 Z15\no1 endsub\n" + head + "G0 X50 Y50\no1 call\n" + foot, "rapid_in_stock", 2},
  };
  return all;
}

const std::vector<Case>& near_misses() {
  static const std::vector<Case> all = {
      {"a plain job", head + body + foot},
      {"longer tool with its length", with(2) + "G43 H2 Z15\n" + put(body, "Z-3", "Z-18.2") + "X80 Z-2\n" + foot,
       nullptr, 0, Weight::stops,
       [](Book& b) {
         b.job.stock_size[2] = 18;
         b.tools[1].diameter = 12;
       }},
      {"lift before its length is taken", with(2) + "G0 X50 Y50\nG43 H2 Z15\n" + body + foot},
      {"lengths off before the end", with(2) + "G43 H2 Z15\n" + body + "G0 Z15\nG49\nG0 Z30\nM5\nM30\n"},
      {"both tools with theirs",
       head + "G43 H1 Z15\n" + body + "G0 Z15\nT2 M6\nS9000 M3\nG43 H2 G0 Z15\n" + body + foot},
      {"the same length under another number", with(2) + "G43 H7\n" + body + foot, nullptr, 0, Weight::stops,
       [](Book& b) { b.tools[6].offset = 2.5; }},
      {"length of none", head + "G43 H0\n" + body + foot},
      {"up to the reference at the end", head + body + "G0 Z15\nM5\nG91 G28 Z0\nM30\n"},
      {"all to the reference, Z first", head + body + "M5\nG91 G28 Z0\nG28 X0 Y0\nG90\nM30\n"},
      {"to a known reference", head + body + "G0 Z30\nM5\nG28\nM30\n", nullptr, 0, Weight::stops,
       [](Book& b) {
         b.places.push_back({"G28", {10, 700, -5}, false, {}});
       }},
      {"machine's own height first", "G21 G90\nT1 M6\nS9000 M3\nG53 G0 Z-2\n" + body + foot},
      {"lift and across at once, high", "G21 G90\nT1 M6\nS9000 M3\nG0 X50 Y50 Z20\n" + body + foot},
      {"arc that touches the limit", head + "G0 X589 Y40\nG3 X589 Y60 I0 J10 F900\nG0 X50\n" + body + foot},
      {"move to the very limit", head + "G0 X599\n" + body + foot},
      {"a second of waiting", head + "G4 P2.5\n" + body + foot},
      {"change above the board", head + body + "G0 Z15\nT2 M6\nS9000 M3\nG0 Z15\n" + body + foot},
      {"change low beside the board", head + "G0 Y-60\nG0 Z-2\nT1 M6\nS9000 M3\nG0 Z15\n" + body + foot},
      {"stop above the board", head + body + "G0 Z1\nM0\n" + foot},
      {"end without a word", head + body + "G0 Z15\nM5\n"},
      {"end by a percent sign", head + body + "G0 Z15\nM5\n%\n"},
      {"remarks behind the end", head + body + foot + "(made on Tuesday)\n\n%\n"},
      {"sub-programs behind the end", "O1\n" + head + "G0 X50 Y50\nM98 P9\n" + foot + "O9\nG1 Z-3 F300\nG0 Z15\nM99\n"},
      {"slow and fine", head + put(body, "F900", "F40") + foot},
      {"deep in steps", head + put(body, "Z-3", "Z-6") + put(body, "Z-3", "Z-11") + put(body, "Z-3", "Z-16") + foot},
      {"as deep as the edges", head + put(body, "Z-3", "Z-6") + put(body, "Z-3", "Z-11") + foot, nullptr, 0,
       Weight::stops, [](Book& b) { b.tools[0].edge_length = 11; }},
      {"last pass down a cut wall",
       head + put(body, "Z-3", "Z-8") + put(body, "Z-3", "Z-16") + put(body, "Z-3", "Z-16") + foot},
      {"fast plunge where it was cut", head + body + "G0 Z15\nG0 X50 Y50\nG1 Z-3 F1400\nX80 F900\n" + foot, nullptr, 0,
       Weight::stops, [](Book& b) { b.tools[0].max_plunge = 400; }},
      {"V along the very edges", with(3) + "G0 X.4 Y.4\nG1 Z-.4 F300\nX299.6 F900\nY199.6\nX.4\nY.4\n" + foot, nullptr,
       0, Weight::stops, [](Book& b) { b.job.clamps[0].x_mm = 173; }},
      {"V beside a clamp", with(3) + "G0 X-3.5 Y100\nG1 Z-1 F300\nG0 Z15\n" + body + foot, nullptr, 0, Weight::stops,
       [](Book& b) {
         b.job.clamps[0] = {"left", 191, 250, 8, 40, 18.5};
         b.job.stock_corner = {-8, 0};
       }},
      {"rapid over a groove that a flat cut",
       head + "G0 X50 Y50\nG1 Z-2 F300\nX80 F900\nG0 Z15\nG0 Y54\nG1 Z-2 F300\nX50 F900\nG0 Y50\n" + foot},
      {"letters lifted by feed",
       head + "G0 X50 Y50 Z15\nG1 Z-.2 F300\nX55 F500\nG1 Z2\nX60\nZ-.2\nX65\nZ2\nX90\nZ-.2\nX95\nZ15\n" + foot},
      {"letters all by feed on thin stock",
       head + "G1 X50 Y50 Z5 F900\nZ-.2 F300\nX55 F500\nZ2\nX90\nZ-.2\nX95\nZ2\nX120\nZ-.2\nX125\nZ5\n" + foot, nullptr,
       0, Weight::stops,
       [](Book& b) {
         b.job.stock_size[2] = 3;
         b.job.clamps.clear();
       }},
      {"one hole", with(6) + "G81 X12 Y12 Z-6 R2 F200\nG80\n" + foot},
      {"one small mark",
       head + "G0 X20 Y20\nG1 Z-.3 F300\nX30 F600\nG0 Z15\nG0 X25 Y15\nG1 Z-.3 F300\nY25 F600\n" + foot},
      {"facing over all edges",
       with(4) +
           "G0 X-10 Y4\nG1 Z-.5 F300\nX310 F1500\nY24\nX-10\nY44\nX310\nY64\nX-10\nY84\nX310\nY104\nX-10\nY124\nX310\n"
           "Y144\nX-10\nY164\nX310\nY184\nX-10\nY198\nX310\n" +
           foot,
       nullptr, 0, Weight::stops, [](Book& b) { b.job.clamps.clear(); }},
      {"remark on the stock", "(stock 300 x 200 x 18 mm, T1)\n" + head + body + foot},
      {"remark on a pocket", "(T1: pocket dia 40)\n" + head + body + foot},
      {"remark on the stepover", "(stepover 2.4 mm, 40 %)\n" + head + body + foot},
      {"remark on holes", "(drill 4 holes D=5.0 mm)\n" + head + body + foot},
      {"remark on the offset's number", "(T1 D1 H1)\n" + head + body + foot},
      {"remark behind the change", "G21 G90 G17\nT1 M6\n(6 mm end mill)\nS9000 M3\nG0 Z15\n" + body +
                                       "G0 Z15\nT7 M6\n(3 mm end mill)\nS9000 M3\nG0 Z15\n" + put(body, "Z-3", "Z-2") +
                                       foot},
      {"habits of a CAM program",
       "%\nO0012 (DIAL)\nG21 G17 G40 G49 G50 G69 G80 G90 G94\nG64 P0.02\nT1 M6 (6 mm end mill)\n"
       "S12000 M3\nG4 P3\nG0 Z15 A0\n" +
           body + "G0 Z15\nM5\nG91 G28 Z0\nG90\nM30\n%\n"},
      {"inches in three digits",
       "G20 G90 G17\nT1 M6\nS9000 M3\nG0 Z.7\nG0 X2 Y2\nG1 Z-.1 F12\nG3 X1.707 Y2.707 I-1 J0 F40\nG0 Z.7\nM5\nM30\n"},
      {"a job in another frame", head + "G55\n" + body + foot, nullptr, 0, Weight::stops,
       [](Book& b) { b.job.frames[1] = {"", 240, 160, -80, false, 1}; }},
  };
  return all;
}

TEST(Dangers, AreFoundWithTheirLine) {
  EXPECT_GE(dangers().size(), 40u);
  for (const Case& c : dangers()) {
    SCOPED_TRACE(c.name);
    Book book = bench();
    if (c.change) c.change(book);
    const auto findings = judged(c.text, book).findings;
    const auto found = std::find_if(findings.begin(), findings.end(), [&](const Finding& f) {
      return f.code == c.code && f.weight == c.weight && f.line == c.line;
    });
    EXPECT_NE(found, findings.end()) << c.text << told(findings);
  }
}

TEST(NearMisses, AreNotStoppedNorWarnedOf) {
  EXPECT_GE(near_misses().size(), 40u);
  for (const Case& c : near_misses()) {
    SCOPED_TRACE(c.name);
    Book book = bench();
    if (c.change) c.change(book);
    const auto findings = judged(c.text, book).findings;
    EXPECT_EQ(count(findings, Weight::stops), 0u) << c.text << told(findings);
    EXPECT_EQ(count(findings, Weight::warns), 0u) << c.text << told(findings);
  }
}

TEST(Judgement, TellsTheTipWithTheToolThatIsIn) {
  // 20 deep by a tool 2.5 longer, its length added: the tip is at -20, the machine 2.5 higher.
  const Judgement j = judged(with(2) + "G43 H2 Z15\n" + put(body, "Z-3", "Z-20") + foot, bench());
  EXPECT_NEAR(j.tip.low.z, -20, 1e-9);
  EXPECT_NEAR(j.cut.low.z, -20, 1e-9);
  // Without it the same words go 2.5 deeper, as far as another tool's length is added.
  const Judgement other = judged(with(2) + "G43 H7 Z15\n" + body + foot, bench());
  EXPECT_NEAR(other.tip.low.z, -3 - 4 - 2.5, 1e-9);
}

TEST(Judgement, CutsAsWideAsTheToolIsThere) {
  const auto reach = [](int tool, double z) {
    return judged(with(tool) + fmt::format("G0 X50 Y50\nG1 Z{} F300\nX80 F900\n", z) + foot, bench()).cut.high.y - 50;
  };
  EXPECT_NEAR(reach(1, -1), 3, 1e-9);
  EXPECT_NEAR(reach(3, -1), 0.1 + std::tan(std::numbers::pi / 6), 1e-9) << "60 degrees, a tip of 0.2";
  EXPECT_NEAR(reach(3, -15), 6, 1e-9) << "no wider than it is";
  EXPECT_NEAR(reach(5, -1), std::sqrt(9.0 - 4), 1e-9) << "a ball of 6";
  EXPECT_NEAR(reach(8, -0.5), 4 + std::sqrt(4 - 1.5 * 1.5), 1e-9) << "a nose rounded by 2";
  EXPECT_NEAR(reach(6, -1), std::tan(59 * std::numbers::pi / 180), 1e-9) << "a drill's point of 118 degrees";
}

// The least distance that a cylinder keeps from a box, for ways on which it can be written down.
TEST(Judgement, TellsTheLeastDistanceToAClamp) {
  const auto clearance = [](const std::string& moves, int tool = 1) {
    const auto c = judged(with(tool) + moves + foot, bench()).clearance;
    return c ? *c : ClampClearance{};
  };
  // The clamp reaches from -45 to -5 in X, 80 to 120 in Y, to 12 in Z; the cutter's radius is 3.
  EXPECT_NEAR(clearance("G0 X50 Y100\nG1 Z-3 F300\nX10 F900\n").distance, 12, 1e-6);
  EXPECT_EQ(clearance("G0 X50 Y100\nG1 Z-3 F300\nX10 F900\n").line, 7u);
  EXPECT_NEAR(clearance("G0 X-20 Y100\n").distance, 3, 1e-6) << "over it at 15";
  // Past its corner (-5, 120) at 45 degrees: x + y = 130 passes at (130 - 115) / sqrt(2).
  EXPECT_NEAR(clearance("G0 X50 Y80\nG1 Z-3 F300\nX-10 Y140 F900\n").distance, 15 / std::sqrt(2.0) - 3, 1e-6);
  // Round about (50, 100) with a radius of 40: nearest at X 10.
  EXPECT_NEAR(clearance("G0 X90 Y100\nG1 Z-3 F300\nG3 X90 Y100 I-40 J0 F900\n").distance, 12, 3e-3);
  EXPECT_EQ(clearance("G0 X-20 Y100\nG1 Z5 F300\n").distance, 0);
}

}  // namespace
}  // namespace ypsi::dangers_and_near_misses
