// Programs of our own, one for each modal group and each refusal, against motions written down by hand from the
// standard. tests/data/programs: NAME.ngc and NAME.txt.
#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <numbers>
#include <sstream>

#include "core/program/interpreter.h"

namespace ypsi {
namespace {

namespace fs = std::filesystem;

std::string whole(const fs::path& path) {
  std::ifstream file(path, std::ios::binary);
  std::stringstream text;
  text << file.rdbuf();
  return text.str();
}

std::vector<std::string> all_names() {
  std::vector<std::string> names;
  for (const auto& entry : fs::directory_iterator(std::string(YPSI_TEST_DATA) + "/programs"))
    if (entry.path().extension() == ".ngc") names.push_back(entry.path().stem().string());
  std::sort(names.begin(), names.end());
  return names;
}

ReadSetting setting() {
  ReadSetting s;
  s.frames.zeros[0] = {100, 200, -50};
  for (std::size_t i = 1; i < work_frame_count; ++i) s.frames.zeros[i] = s.frames.zeros[0];
  s.frames.zeros[1].x = 150;
  s.frames.zeros[8] = {100, 250, -40};
  s.frames.tool_offsets[2] = 4;
  s.frames.second_reference = {0, 0, -5};
  return s;
}

constexpr const char* event_names[] = {"stop",        "optional_stop", "end",      "spindle_on", "spindle_off",
                                       "tool_change", "dwell",         "probe",    "work_frame", "tool_offset",
                                       "zero_set",    "coolant",       "reference"};
constexpr const char* motion_names[] = {"rapid", "line", "cw", "ccw"};
constexpr const char* plane_names[] = {"xy", "zx", "yz"};

class Corpus : public testing::TestWithParam<std::string> {};

TEST_P(Corpus, MovesAsWrittenDown) {
  const std::string base = std::string(YPSI_TEST_DATA) + "/programs/" + GetParam();
  const auto program = read_program(whole(base + ".ngc"), setting());
  std::istringstream wanted(whole(base + ".txt"));
  std::size_t motion = 0, event = 0;
  std::string line;
  while (std::getline(wanted, line)) {
    std::istringstream words(line);
    std::string kind;
    words >> kind;
    SCOPED_TRACE(line);
    if (kind == "error") {
      std::string where, part;
      words >> where;
      std::getline(words >> std::ws, part);
      ASSERT_FALSE(program);
      EXPECT_EQ(program.error().where, where) << program.error().message;
      EXPECT_NE(program.error().message.find(part), std::string::npos) << program.error().message;
      return;
    }
    ASSERT_TRUE(program) << program.error().message;
    if (kind == "event") {
      std::string name;
      double value = 0;
      words >> name >> value;
      ASSERT_LT(event, program->events.size());
      const Event& e = program->events[event++];
      EXPECT_STREQ(event_names[static_cast<int>(e.kind)], name.c_str());
      EXPECT_NEAR(e.value, value, 1e-9);
      EXPECT_EQ(e.before, motion) << "it comes before that motion";
      continue;
    }
    ASSERT_LT(motion, program->motions.size());
    const Motion& m = program->motions[motion];
    EXPECT_STREQ(motion_names[static_cast<int>(m.kind)], kind.c_str());
    double place[3] = {};
    words >> place[0] >> place[1] >> place[2];
    for (const Axis a : all_axes) EXPECT_NEAR(m.end[a], place[index(a)], 1e-5) << letter(a);
    if (is_arc(m)) {
      std::string word, plane;
      double centre[2] = {}, sweep = 0;
      words >> word >> centre[0] >> centre[1] >> plane >> word >> sweep;
      const Arc& arc = program->arc_of(m);
      EXPECT_NEAR(arc.centre_first, centre[0], 1e-5);
      EXPECT_NEAR(arc.centre_second, centre[1], 1e-5);
      EXPECT_STREQ(plane_names[static_cast<int>(arc.plane)], plane.c_str());
      EXPECT_NEAR(arc_sweep(program->begin_of(motion), m, arc) * 180 / std::numbers::pi, sweep, 1e-4);
    }
    if (is_cut(m)) {
      char f = 0;
      double feed = 0;
      words >> f >> feed;
      EXPECT_NEAR(program->feed_of(m), feed, 1e-4 * feed);
    }
    ++motion;
  }
  ASSERT_TRUE(program);
  EXPECT_EQ(motion, program->motions.size());
  EXPECT_EQ(event, program->events.size());
}

INSTANTIATE_TEST_SUITE_P(Programs, Corpus, testing::ValuesIn(all_names()), [](const auto& p) {
  std::string name = p.param;
  for (char& c : name)
    if (c == '-') c = '_';
  return name;
});

TEST(CorpusSize, IsThatOfTheDialect) {
  EXPECT_GE(all_names().size(), 60u);
}

// Arcs in every plane: each place on the way has the centre's distance, and the extents are those of a closed form.
TEST(Arcs, KeepTheirRadiusAndBulgeAsTheyShouldInEveryPlane) {
  const struct {
    const char* text;
    WorkPosition low, high;
  } arcs[] = {
      // Radius 10 about the origin, three quarters from +X over +Y and -X to -Y: the box of the circle but for +X -Y.
      {"G0 X10\nG3 X0 Y-10 I-10 F100\n", {-10, -10, 0}, {10, 10, 0}},
      {"G0 X10\nG2 X0 Y-10 I-10 F100\n", {0, -10, 0}, {10, 0, 0}},
      // ZX: from Z 10 towards X first.
      {"G18 G0 Z10\nG3 X0 Z-10 K-10 F100\n", {0, 0, -10}, {10, 0, 10}},
      {"G18 G0 Z10\nG2 X0 Z-10 K-10 F100\n", {-10, 0, -10}, {0, 0, 10}},
      {"G19 G0 Y10\nG3 Y-10 Z0 X6 J-10 F100\n", {0, -10, 0}, {6, 10, 10}},
      {"G19 G0 Y10\nG2 Y-10 Z0 X6 J-10 F100\n", {0, -10, -10}, {6, 10, 0}}};
  for (const auto& a : arcs) {
    const auto p = read_program(a.text);
    ASSERT_TRUE(p) << p.error().message;
    for (const Axis axis : all_axes) {
      EXPECT_NEAR(p->cut.low[axis], a.low[axis], 1e-9) << a.text << letter(axis);
      EXPECT_NEAR(p->cut.high[axis], a.high[axis], 1e-9) << a.text << letter(axis);
    }
    const ArcWay way = arc_way(p->begin_of(1), p->motions[1], p->arcs[0]);
    for (double t = 0; t <= 1; t += 0.1) {
      const WorkPosition at = way.at(t);
      EXPECT_NEAR(std::hypot(at[way.axes.first] - way.centre_first, at[way.axes.second] - way.centre_second), 10, 1e-9);
    }
    for (const Axis axis : all_axes) EXPECT_NEAR(way.at(1)[axis], p->motions[1].end[axis], 1e-9);
  }
}

TEST(Comments, AreKeptWithTheirLines) {
  const auto p = read_program("(a part, 6 mm flat)\nG0 X1 ; over\n(MSG, turn it)\nM0\n");
  ASSERT_TRUE(p);
  ASSERT_EQ(p->comments.size(), 3u);
  EXPECT_EQ(p->comments[0].text, "a part, 6 mm flat");
  EXPECT_EQ(p->comments[1].line, 2u);
  EXPECT_EQ(p->comments[1].text, " over");
  EXPECT_EQ(p->comments[2].text, "MSG, turn it");
}

TEST(Refused, ALineOfTheFullDialectChangesNothing) {
  Interpreter interpreter;
  Program into;
  ASSERT_TRUE(interpreter.line("#1=4 G0 X5", 1, into));
  const std::size_t motions = into.motions.size();
  for (const char* bad : {"#1=9 G0 X[1/0]", "G81 X1 Z-1", "G10 L2 P1 X1 Q4", "G92 X1 Q2", "#1=9 G1 X1"}) {
    EXPECT_FALSE(interpreter.line(bad, 2, into)) << bad;
    EXPECT_EQ(into.motions.size(), motions) << bad;
    EXPECT_EQ(interpreter.parameters().get(1), 4) << bad;
    EXPECT_EQ(interpreter.state().cycle.number, 0) << bad;
    EXPECT_EQ(interpreter.frames().zeros[0], WorkZero{}) << bad;
  }
}

}  // namespace
}  // namespace ypsi
