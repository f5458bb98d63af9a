// A table's test cut as a program: where its lines lie, from which side each is come to, what is refused; and what its
// sizes say, against a part whose errors are laid out here by plain geometry.
#include "core/program/head_coupon.h"
#include "core/book/worksheets/cut.h"
#include "core/calibration/first_cut.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <sstream>

#include "core/tasks/coupon_choice.h"
#include "core/tasks/cut_heads.h"
#include "core/tasks/heads.h"

namespace ypsi {
namespace {

Head head(const std::string& name, HeadKind kind, int block, std::optional<HeadPlace> place) {
  Head h;
  h.name = name;
  h.kind = kind;
  h.lower = "M" + std::to_string(block);
  h.raise = "M" + std::to_string(block + 1);
  h.place = place;
  return h;
}

Book table() {
  Book b;
  b.machine.kind = "cutting_table";
  b.machine.heads = {head("wheel", HeadKind::wheel, 171, {}), head("pen", HeadKind::pen, 173, HeadPlace{75, 3, 0.1}),
                     head("creaser", HeadKind::creaser, 177, HeadPlace{150, -1, 0.1}),
                     head("knife", HeadKind::drag_knife, 175, HeadPlace{225, 1, 0.1})};
  b.machine.heads[3].trailing_mm = 0.4;
  for (const auto& [name, resolution] : {std::pair{"scale", 0.001}, {"caliper", 0.001}}) {
    Instrument i;
    i.name = name;
    i.resolution_mm = resolution;
    i.s_mm = 0.001;
    b.instruments.push_back(i);
  }
  b.job.stock_size = {1200, 800, 5};
  b.job.stock_corner = {10, 20};
  return b;
}

/// A straight line that a head has left, as the work frame has it.
struct Line {
  std::string head;
  double x0, y0, x1, y1;
  double came_x, came_y;  ///< towards which side the axis moved last before it
};

/// The program followed block by block, apart from the reader: places of the first head plus the head's own.
std::vector<Line> lines_of(const std::string& text, const Book& b) {
  std::vector<Line> all;
  std::string name;
  double x = 0, y = 0, last_x = 0, last_y = 0;
  std::istringstream in(text);
  for (std::string block; std::getline(in, block);) {
    if (block.starts_with("(head: ")) name = block.substr(7, block.size() - 8);
    double to_x = x, to_y = y;
    if (block.starts_with("G0 X") || block.starts_with("G1 X"))
      std::sscanf(block.c_str(), "G%*d X%lf Y%lf", &to_x, &to_y);
    if (to_x == x && to_y == y) continue;
    if (block.starts_with("G1")) {
      const Head* h = b.machine.head(name);
      const HeadPlace place = h && h->place ? *h->place : HeadPlace{};
      const double dx = place.x_mm, dy = place.y_mm;
      all.push_back({name, x + dx, y + dy, to_x + dx, to_y + dy, last_x, last_y});
    }
    if (to_x != x) last_x = to_x > x ? 1 : -1;
    if (to_y != y) last_y = to_y > y ? 1 : -1;
    x = to_x;
    y = to_y;
  }
  return all;
}

TEST(HeadCoupon, EveryLineLiesOnTheStockAndIsComeToAsItIsMeant) {
  const Book b = table();
  const auto cut = make_test_cut(b, CouponKind::heads, "scale");
  ASSERT_TRUE(cut) << cut.error().message;
  const auto lines = lines_of(cut->coupon.text, b);
  std::map<std::string, int> per_head;
  for (const Line& l : lines) {
    ++per_head[l.head];
    for (const double x : {l.x0, l.x1}) EXPECT_TRUE(x >= 10 && x <= 1210) << l.head << " " << x;
    for (const double y : {l.y0, l.y1}) EXPECT_TRUE(y >= 20 && y <= 820) << l.head << " " << y;
  }
  EXPECT_EQ(per_head["wheel"], 8 + 8) << "two squares, four crosses";
  EXPECT_EQ(per_head["pen"], 2);
  EXPECT_EQ(per_head["creaser"], 3) << "a cross and the fold";
  EXPECT_EQ(per_head["knife"], 4) << "a cross and two lines that face each other";
  // Sides of the squares are come to from inside, the first square's and the second's alike: both lose slack.
  std::vector<Line> sides;
  for (const Line& l : lines)
    if (l.head == "wheel" && std::hypot(l.x1 - l.x0, l.y1 - l.y0) > 300) sides.push_back(l);
  ASSERT_EQ(sides.size(), 8u);
  for (std::size_t square = 0; square < 2; ++square) {
    double area = 0, mid_x = 0, mid_y = 0;
    for (std::size_t i = 4 * square; i < 4 * square + 4; ++i) {
      area += (sides[i].x0 * sides[i].y1 - sides[i].x1 * sides[i].y0) / 2;
      mid_x += sides[i].x0 / 4;
      mid_y += sides[i].y0 / 4;
    }
    EXPECT_GT(square == 0 ? area : -area, 500 * 500) << "counter-clockwise first";
    for (std::size_t i = 4 * square; i < 4 * square + 4; ++i) {
      const Line& l = sides[i];
      if (l.x0 == l.x1) {
        EXPECT_EQ(l.came_x, l.x0 > mid_x ? 1 : -1) << square << i;
      } else {
        EXPECT_EQ(l.came_y, l.y0 > mid_y ? 1 : -1) << square << i;
      }
    }
  }
  for (const Line& l : lines)
    if (std::hypot(l.x1 - l.x0, l.y1 - l.y0) < 30 && l.head == "pen") {
      EXPECT_EQ(l.came_x, 1);
      EXPECT_EQ(l.came_y, 1);
    }
}

TEST(HeadCoupon, LongSizesAreMeasuredWithWhatSpansThem) {
  Book b = table();
  EXPECT_EQ(make_test_cut(b, CouponKind::heads, "caliper")->worksheet.instrument, "scale") << "a caliper ends at 190";
  EXPECT_EQ(make_test_cut(b, CouponKind::heads, "caliper")->worksheet.short_instrument, "caliper");
  b.instruments.erase(b.instruments.begin());
  EXPECT_EQ(make_test_cut(b, CouponKind::heads, "caliper")->worksheet.instrument, "caliper") << "nothing longer there";
  EXPECT_EQ(make_test_cut(b, CouponKind::heads, "caliper")->worksheet.short_instrument, "");
}

TEST(HeadCoupon, RefusesWhatCannotBeCut) {
  Book b = table();
  b.job.stock_size = {190, 150, 1};
  EXPECT_EQ(make_test_cut(b, CouponKind::heads, "scale").error().code, "no_room");
  b.job.stock_size = {0, 0, 0};
  EXPECT_EQ(make_test_cut(b, CouponKind::heads, "scale").error().code, "no_stock");
  b = table();
  b.machine.heads[1].place.reset();
  EXPECT_EQ(make_test_cut(b, CouponKind::heads, "scale").error().code, "no_place");
  b = table();
  b.machine.heads[0].kind = HeadKind::spindle;
  EXPECT_EQ(make_test_cut(b, CouponKind::heads, "scale").error().code, "no_heads");
  EXPECT_EQ(make_coupon(CouponKind::heads, {}).error().code, "out_of_range");
  EXPECT_EQ(coupon_kinds(b.machine).size(), 5u) << "a router's";
  EXPECT_EQ(coupon_kinds(table().machine), std::vector{CouponKind::heads});
  EXPECT_EQ(choose_coupon(table()).reason, CouponReason::heads_unknown);
  b = table();
  b.job.stock_size = {300, 200, 1};
  EXPECT_TRUE(make_test_cut(b, CouponKind::heads, "scale")) << "a sheet of paper does";
}

struct Errors {
  double scale_x = 0, scale_y = 0, lost_x = 0, lost_y = 0, left = 0;
  PlanPoint pen{}, creaser{};
  double trails_more = 0;
};

/// What each size measures on a part with those errors: places of lines by hand, one by one.
void measure(Book& b, const Errors& e) {
  for (CutSize& s : b.worksheets[cut_worksheet].sizes) {
    const bool y = s.axis == Axis::y;
    const double long_by = s.nominal_mm * (1 + (y ? e.scale_y : e.scale_x)), lost = y ? e.lost_y : e.lost_x;
    const PlanPoint off = s.head == "pen" ? e.pen : s.head == "creaser" ? e.creaser : PlanPoint();
    const bool back = s.other_mm && (*s.other_mm)[y ? 1 : 0] < (*s.at_mm)[y ? 1 : 0];
    switch (s.kind) {
      case FeatureKind::outside:  // counter-clockwise: its left is inside
        s.measured_mm = long_by - lost - 2 * e.left;
        break;
      case FeatureKind::inside:
        s.measured_mm = long_by - lost + 2 * e.left;
        break;
      case FeatureKind::spacing:
        s.measured_mm = long_by;
        break;
      case FeatureKind::diagonal:
        s.measured_mm = std::hypot(((*s.other_mm)[0] - (*s.at_mm)[0]) * (1 + e.scale_x),
                                   ((*s.other_mm)[1] - (*s.at_mm)[1]) * (1 + e.scale_y));
        break;
      case FeatureKind::beside:
        s.measured_mm = long_by + (back ? -1 : 1) * (y ? off.imag() : off.real());
        break;
      case FeatureKind::gap:
        s.measured_mm = s.nominal_mm + 2 * e.trails_more + e.lost_x;
        break;
      case FeatureKind::between:
      case FeatureKind::width:
      case FeatureKind::depth:
        FAIL() << "a table cuts through";
    }
  }
}

TEST(HeadCoupon, OneErrorAfterTheOtherIsToldAndNothingElse) {
  const Errors all[] = {{.scale_x = 0.003}, {.scale_y = -0.002},  {.lost_x = 0.3},       {.lost_y = 0.2},
                        {.left = 0.15},     {.pen = {0.4, -0.3}}, {.creaser = {0, 0.5}}, {.trails_more = -0.12}};
  for (const Errors& e : all) {
    Book b = table();
    b.worksheets[cut_worksheet] = make_test_cut(b, CouponKind::heads, "scale")->worksheet;
    measure(b, e);
    const auto said = read_cut(b);
    ASSERT_TRUE(said) << said.error().message;
    for (const CutCause& c : said->causes) {
      SCOPED_TRACE(static_cast<int>(c.kind));
      constexpr double near = 1e-6;
      switch (c.kind) {
        case CutCauseKind::steps:
          EXPECT_NEAR(c.value, c.axis == Axis::x ? e.scale_x : e.scale_y, near);
          break;
        case CutCauseKind::lost_motion:
          EXPECT_NEAR(c.value, c.axis == Axis::x ? e.lost_x : e.lost_y, near);
          break;
        case CutCauseKind::blade:
          EXPECT_NEAR(c.value, e.left, near);
          break;
        case CutCauseKind::head_place:
          EXPECT_NEAR(c.off_x, (c.head == "pen" ? e.pen : c.head == "creaser" ? e.creaser : PlanPoint()).real(), near);
          EXPECT_NEAR(c.off_y, (c.head == "pen" ? e.pen : c.head == "creaser" ? e.creaser : PlanPoint()).imag(), near);
          break;
        case CutCauseKind::trailing:
          EXPECT_NEAR(c.value, e.trails_more, near);
          break;
        default:
          break;
      }
    }
    for (std::size_t i = 0; i < b.worksheets[cut_worksheet].sizes.size(); ++i)
      EXPECT_NEAR(said->residuals[i].value_or(0), 0, 1e-6)
          << b.worksheets[cut_worksheet].sizes[i].name << ": all is explained, the fold too";
  }
}

TEST(HeadCoupon, AHeadPutRightIsPutRightOnce) {
  Book b = table();
  b.worksheets[cut_worksheet] = make_test_cut(b, CouponKind::heads, "scale")->worksheet;
  measure(b, {.pen = {0.4, -0.3}, .trails_more = 0.2});
  const auto said = read_cut(b);
  ASSERT_TRUE(said);
  for (const CutCause& c : said->causes) {
    if (!c.significant) continue;
    ASSERT_FALSE(already_applied(b, c));
    Entry e;
    e.time = "2026-11-29T10:00:00+00:00";
    e.readings = cut_readings(b.worksheets[cut_worksheet]);
    correct_head(b, c, e);
    EXPECT_TRUE(already_applied(b, c)) << "the sheet offers it no more";
  }
  EXPECT_NEAR(b.machine.heads[1].place->x_mm, 75.4, 1e-6);
  EXPECT_NEAR(b.machine.heads[1].place->y_mm, 2.7, 1e-6);
  EXPECT_NEAR(*b.machine.heads[3].trailing_mm, 0.6, 1e-6);
  ASSERT_EQ(b.history.size(), 2u);
  EXPECT_EQ(b.history[0].sheet, heads_id);
  EXPECT_EQ(b.history[0].instrument, "caliper") << "with which its cross was measured";
  EXPECT_EQ(b.history[0].subject, head_subject("pen", HeadMeasure::place));
  const auto found = finding_of<HeadEntry>(b.history[0]);
  EXPECT_NEAR(*found.x, 75.4, 1e-6);
  EXPECT_GT(*found.U, 0);
}

}  // namespace
}  // namespace ypsi
