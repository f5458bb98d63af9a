#include "cli/calc.h"

#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <functional>
#include <sstream>

#include "cli/book_check.h"

namespace ypsi::cli {
namespace {

using nlohmann::json;

const Calculation& calculation(const std::string& name) {
  for (const auto& c : calculations())
    if (name == c.name) return c;
  throw std::runtime_error("no calculation " + name);
}

std::string slurp(const std::filesystem::path& path) {
  std::ifstream file(path);
  std::stringstream text;
  text << file.rdbuf();
  return text.str();
}

/// Numbers to a relative 1e-6 (1e-9 absolute), texts exactly, suspects in any order, further keys ignored.
void expect_same(const json& want, const json& got, const std::string& where) {
  if (want.is_object()) {
    ASSERT_TRUE(got.is_object()) << where;
    for (const auto& [key, value] : want.items())
      expect_same(value, got.contains(key) ? got[key] : json(), where + "." + key);
  } else if (want.is_array()) {
    ASSERT_EQ(want.size(), got.size()) << where;
    auto a = want, b = got;
    if (where.ends_with("suspects")) std::sort(a.begin(), a.end()), std::sort(b.begin(), b.end());
    for (std::size_t i = 0; i < a.size(); ++i) expect_same(a[i], b[i], where + "[" + std::to_string(i) + "]");
  } else if (want.is_number()) {
    ASSERT_TRUE(got.is_number()) << where << " " << got;
    const double x = want.get<double>(), y = got.get<double>();
    EXPECT_NEAR(x, y, std::max(1e-9, 1e-6 * std::max(std::abs(x), std::abs(y)))) << where;
  } else {
    EXPECT_EQ(want, got) << where;
  }
}

// Results of an independent program.
TEST(Calc, AgreesWithTheIndependentExamples) {
  int compared = 0;
  for (const auto& entry : std::filesystem::directory_iterator(std::string(YPSI_TEST_DATA) + "/examples")) {
    const std::string stem = entry.path().stem().string(), name = stem.substr(0, stem.rfind('-'));
    const auto& all = calculations();
    if (std::none_of(all.begin(), all.end(), [&](const auto& c) { return name == c.name; })) continue;
    const json example = json::parse(slurp(entry.path()));
    const auto out = calculate(calculation(name), example["in"].dump());
    ASSERT_TRUE(out) << stem << " " << out.error().message;
    expect_same(example["out"], *out, stem);
    ++compared;
  }
  EXPECT_EQ(compared, 286) << "every example has its calculation";
}

TEST(Calc, TheExamplesOfTheHelpRun) {
  for (const auto& c : calculations()) {
    const auto out = calculate(c, c.example);
    EXPECT_TRUE(out) << c.name << " " << out.error().message;
  }
}

// The program itself: exit codes and standard output as scripts see them.
int run(const std::string& arguments, std::string& output) {
  const std::string command = std::string(YPSI_BIN) + "/ypsilo 2>/dev/null " + arguments;
  FILE* pipe = popen(command.c_str(), "r");
  if (!pipe) return -1;
  output.clear();
  char buffer[4096];
  while (const std::size_t n = fread(buffer, 1, sizeof buffer, pipe)) output.append(buffer, n);
  const int status = pclose(pipe);
  return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

// Each example as printed by `ypsilo help NAME`, through a shell; the man page and the completion know every name.
TEST(Calc, HelpManPageAndCompletionKnowEveryCalculation) {
  const std::string man = slurp(std::string(YPSI_RESOURCES) + "/cli/ypsilo.1"),
                    completion = slurp(std::string(YPSI_RESOURCES) + "/cli/ypsilo.bash");
  for (const auto& c : calculations()) {
    std::string printed, out;
    ASSERT_EQ(run(std::string("help ") + c.name, printed), 0);
    std::string line = printed.substr(printed.find("echo "));
    line = line.substr(0, line.find('\n'));
    const std::string command = line.replace(line.find("| ypsilo"), 8, "| " YPSI_BIN "/ypsilo");
    EXPECT_EQ(std::system((command + " > /dev/null").c_str()), 0) << command;
    EXPECT_NE(man.find(c.name), std::string::npos) << c.name;
    EXPECT_NE(completion.find(c.name), std::string::npos) << c.name;
  }
}

struct Bad {
  const char* calculation;
  const char* change;  ///< JSON merge patch (RFC 7396) on the help's example; null removes a key
  const char* code;
  const char* where;
};
void PrintTo(const Bad& bad, std::ostream* out) {
  *out << bad.calculation << " " << bad.change;
}
class BadInput : public ::testing::TestWithParam<Bad> {};
TEST_P(BadInput, IsAnsweredWithCodeSentenceAndPlace) {
  const Bad& bad = GetParam();
  json in = json::parse(calculation(bad.calculation).example);
  in.merge_patch(json::parse(bad.change));
  const auto out = calculate(calculation(bad.calculation), in.dump());
  ASSERT_FALSE(out) << *out;
  EXPECT_EQ(out.error().code, bad.code) << out.error().message;
  EXPECT_EQ(out.error().where, bad.where) << out.error().message;
  EXPECT_GT(out.error().message.size(), 12u);
}
INSTANTIATE_TEST_SUITE_P(
    Calc, BadInput,
    ::testing::Values(
        Bad{"part", R"({"axes": {"X": {"length_mm": 0}}})", "out_of_range", "axes.X.length_mm"},
        Bad{"part", R"({"tool": {"u_mm": -1}})", "out_of_range", "tool.u_mm"},
        Bad{"part", R"({"skew": 3})", "wrong_type", "skew"},
        Bad{"periodic", R"({"readings": []})", "too_few", "readings"},
        Bad{"periodic", R"({"period_mm": 1e-9})", "degenerate", "readings"},
        Bad{"correction", R"({"period_mm": 0})", "out_of_range", "period_mm"},
        Bad{"z-square", R"({"height_mm": 0})", "out_of_range", "height_mm"},
        Bad{"pointer", R"({"marks": []})", "too_few", "marks"},
        Bad{"pointer", R"({"marks": [{"spindle": [1, 2]}]})", "missing", "marks[0].other"},
        Bad{"marks", R"({"at": null})", "missing", "at"},
        Bad{"marks", R"({"points": [{"drawn": [1, 1], "found": [2, 2]}, {"drawn": [1, 1], "found": [3, 2]}]})",
            "degenerate", "points"},
        Bad{"focus", R"({"points": []})", "too_few", "points"},
        Bad{"focus", R"({"u_width_mm": 0})", "out_of_range", "u_width_mm"},
        Bad{"threshold", R"({"fraction": 1})", "out_of_range", "fraction"},
        Bad{"threshold", R"({"trials": [{"level": 1, "yes": 0, "no": 0}]})", "too_few", "trials"},
        Bad{"threshold", R"({"trials": [{"level": 1, "yes": 0.5, "no": 0}]})", "out_of_range", "trials[0].yes"},
        Bad{"drag-knife", R"({"lost_motion": null})", "missing", "lost_motion"},
        Bad{"turned-knife", R"({"chord_mm": null})", "missing", "chord_mm"},
        Bad{"turned-knife", R"({"kerf": [{"angle_deg": 5, "width_mm": 1}, {"angle_deg": 5, "width_mm": 1}]})",
            "degenerate", "kerf"},
        Bad{"kerf", R"({"strips": 0})", "out_of_range", "strips"},
        Bad{"fence", R"({"sense": 2})", "out_of_range", "sense"},
        Bad{"fence", R"({"measured_mm": []})", "too_few", "measured_mm"},
        Bad{"ticks",
            R"({"points": [{"tick": 1, "depth_mm": 1}, {"tick": 1, "depth_mm": 1}, {"tick": 1, "depth_mm": 2}]})",
            "degenerate", "points"},
        Bad{"corner", R"({"turn_mrad": 9000})", "out_of_range", "turn_mrad"},
        Bad{"corner", R"({"turn_mrad": 5})", "missing", "touch.x.at_mm"},
        Bad{"drive", R"({"microsteps": null})", "missing", "microsteps"},
        Bad{"drive", R"({"microsteps": "16"})", "wrong_type", "microsteps"},
        Bad{"drive", R"({"microsteps": 0})", "out_of_range", "microsteps"},
        Bad{"drive", R"({"gear_ratio": -2})", "out_of_range", "gear_ratio"},
        Bad{"drive", R"({"transmission": null})", "missing", "transmission"},
        Bad{"drive", R"({"transmission": {"kind": "rope"}})", "out_of_range", "transmission.kind"},
        Bad{"drive", R"({"transmission": {"kind": "belt", "teeth": null}})", "missing", "transmission.teeth"},
        Bad{"drive", R"({"transmission": 7})", "wrong_type", "transmission"},
        Bad{"drive", R"({"microsteps": 1e-320, "full_steps_per_rev": 1e-300})", "out_of_range", "transmission"},
        Bad{"scale", R"({"axis": null})", "missing", "axis"}, Bad{"scale", R"({"axis": 3})", "wrong_type", "axis"},
        Bad{"scale", R"({"current_steps_per_mm": -1})", "out_of_range", "current_steps_per_mm"},
        Bad{"scale", R"({"instrument": {"resolution_mm": 0}})", "out_of_range", "instrument.resolution_mm"},
        Bad{"scale", R"({"instrument": {"resolution_mm": null}})", "missing", "instrument.resolution_mm"},
        Bad{"scale", R"({"instrument": {"ends": 1.5}})", "out_of_range", "instrument.ends"},
        Bad{"scale", R"({"instrument": {"s_mm": -0.1}})", "out_of_range", "instrument.s_mm"},
        Bad{"scale", R"({"readings": []})", "too_few", "readings"},
        Bad{"scale", R"({"readings": {}})", "wrong_type", "readings"},
        Bad{"scale", R"({"readings": [3]})", "wrong_type", "readings[0]"},
        Bad{"scale", R"({"readings": [{"commanded_mm": 10}]})", "missing", "readings[0].measured_mm"},
        Bad{"scale", R"({"readings": [{"commanded_mm": 0, "measured_mm": 1}]})", "out_of_range",
            "readings[0].commanded_mm"},
        Bad{"scale", R"({"readings": [{"commanded_mm": 1, "measured_mm": 1}, {"commanded_mm": 1, "measured_mm": 0}]})",
            "out_of_range", "readings[1].measured_mm"},
        Bad{"scale", R"({"readings": [{"commanded_mm": 1, "measured_mm": 1, "approach": "sideways"}]})", "out_of_range",
            "readings[0].approach"},
        Bad{"scale", R"({"tolerance_mm_per_m": 0})", "out_of_range", "tolerance_mm_per_m"},
        Bad{"scale", R"({"transmission": {"kind": "screw"}})", "missing", "transmission.lead_mm"},
        Bad{"positioning", R"({"targets_mm": [1]})", "too_few", "targets_mm"},
        Bad{"positioning", R"({"targets_mm": "x"})", "wrong_type", "targets_mm"},
        Bad{"positioning", R"({"targets_mm": [1, "x", 3]})", "wrong_type", "targets_mm[1]"},
        Bad{"positioning", R"({"runs": [{"direction": "+", "deviation_mm": [0, 0, 0]}]})", "too_few", "runs"},
        Bad{"positioning", R"({"runs": [{"direction": "up", "deviation_mm": [0, 0, 0]}]})", "out_of_range",
            "runs[0].direction"},
        Bad{"positioning", R"({"runs": [{"direction": "+", "deviation_mm": [0, 0]}]})", "too_few",
            "runs[0].deviation_mm"},
        Bad{"square", R"({"points": null})", "missing", "points"},
        Bad{"square", R"({"points": {"A": [0]}})", "wrong_type", "points.A"},
        Bad{"square", R"({"distances": []})", "too_few", "distances"},
        Bad{"square", R"({"distances": [{"from": "A", "to": "Q", "measured_mm": 5}]})", "missing", "distances[0].to"},
        Bad{"square", R"({"distances": [{"from": "A", "to": "A", "measured_mm": 5}]})", "degenerate",
            "distances[0].to"},
        Bad{"square", R"({"distances": [{"from": "A", "to": "B", "measured_mm": -5}]})", "out_of_range",
            "distances[0].measured_mm"},
        Bad{"square",
            R"({"distances": [{"from": "A", "to": "B", "measured_mm": 5, "hole": {"edge": "outer", "diameter_mm": 6}}]})",
            "out_of_range", "distances[0].measured_mm"},
        Bad{"square",
            R"({"distances": [{"from": "A", "to": "B", "measured_mm": 5, "hole": {"edge": "rim", "diameter_mm": 1}}]})",
            "out_of_range", "distances[0].hole.edge"},
        Bad{"square", R"({"rail_spacing_mm": 0})", "out_of_range", "rail_spacing_mm"},
        Bad{"square", R"({"hold": "middle"})", "out_of_range", "hold"},
        Bad{"square", R"({"steps_per_mm": {"Y": null}})", "missing", "steps_per_mm.Y"},
        Bad{"limits", R"({"home_end": "left"})", "out_of_range", "home_end"},
        Bad{"limits", R"({"travel_mm": 0})", "out_of_range", "travel_mm"},
        Bad{"limits", R"({"accel_mm_s2": -1})", "out_of_range", "accel_mm_s2"},
        Bad{"limits", R"({"latency_s": -0.1})", "out_of_range", "latency_s"},
        Bad{"limits", R"({"seek_rate_mm_min": null})", "missing", "seek_rate_mm_min"},
        Bad{"homing", R"({"readings_mm": [1, 2, 3, 4]})", "too_few", "readings_mm"},
        Bad{"homing", R"({"tolerance_mm": 0})", "out_of_range", "tolerance_mm"},
        Bad{"homing", R"({"resolution_mm": null})", "missing", "resolution_mm"},
        Bad{"plate", R"({"thickness_mm": -1})", "out_of_range", "thickness_mm"},
        Bad{"plate", R"({"plate_on": "floor"})", "out_of_range", "plate_on"},
        Bad{"plate", R"({"stock_thickness_mm": null})", "missing", "stock_thickness_mm"},
        Bad{"corner", R"({"tool_diameter_mm": 0})", "out_of_range", "tool_diameter_mm"},
        Bad{"corner", R"({"touch": {"x": {"direction": "-x"}}})", "out_of_range", "touch.x.direction"},
        Bad{"corner", R"({"touch": {"z": null}})", "missing", "touch.z"},
        Bad{"corner", R"({"wall_y_mm": -2})", "out_of_range", "wall_y_mm"},
        Bad{"edge", R"({"b": [6.4, 26.5]})", "degenerate", "b"},
        Bad{"edge", R"({"b": [6.4, 30]})", "degenerate", "along"},
        Bad{"edge", R"({"along": "Z"})", "out_of_range", "along"},
        Bad{"edge", R"({"a": [1, 2, 3]})", "wrong_type", "a"},
        Bad{"circle", R"({"points_mm": [[0, 0], [1, 1]]})", "too_few", "points_mm"},
        Bad{"circle", R"({"points_mm": [[0, 0], [1, 1], [2, 2]]})", "degenerate", "points_mm"},
        Bad{"circle", R"({"tip_diameter_mm": -1})", "out_of_range", "tip_diameter_mm"},
        Bad{"circle", R"({"side": "outside", "tip_diameter_mm": 50})", "degenerate", "tip_diameter_mm"},
        Bad{"setter", R"({"reference_trigger_mm": []})", "too_few", "reference_trigger_mm"},
        Bad{"setter", R"({"tools": [{"number": 1, "trigger_mm": []}]})", "too_few", "tools[0].trigger_mm"},
        Bad{"setter", R"({"tools": [{"trigger_mm": [1]}]})", "missing", "tools[0].number"},
        Bad{"setter", R"({"tools": [{"number": 1.5, "trigger_mm": [1]}]})", "out_of_range", "tools[0].number"},
        Bad{"tram", R"({"sweep": [{"angle_deg": 0, "reading_mm": 1}]})", "too_few", "sweep"},
        Bad{"tram", R"({"stepover_mm": 25})", "degenerate", "stepover_mm"},
        Bad{"tram", R"({"radius_mm": 0})", "out_of_range", "radius_mm"},
        Bad{"tram",
            R"({"sweep": [{"angle_deg": 5, "reading_mm": 1}, {"angle_deg": 5, "reading_mm": 1}, {"angle_deg": 365, "reading_mm": 1}]})",
            "degenerate", "sweep"},
        Bad{"first-cut", R"({"features": []})", "too_few", "features"},
        Bad{"first-cut", R"({"features": [{"kind": "inside", "axis": "Z", "nominal_mm": 1, "measured_mm": 1}]})",
            "out_of_range", "features[0].axis"},
        Bad{"first-cut", R"({"features": [{"kind": "hole", "axis": "X", "nominal_mm": 1, "measured_mm": 1}]})",
            "out_of_range", "features[0].kind"},
        Bad{"first-cut", R"({"features": [{"kind": "inside", "axis": "X", "nominal_mm": 0, "measured_mm": 1}]})",
            "out_of_range", "features[0].nominal_mm"},
        Bad{"first-cut", R"({"lost_motion": {"x": {"value_mm": 0.1}}})", "missing", "lost_motion.x.u_mm"},
        Bad{"first-cut", R"({"lost_motion": {"x": {"value_mm": 0.1, "u_mm": 0}}})", "out_of_range",
            "lost_motion.x.u_mm"}));

TEST(Calc, WhatIsNotJsonOrNotFiniteIsSaid) {
  const auto& scale = calculation("scale");
  EXPECT_EQ(calculate(scale, "").error().code, "not_json");
  EXPECT_EQ(calculate(scale, "{\"axis\": \"X\"").error().code, "not_json");
  EXPECT_EQ(calculate(scale, "{\"current_steps_per_mm\": NaN}").error().code, "not_json");
  EXPECT_EQ(calculate(scale, "{\"current_steps_per_mm\": 1e999}").error().code, "not_finite");
  EXPECT_EQ(calculate(scale, "[1, 2]").error().code, "wrong_type");
  EXPECT_EQ(calculate(scale, "{\"axis\": \"\xff\"}").error().code, "not_json");
  EXPECT_EQ(calculate(scale, std::string(200000, '[')).error().code, "not_json");
}

TEST(Calc, AnswersStayFiniteFromTheSmallestToTheLargestSizes) {
  for (const auto& c : calculations())
    for (const double factor : {1e-9, 1e-300, 5e-324, 1e9, 1e300}) {
      json in = json::parse(c.example);
      const std::function<void(json&)> scale = [&](json& value) {
        if (value.is_number())
          value = value.get<double>() * factor;
        else if (value.is_structured())
          for (auto& item : value) scale(item);
      };
      scale(in);
      const auto out = calculate(c, in.dump());
      const std::function<void(const json&)> finite = [&](const json& value) {
        if (value.is_number_float()) {
          EXPECT_TRUE(std::isfinite(value.get<double>())) << c.name << " " << factor;
        }
        if (value.is_structured())
          for (const auto& item : value) finite(item);
      };
      if (out)
        finite(*out);
      else {
        EXPECT_FALSE(out.error().message.empty()) << c.name;
      }
    }
}

TEST(BookCheck, TellsSoundFromDamaged) {
  std::ostringstream out;
  const std::string book = slurp(std::string(YPSI_DEMO_DATA) + "/oriel.ypsi");
  EXPECT_EQ(check_book(book, out), 0) << out.str();
  EXPECT_EQ(check_book(book.substr(0, 900), out), 2);
  json odd = json::parse(book);
  odd["machine"]["axes"]["X"]["steps_per_mm"] = 160;
  odd["version"] = 2;
  out.str({});
  EXPECT_EQ(check_book(odd.dump(), out), 1);
  EXPECT_NE(out.str().find("drive's parts"), std::string::npos);
  EXPECT_NE(out.str().find("later Ypsilograph"), std::string::npos);
}

TEST(Ypsilo, ExitCodesAreTheContracts) {
  std::string out;
  EXPECT_EQ(run("--version", out), 0);
  EXPECT_EQ(run("help scale", out), 0);
  EXPECT_NE(out.find("ypsilo calc scale"), std::string::npos);
  EXPECT_EQ(run("calc drive < /dev/null", out), 2);
  EXPECT_EQ(json::parse(out)["error"]["code"], "not_json");
  EXPECT_EQ(run("calc nonsense < /dev/null", out), 2);
  EXPECT_TRUE(json::parse(out)["error"].contains("message"));
  EXPECT_EQ(run("calc drive --in /nowhere", out), 2);
  EXPECT_EQ(run("--unknown", out), 2);
  EXPECT_EQ(run("book check " + std::string(YPSI_DEMO_DATA) + "/oriel.ypsi", out), 0);
  EXPECT_EQ(run("book check " + std::string(YPSI_DEMO_DATA) + "/dial-blank.ngc", out), 2);
  const std::string example = calculation("drive").example;
  EXPECT_EQ(run("calc drive <<'END'\n" + example + "\nEND", out), 0);
  EXPECT_DOUBLE_EQ(json::parse(out)["steps_per_unit"].get<double>(), 80);
}

TEST(Ypsilo, CheckPrintsTheSameFindingsAsTextAndAsJson) {
  const std::string program = std::string(YPSI_DEMO_DATA) + "/dial-blank.ngc";
  json book = json::parse(slurp(std::string(YPSI_DEMO_DATA) + "/oriel.ypsi"));
  book["job"]["stock_size_mm"] = {320, 320, 18};
  book["job"]["work_zero"] = {{"x_mm", 180}, {"y_mm", 120}, {"z_mm", -88}};
  book["job"]["clamps"] = json::array();
  for (auto& tool : book["tools"]) {
    tool["diameter_mm"] = 3;
    tool["length_out_mm"] = 25;
  }
  const std::string folder = testing::TempDir(), good = folder + "/ypsi-check.ypsi",
                    bad = folder + "/ypsi-check-bad.ypsi";
  std::ofstream(good) << book.dump();
  std::string out;
  EXPECT_EQ(run("check " + program + " --book " + good + " --json", out), 0) << out;
  const json clean = json::parse(out);
  EXPECT_EQ(clean["stops"], 0);
  EXPECT_EQ(clean["warns"], 0);
  book["job"]["clamps"] = json::array(
      {{{"name", "vice"}, {"x_mm", 340}, {"y_mm", 280}, {"width_mm", 50}, {"depth_mm", 50}, {"height_mm", 40}}});
  std::ofstream(bad) << book.dump();
  EXPECT_EQ(run("check " + program + " --book " + bad + " --json", out), 1);
  const json found = json::parse(out);
  ASSERT_EQ(found["findings"][0]["code"], "clamp");
  EXPECT_EQ(found["findings"][0]["weight"], "stops");
  EXPECT_GT(found["findings"][0]["line"].get<int>(), 0);
  EXPECT_EQ(found["findings"][0]["work_mm"].size(), 3u);
  EXPECT_EQ(run("check " + program + " --book " + bad, out), 1);
  for (const auto& f : found["findings"])
    EXPECT_NE(out.find(f["message"].get<std::string>()), std::string::npos) << f["message"];
  EXPECT_EQ(run("check " + good + " --book " + good, out), 2) << "no program";
  EXPECT_EQ(run("check " + program + " --book " + program + " --json", out), 2) << "no book";
  EXPECT_TRUE(json::parse(out).contains("error"));
  EXPECT_EQ(run("check /nowhere --book " + good, out), 2);
}

TEST(Ypsilo, CouponWritesATestCutThatTheCheckHasNothingAgainst) {
  json book = json::parse(slurp(std::string(YPSI_DEMO_DATA) + "/oriel.ypsi"));
  book["job"]["stock_size_mm"] = {320, 320, 18};
  book["job"]["work_zero"] = {{"x_mm", 180}, {"y_mm", 120}, {"z_mm", -88}};
  book["job"]["clamps"] = json::array();
  for (auto& tool : book["tools"]) {
    tool["diameter_mm"] = 3;
    tool["length_out_mm"] = 25;
  }
  const std::string folder = testing::TempDir(), path = folder + "/ypsi-coupon.ypsi", to = folder + "/ypsi-coupon.ngc";
  std::ofstream(path) << book.dump();
  std::string out;
  ASSERT_EQ(run("coupon frame --book " + path + " -o " + to, out), 0) << out;
  const json told = json::parse(out);
  EXPECT_EQ(told["features"].size(), 13u);
  EXPECT_EQ(told["features"][0]["kind"], "inside");
  EXPECT_EQ(run("check " + to + " --book " + path, out), 0) << out;
  const auto wood = slurp(to);
  ASSERT_EQ(run("coupon frame --material aluminium --book " + path + " -o " + to, out), 0) << out;
  EXPECT_GT(slurp(to).size(), wood.size()) << "more passes, each less deep";
  EXPECT_EQ(run("coupon frame --material cheese --book " + path + " -o " + to, out), 2);
  EXPECT_EQ(json::parse(out)["error"]["code"], "unknown_material");
  EXPECT_EQ(run("coupon nothing --book " + path + " -o " + to, out), 2);
  EXPECT_EQ(json::parse(out)["error"]["code"], "unknown_kind");
  EXPECT_EQ(run("coupon frame --book " + path + " --tool 99 -o " + to, out), 2);
  EXPECT_EQ(run("coupon depths --book " + path + " -o /nowhere/x.ngc", out), 2);
  EXPECT_EQ(json::parse(out)["error"]["code"], "not_written");
  book["job"]["stock_size_mm"] = {40, 40, 18};
  std::ofstream(path) << book.dump();
  EXPECT_EQ(run("coupon frame --book " + path + " -o " + to, out), 2);
  EXPECT_EQ(json::parse(out)["error"]["code"], "no_room");
}

TEST(Ypsilo, RehearsesTheWholeOrderOfWork) {
  const std::string demo = std::string(YPSI_DEMO_DATA) + "/oriel";
  std::string out;
  ASSERT_EQ(run("rehearse --scenario " + demo + ".scenario.json --book " + demo + ".ypsi --json", out), 0) << out;
  const json told = json::parse(out);
  // As the scenario has it.
  const auto near = [&](const json& value, double truth, double U) {
    EXPECT_NEAR(value.get<double>(), truth, U) << value;
  };
  near(told["axes"]["X"]["steps_per_mm"], 80.37, 1.5 * told["axes"]["X"]["U"].get<double>());
  near(told["axes"]["Y"]["lost_motion_mm"], 0.11, 0.006);
  near(told["skew_mrad"], 0.8, 1.5 * told["U_skew_mrad"].get<double>());
  near(told["plate"]["thickness_mm"], 12.07, 0.02);
  const auto true_of = [&](const char* figure) {
    for (const json& f : told["truth"])
      if (f["figure"] == figure) return f["true"].get<double>();
    return 0.0;
  };
  EXPECT_EQ(told["truth"].size(), 11u) << "steps and lost motion of three axes, lean, plate, two tools, cutter";
  EXPECT_NEAR(true_of("steps of X"), 80.37, 1e-9);
  EXPECT_NEAR(true_of("lost motion of Y"), 0.11, 1e-9);
  EXPECT_NEAR(true_of("lean"), 0.8, 1e-9);
  EXPECT_FALSE(told["axes"]["Z"]["direction_reversed"].get<bool>());
  EXPECT_LT(told["axes"]["X"]["soft_max_mm"].get<double>(), 817);
  EXPECT_EQ(told["tools"].size(), 3u);
  EXPECT_TRUE(told["first_cut"]["estimates"].contains("tool_diameter_mm"));
  EXPECT_LE(told["first_cut"]["largest_deviation_after_mm"].get<double>(), 0.1);
  EXPECT_EQ(told["sheets"].front()["name"], "Build");
  EXPECT_TRUE(told["homing"]["X"]["s_mm"].is_number());
  // Only what the part needs, from what the book knows and from nothing.
  for (const std::string& book : {" --book " + demo + ".ypsi", std::string()}) {
    ASSERT_EQ(run("rehearse --by-part --scenario " + demo + ".scenario.json --json" + book, out), 0) << out;
    const json part = json::parse(out);
    EXPECT_TRUE(part["promised"]["good_enough"].get<bool>()) << part["promised"];
    EXPECT_LE(part["part"]["worst_size_mm"].get<double>(), part["promised"]["size_mm"].get<double>()) << book;
    EXPECT_LE(part["part"]["worst_size_mm"].get<double>(), part["promised"]["tolerance_mm"].get<double>()) << book;
    EXPECT_LE(part["part"]["worst_square_mm"].get<double>(), part["promised"]["tolerance_mm"].get<double>()) << book;
    EXPECT_LT(2 * part["effort"]["readings"].get<int>(), told["effort"]["readings"].get<int>()) << book;
    EXPECT_TRUE(part["homing"]["X"]["s_mm"].is_null()) << "homing repeat bears on no size";
  }

  json scenario = json::parse(slurp(demo + ".scenario.json"));
  scenario["axes"]["Y"]["switch"]["wired"] = "never";
  const std::string dead = testing::TempDir() + "/ypsi-dead.scenario.json";
  std::ofstream(dead) << scenario.dump();
  EXPECT_EQ(run("rehearse --scenario " + dead + " --json", out), 1);
  EXPECT_EQ(json::parse(out)["sheets"].back()["name"], "Inputs");
  EXPECT_TRUE(json::parse(out)["axes"]["X"]["steps_per_mm"].is_null());
  EXPECT_EQ(run("rehearse --scenario " + dead, out), 1);
  EXPECT_NE(out.find("the switch of Y never changed"), std::string::npos) << out;
  EXPECT_EQ(run("rehearse --scenario /nowhere", out), 2);
  EXPECT_EQ(run("rehearse --scenario " + demo + ".ypsi", out), 2) << "a book is no scenario";
  EXPECT_EQ(run("rehearse --scenario " + demo + ".scenario.json --book " + dead, out), 2);
  EXPECT_TRUE(json::parse(out).contains("error"));
}

TEST(Ypsilo, SaysWhatADescribedControllersLineDoes) {
  std::string out;
  const std::string described = YPSI_CONTROLLERS;
  EXPECT_EQ(run("controller check " + described + "/asked.controller.json --json", out), 0);
  const json can = json::parse(out);
  EXPECT_EQ(can["name"], "Asked mill");
  EXPECT_TRUE(can["tells_place"].get<bool>());
  EXPECT_TRUE(can["probes"].get<bool>());
  EXPECT_FALSE(can["keeps_place"].get<bool>());
  EXPECT_EQ(run("controller check " + described + "/bare.controller.json", out), 0);
  EXPECT_NE(out.find("no stop over its line"), std::string::npos) << out;
  json broken = json::parse(slurp(described + "/asked.controller.json"));
  broken["block"]["refused"] = "(";
  const std::string file = testing::TempDir() + "/ypsi-broken.controller.json";
  std::ofstream(file) << broken.dump();
  EXPECT_EQ(run("controller check " + file, out), 2);
  EXPECT_EQ(json::parse(out)["error"]["where"], "block.refused");
  EXPECT_EQ(run("controller schema", out), 0);
  EXPECT_TRUE(json::parse(out)["properties"].contains("takes_not"));
}

// A full disk is an error, not a success with half of the output.
TEST(Program, WhatCannotBeWrittenIsAnErrorExit) {
  for (const char* arguments : {"book schema", "controller schema", "help", "help scale", "--version"}) {
    const int status =
        std::system((std::string(YPSI_BIN "/ypsilo ") + arguments + " > /dev/full 2> /dev/null").c_str());
    EXPECT_EQ(WEXITSTATUS(status), 2) << arguments;
  }
}

}  // namespace
}  // namespace ypsi::cli
