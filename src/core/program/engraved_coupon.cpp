#include "core/program/engraved_coupon.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/program/head_lines.h"
#include "core/program/tool_shape.h"

namespace ypsi {
namespace {

constexpr double cross_edge_mm = 7, cross_arm_mm = 4, plate_run_up_mm = 2, beside_cross_mm = 4, beside_square_mm = 2.5,
                 square_grid_mm = 5, least_engraved_square_mm = 10;
constexpr double width_at_part = 0.7;  // of an arm, where nothing crosses it

class PlateLayout {
 public:
  PlateLayout(const EngravedCouponSetting& s, double width) : s_(s), width_(width) {}

  Result<Coupon> make(const Book& book) {
    const double taken = 2 * (cross_edge_mm + cross_arm_mm + beside_cross_mm);
    side_ = square_grid_mm * std::floor((std::min(s_.stock_width, s_.stock_height) - taken) / square_grid_mm);
    if (!(side_ >= least_engraved_square_mm))
      return fail("no_room", fmt::format("This engraving needs a plate of {0:.0f} x {0:.0f} mm; take a larger one.",
                                         taken + least_engraved_square_mm));
    const PlanPoint middle(s_.stock_width / 2, s_.stock_height / 2);
    const double right = s_.stock_width - cross_edge_mm, back = s_.stock_height - cross_edge_mm;
    const std::vector<PlanPoint> crosses{
        {cross_edge_mm, cross_edge_mm}, {right, cross_edge_mm}, {right, back}, {cross_edge_mm, back}, middle};
    const double middle_arm = side_ / 2 - beside_square_mm;
    for (const PlanPoint& c : crosses) cross(c, c == middle ? middle_arm : cross_arm_mm);
    square(middle);
    add(FeatureKind::spacing, Axis::x, right - cross_edge_mm, crosses[0], crosses[1]);
    add(FeatureKind::spacing, Axis::y, back - cross_edge_mm, crosses[1], crosses[2]);
    add(FeatureKind::spacing, Axis::x, right - cross_edge_mm, crosses[3], crosses[2]);
    add(FeatureKind::spacing, Axis::y, back - cross_edge_mm, crosses[0], crosses[3]);
    add(FeatureKind::between, Axis::x, side_, middle);
    add(FeatureKind::between, Axis::y, side_, middle);
    add(FeatureKind::diagonal, Axis::x, std::abs(crosses[2] - crosses[0]), crosses[0], crosses[2]);
    add(FeatureKind::diagonal, Axis::x, std::abs(crosses[3] - crosses[1]), crosses[1], crosses[3]);
    for (const PlanPoint& c : crosses)  // across the arm that lies along X
      add(FeatureKind::width, Axis::y, width_,
          c + PlanPoint(width_at_part * (c == middle ? middle_arm : cross_arm_mm), 0));
    add(FeatureKind::depth, Axis::z, s_.depth, middle - PlanPoint(width_at_part * middle_arm, 0));
    HeadLinesSetting setting;
    setting.title =
        fmt::format("First engraving on {:g} x {:g} mm, {:g} deep", s_.stock_width, s_.stock_height, s_.depth);
    setting.depth = s_.sent_to;
    setting.feed = s_.feed;
    setting.rpm = s_.rpm;
    setting.tool = s_.tool;
    lines_.front().before = s_.before;
    auto program = head_lines_program(book, lines_, setting);
    if (!program) return tl::make_unexpected(program.error());
    return Coupon{std::move(program->text), std::move(features_), std::move(program->program)};
  }

 private:
  void line(PlanPoint from, PlanPoint to, PlanPoint run_up) {
    HeadLine l{.head = s_.head};
    l.x0 = s_.corner_x + from.real();
    l.y0 = s_.corner_y + from.imag();
    l.x1 = s_.corner_x + to.real();
    l.y1 = s_.corner_y + to.imag();
    l.run_up_x = run_up.real();
    l.run_up_y = run_up.imag();
    lines_.push_back(std::move(l));
  }
  /// Come to from below on both axes.
  void cross(PlanPoint c, double arm) {
    const PlanPoint from(-plate_run_up_mm, -plate_run_up_mm);
    line(c - PlanPoint(arm, 0), c + PlanPoint(arm, 0), from);
    line(c - PlanPoint(0, arm), c + PlanPoint(0, arm), from);
  }
  /// Counter-clockwise, each side come to from inside, so that both axes lose their slack.
  void square(PlanPoint middle) {
    const double half = side_ / 2;
    const PlanPoint corners[] = {middle + PlanPoint(-half, -half), middle + PlanPoint(half, -half),
                                 middle + PlanPoint(half, half), middle + PlanPoint(-half, half)};
    for (std::size_t i = 0; i < 4; ++i)
      line(corners[i], corners[(i + 1) % 4], i == 0 ? PlanPoint(0, plate_run_up_mm) : PlanPoint());
  }
  void add(FeatureKind kind, Axis axis, double nominal, PlanPoint at, PlanPoint other = {}) {
    const auto place = [&](PlanPoint p) { return WorkPosition{p.real() + s_.corner_x, p.imag() + s_.corner_y, 0}; };
    features_.push_back(
        {std::string(1, static_cast<char>('A' + features_.size())), kind, axis, nominal, place(at), place(other)});
  }

  const EngravedCouponSetting& s_;
  double width_ = 0, side_ = 0;
  std::vector<HeadLine> lines_;
  std::vector<CouponFeature> features_;
};

}  // namespace

Result<Coupon> make_engraved_coupon(const Book& book, const EngravedCouponSetting& s) {
  for (const double v : {s.stock_width, s.stock_height, s.feed, s.depth, s.sent_to})
    if (!(v > 0) || !std::isfinite(v)) return fail("out_of_range", "Plate, depth and feed must be above zero.");
  const Tool* tool = book.tool(s.tool);
  if (!tool || is_flat(*tool))
    return fail("no_shape",
                "Widths tell the depth of a pointed tool alone: choose on Trials the tool that engraves, with its "
                "angle and tip on Tools.",
                "tool");
  return PlateLayout(s, 2 * radius_at(*tool, s.depth)).make(book);
}

}  // namespace ypsi
