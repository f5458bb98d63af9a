// What a cut says about the machine in a book, which test cut tells most, and what a certificate takes from the record.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <sstream>

#include "core/book/book_json.h"
#include "core/book/worksheets/cut.h"
#include "core/calibration/first_cut.h"
#include "core/tasks/certificate.h"
#include "core/tasks/coupon_choice.h"
#include "core/tasks/cut_reading.h"
#include "core/tasks/known_scale.h"

namespace ypsi {
namespace {

Entry entry(const std::string& time, const std::string& sheet, const std::string& subject, nlohmann::json result) {
  Entry e;
  e.time = time;
  e.sheet = sheet;
  e.subject = subject;
  e.instrument = "caliper";
  e.result = RecordJson(std::move(result));
  return e;
}

Book workshop_book() {
  Book book;
  Instrument caliper;
  caliper.name = "caliper";
  caliper.resolution_mm = 0.01;
  caliper.s_mm = 0.01;
  book.instruments = {caliper};
  Tool tool;
  tool.number = 1;
  tool.diameter = 6;
  book.tools = {tool};
  book.machine.axis(Axis::x).steps_per_mm = book.machine.axis(Axis::y).steps_per_mm = 80;
  book.job.stock_size = {260, 300, 18};
  book.job.part_width = 200;
  book.job.part_height = 100;
  book.worksheets[cut_worksheet].instrument = "caliper";
  book.worksheets[cut_worksheet].tool = 1;
  book.worksheets[cut_worksheet].tool_diameter_mm = 6;
  return book;
}

CutSize size(FeatureKind kind, Axis axis, double nominal, double measured) {
  CutSize s;
  s.kind = kind;
  s.axis = axis;
  s.nominal_mm = nominal;
  s.measured_mm = measured;
  return s;
}

const CutCause* cause(const CutReading& reading, CutCauseKind kind, std::optional<Axis> axis = {}) {
  for (const CutCause& c : reading.causes)
    if (c.kind == kind && c.axis == axis) return &c;
  return nullptr;
}

TEST(CutReadings, RankCausesByWhatTheyDoToTheUsualPart) {
  Book book = workshop_book();
  // X is 1 % too long, the cutter 0.3 mm too thin, by the equations of the handbook: e(n - D) + dD and e(n + D) - dD.
  const double e = 0.01, dD = -0.3;
  for (const double n : {20.0, 120.0}) {
    book.worksheets[cut_worksheet].sizes.push_back(size(FeatureKind::inside, Axis::x, n, n + e * (n - 6) + dD));
    book.worksheets[cut_worksheet].sizes.push_back(size(FeatureKind::outside, Axis::x, n, n + e * (n + 6) - dD));
  }
  const auto reading = read_cut(book);
  ASSERT_TRUE(reading) << reading.error().message;
  ASSERT_GE(reading->causes.size(), 3u);
  EXPECT_EQ(reading->causes[0].kind, CutCauseKind::steps);
  EXPECT_NEAR(reading->causes[0].value, e, 1e-9);
  EXPECT_NEAR(reading->causes[0].effect, 2.0, 1e-6) << "1 % of 200 mm";
  EXPECT_EQ(reading->causes[1].kind, CutCauseKind::cutter);
  EXPECT_NEAR(reading->causes[1].value, dD, 1e-9);
  EXPECT_FALSE(reading->causes[2].significant) << "no lost motion in it";
  EXPECT_NEAR(*reading->deviations[0], e * 14 + dD, 1e-9);
  EXPECT_NEAR(corrected_steps(80, e), 80 / 1.01, 1e-12);
}

TEST(CutReadings, OneSizeTellsNothingApart) {
  Book book = workshop_book();
  book.worksheets[cut_worksheet].sizes = {size(FeatureKind::inside, Axis::x, 50, 49)};
  const auto reading = read_cut(book);
  ASSERT_TRUE(reading);
  EXPECT_TRUE(reading->causes.empty());
  ASSERT_TRUE(reading->sizes);
  EXPECT_EQ(reading->sizes->undetermined.size(), 3u);
  EXPECT_FALSE(reading->sizes->missing.empty());
  book.worksheets[cut_worksheet].sizes[0].measured_mm.reset();
  EXPECT_EQ(read_cut(book).error().code, "too_few");
  book.worksheets[cut_worksheet].instrument = "lost ruler";
  EXPECT_EQ(read_cut(book).error().code, "no_instrument");
}

TEST(CutReadings, TakeLostMotionFromTheRecordButNotFromTheirOwnCut) {
  Book book = workshop_book();
  book.worksheets[cut_worksheet].sizes = {size(FeatureKind::inside, Axis::x, 50, 49.9)};
  EXPECT_FALSE(known_lost_motion(book, Axis::x));
  book.history.push_back(
      entry("2026-10-01T10:00:00Z", "lost_motion", "X", {{"lost_motion_mm", 0.1}, {"U_lost_motion_mm", 0.02}}));
  const auto known = known_lost_motion(book, Axis::x);
  ASSERT_TRUE(known);
  EXPECT_NEAR(known->value, 0.1, 1e-12);
  EXPECT_NEAR(known->u, 0.01, 1e-12) << "half of U";
  EXPECT_FALSE(known_lost_motion(book, Axis::y));
  book.history.back().readings = cut_readings(book.worksheets[cut_worksheet]);
  EXPECT_FALSE(known_lost_motion(book, Axis::x)) << "the cut is no second witness to itself";
  // A change of the drive since makes it out of date.
  book.history.back().readings = RecordJson::from_text("[]");
  Entry changed = entry("2026-10-02T10:00:00Z", "steps_per_unit", "X", {});
  changed.as_found = {{"axis.x.steps_per_mm", 80.0}};
  changed.as_left = {{"axis.x.steps_per_mm", 81.0}};
  book.history.push_back(changed);
  EXPECT_FALSE(known_lost_motion(book, Axis::x));
}

TEST(CutReadings, TellTheLeanFromTheDiagonals) {
  Book book = workshop_book();
  const double w = 120, h = 90, lean = 0.002;  // +Y towards +X
  const auto diagonal = [&](double x0, double x1) {
    // Where the holes are in truth: x moved by y sin lean, y shortened by cos lean; over their outer edges.
    const double dx = (x1 - x0) + h * std::sin(lean), dy = h * std::cos(lean);
    CutSize s = size(FeatureKind::diagonal, Axis::x, std::hypot(w, h) + 6, std::hypot(dx, dy) + 6);
    s.at_mm = {x0, 0, 0};
    s.other_mm = {x1, h, 0};
    return s;
  };
  book.worksheets[cut_worksheet].sizes = {diagonal(0, w), diagonal(w, 0)};
  const auto reading = read_cut(book);
  ASSERT_TRUE(reading) << reading.error().message;
  const CutCause* found = cause(*reading, CutCauseKind::lean);
  ASSERT_NE(found, nullptr);
  EXPECT_NEAR(found->value, lean, 1e-6);
  EXPECT_TRUE(found->significant);
  EXPECT_NEAR(found->effect, 0.2, 1e-3) << "on a part 100 mm high";
  book.worksheets[cut_worksheet].sizes.pop_back();
  EXPECT_EQ(read_cut(book).error().code, "too_few") << "one diagonal tells no lean";
}

TEST(CutReadings, AreAppliedOnceAndKeptWithTheirReason) {
  Book book = workshop_book();
  book.worksheets[cut_worksheet].sizes = {size(FeatureKind::inside, Axis::x, 20, 19.7),
                                          size(FeatureKind::outside, Axis::x, 20, 20.3),
                                          size(FeatureKind::spacing, Axis::x, 90, 90)};
  const auto reading = read_cut(book).value();
  const CutCause* cutter = cause(reading, CutCauseKind::cutter);
  ASSERT_NE(cutter, nullptr);
  EXPECT_FALSE(already_applied(book, *cutter));
  Entry e = entry("2026-11-26T10:00:00Z", "measure_cut", "T1", {});
  e.readings = cut_readings(book.worksheets[cut_worksheet]);
  correct_cutter(book, *cutter, e, reading);
  EXPECT_NEAR(book.tools[0].diameter, 5.7, 1e-6);
  EXPECT_EQ(book.tools[0].diameter_reason, "first cut of 2026-11-26");
  EXPECT_NEAR(book.history.back().as_found.value("tool.1.diameter_mm", 0.0), 6, 1e-12);
  EXPECT_NEAR(book.history.back().result.value("tool_diameter_mm", 0.0), 5.7, 1e-6);
  EXPECT_TRUE(already_applied(book, *cutter));
  book.worksheets[cut_worksheet].sizes[0].measured_mm = 19.71;
  EXPECT_FALSE(already_applied(book, *cutter)) << "another cut, another finding";
  book.worksheets[cut_worksheet].tool = 7;
  const std::size_t lines = book.history.size();
  correct_cutter(book, *cutter, e, reading);
  EXPECT_EQ(book.history.size(), lines) << "a tool that the book does not have";
}

TEST(KnownScales, ComeFromTheNewestFindingThatHolds) {
  Book book = workshop_book();
  EXPECT_FALSE(relative_scale_U(book, Axis::z)) << "never measured";
  book.history.push_back(entry("2026-10-01T10:00:00Z", "steps_per_unit", "Z", {{"scale", 0.5}, {"U_scale", 0.001}}));
  EXPECT_NEAR(*relative_scale_U(book, Axis::z), 0.002, 1e-15);
  EXPECT_FALSE(relative_scale_U(book, Axis::x));
  // Steps that were found and left as they were are off by as much besides.
  Book left = book;
  left.machine.axis(Axis::z).steps_per_mm = 404;
  left.history.back().result = nlohmann::json{{"scale", 1.0}, {"U_scale", 0.003}, {"new_steps_per_mm", 400.0}};
  EXPECT_NEAR(*relative_scale_U(left, Axis::z), 0.013, 1e-12);
  book.history.push_back(entry("2026-10-02T10:00:00Z", "steps_per_unit", "Z", {{"scale", 1.0}, {"U_scale", 0.0003}}));
  EXPECT_NEAR(*relative_scale_U(book, Axis::z), 0.0003, 1e-15);
  Entry undo = entry("2026-10-03T10:00:00Z", "steps_per_unit", "Z", {});
  undo.withdraws = 1;
  book.history.push_back(undo);
  EXPECT_NEAR(*relative_scale_U(book, Axis::z), 0.002, 1e-15);
  book.history.push_back(entry("2026-10-04T10:00:00Z", "steps_per_unit", "Z", {{"scale", nullptr}, {"U_scale", "?"}}));
  EXPECT_FALSE(relative_scale_U(book, Axis::z)) << "the newest tells no scale";
}

TEST(CutWorksheets, GoIntoTheBooksFileAndBack) {
  Book book = workshop_book();
  const auto setting = coupon_setting(book, 0);
  ASSERT_TRUE(setting) << setting.error().message;
  for (const CouponKind kind : coupon_kinds(book.machine)) {
    const auto coupon = make_coupon(kind, *setting);
    ASSERT_TRUE(coupon) << name(kind) << " " << coupon.error().message;
    book.worksheets[cut_worksheet] = worksheet_of(*coupon, kind, *setting, "caliper");
    book.worksheets[cut_worksheet].sizes.front().measured_mm = 12.34;
    const auto back = read_book(write_book(book));
    ASSERT_TRUE(back) << back.error().message;
    EXPECT_EQ(back->book.worksheets[cut_worksheet], book.worksheets[cut_worksheet]) << name(kind);
  }
  std::string text = write_book(book);
  const auto at = text.find("\"measured_mm\": 12.34");
  ASSERT_NE(at, std::string::npos);
  text.replace(at, 20, "\"measured_mm\": -1.34");
  const auto damaged = read_book(text);
  ASSERT_FALSE(damaged);
  EXPECT_EQ(damaged.error().code, "out_of_range");
}

TEST(CouponChoices, LeaveTheLastPassWhatIsLostOnTurningRound) {
  Book book = workshop_book();
  EXPECT_DOUBLE_EQ(coupon_setting(book, 0)->rest, 0.6) << "lost motion was never measured";
  const auto lost = [&](const char* axis, double mm, double U) {
    book.history.push_back(
        entry("2026-10-01T10:00:00Z", "lost_motion", axis, {{"lost_motion_mm", mm}, {"U_lost_motion_mm", U}}));
  };
  lost("X", 0.05, 0.01);
  EXPECT_DOUBLE_EQ(coupon_setting(book, 0)->rest, 0.6) << "nor was Y's";
  lost("Y", 0.9, 0.03);
  EXPECT_DOUBLE_EQ(coupon_setting(book, 0)->rest, 1.03);
  lost("Y", 0.02, 0.01);
  EXPECT_NEAR(coupon_setting(book, 0)->rest, 0.16, 1e-12);
}

TEST(CouponChoices, AskForWhatIsStillUncertain) {
  Book book = workshop_book();
  EXPECT_EQ(choose_coupon(book).kind, CouponKind::frame);
  const auto done = [&](const char* sheet, const char* subject) {
    book.history.push_back(entry("2026-10-01T10:00:00Z", sheet, subject, {{"words", "done"}}));
  };
  done("steps_per_unit", "X");
  done("steps_per_unit", "Y");
  EXPECT_EQ(choose_coupon(book).reason, CouponReason::sizes_unknown);
  done("measure_cut", "T1");
  EXPECT_EQ(choose_coupon(book).kind, CouponKind::circle) << "lost motion was never measured";
  done("lost_motion", "X");
  done("lost_motion", "Y");
  EXPECT_EQ(choose_coupon(book).kind, CouponKind::square);
  done("squareness", "");
  EXPECT_EQ(choose_coupon(book).kind, CouponKind::depths);
  done("steps_per_unit", "Z");
  EXPECT_EQ(choose_coupon(book).kind, CouponKind::lines);
  Entry changed = entry("2026-10-02T10:00:00Z", "steps_per_unit", "X", {});
  changed.as_found = {{"axis.x.steps_per_mm", 80.0}};
  changed.as_left = {{"axis.x.steps_per_mm", 81.0}};
  book.history.push_back(changed);
  EXPECT_EQ(choose_coupon(book).reason, CouponReason::sizes_old);
  book.job.stock_size = {0, 0, 0};
  EXPECT_EQ(coupon_setting(book, 0).error().code, "no_stock");
  EXPECT_EQ(coupon_setting(book, 9).error().code, "no_tool");
}

const CertifiedQuantity* quantity(const Certificate& c, const char* kind, const std::string& subject = {}) {
  const auto found = std::find_if(c.quantities.begin(), c.quantities.end(), [&](const CertifiedQuantity& q) {
    return q.line.code == kind && q.line.subject == subject;
  });
  return found == c.quantities.end() ? nullptr : &*found;
}

TEST(Certificates, SayAsFoundAndAsLeftFromTheRecord) {
  Book book = workshop_book();
  Entry applied = entry("2026-10-01T10:00:00Z", "steps_per_unit", "X",
                        {{"new_steps_per_mm", 80.37}, {"U_new_steps_per_mm", 0.05}, {"k", 2.2}});
  applied.as_found = {{"axis.x.steps_per_mm", 80.0}};
  applied.as_left = {{"axis.x.steps_per_mm", 80.37}};
  Entry left =
      entry("2026-10-02T10:00:00Z", "steps_per_unit", "Y", {{"new_steps_per_mm", 79.8}, {"U_new_steps_per_mm", 0.1}});
  left.as_found = left.as_left = {{"axis.y.steps_per_mm", 80.0}};
  book.history = {
      applied, left,
      entry("2026-10-03T10:00:00Z", "lost_motion", "Y", {{"lost_motion_mm", 0.24}, {"U_lost_motion_mm", 0.02}}),
      entry("2026-10-05T10:00:00Z", "lost_motion", "Y", {{"lost_motion_mm", 0.11}, {"U_lost_motion_mm", 0.01}})};
  const Certificate c = certificate_of(book);
  const auto* x = quantity(c, "certified_steps", "X");
  ASSERT_NE(x, nullptr);
  EXPECT_NEAR(*x->as_found, 80, 1e-12);
  EXPECT_NEAR(*x->as_left, 80.37, 1e-12);
  EXPECT_NEAR(*x->U, 0.05, 1e-12);
  EXPECT_NEAR(*x->k, 2.2, 1e-12);
  EXPECT_FALSE(x->not_applied);
  const auto* y = quantity(c, "certified_steps", "Y");
  EXPECT_NEAR(*y->as_left, 80, 1e-12);
  ASSERT_TRUE(y->not_applied) << "what was measured and not taken over is said";
  EXPECT_NEAR(*y->not_applied, 79.8, 1e-12);
  EXPECT_FALSE(y->k);
  const auto* lost = quantity(c, "certified_lost_motion", "Y");
  ASSERT_EQ(lost->history.size(), 2u);
  EXPECT_NEAR(*lost->as_found, 0.24, 1e-12);
  EXPECT_NEAR(*lost->as_left, 0.11, 1e-12);
  EXPECT_EQ(lost->standing, Standing::current);
  EXPECT_TRUE(quantity(c, "certified_lean")->time.empty()) << "never measured is said, not left out";
  EXPECT_EQ(c.first_time, "2026-10-01T10:00:00Z");
  EXPECT_EQ(c.last_time, "2026-10-05T10:00:00Z");

  // Undone, the last finding is as if it had not been.
  Entry undo = entry("2026-10-06T10:00:00Z", "lost_motion", "Y", {});
  undo.withdraws = 3;
  book.history.push_back(undo);
  EXPECT_NEAR(*quantity(certificate_of(book), "certified_lost_motion", "Y")->as_left, 0.24, 1e-12);
}

TEST(Certificates, OfTheDemoHoldWhatItsBookHolds) {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.ypsi");
  std::stringstream text;
  text << file.rdbuf();
  const Book book = read_book(text.str())->book;
  const Certificate c = certificate_of(book);
  EXPECT_EQ(c.workshop, "Quillfeather Dials");
  EXPECT_NEAR(c.skew_mrad, 0.62, 1e-12);
  EXPECT_NEAR(*c.travel[0], 804, 1e-9);
  const auto* square = quantity(c, "certified_lean");
  ASSERT_NE(square, nullptr);
  EXPECT_EQ(square->history.size(), 3u);
}

TEST(Certificates, WriteEveryReadingAsARow) {
  Book book = workshop_book();
  book.history = {entry("2026-10-01T10:00:00Z", "steps_per_unit", "X", {}),
                  entry("2026-10-02T10:00:00Z", "homing", "", {})};
  book.history[0].instrument = "tape, 3 m \"steel\"";
  book.history[0].readings = RecordJson::from_text(
      R"([{"commanded_mm": 700, "measured_mm": 703.5}, {"commanded_mm": 300, "measured_mm": 301}])");
  book.history[1].readings = RecordJson::from_text("[0.001, 0.004]");
  const std::string csv = readings_csv(book);
  EXPECT_EQ(csv,
            "time,sheet,subject,instrument,reading,what,value\n"
            "2026-10-01T10:00:00Z,steps_per_unit,X,\"tape, 3 m \"\"steel\"\"\",1,commanded_mm,700\n"
            "2026-10-01T10:00:00Z,steps_per_unit,X,\"tape, 3 m \"\"steel\"\"\",1,measured_mm,703.5\n"
            "2026-10-01T10:00:00Z,steps_per_unit,X,\"tape, 3 m \"\"steel\"\"\",2,commanded_mm,300\n"
            "2026-10-01T10:00:00Z,steps_per_unit,X,\"tape, 3 m \"\"steel\"\"\",2,measured_mm,301\n"
            "2026-10-02T10:00:00Z,homing,,caliper,1,value,0.001\n"
            "2026-10-02T10:00:00Z,homing,,caliper,2,value,0.004\n");
}

}  // namespace
}  // namespace ypsi
