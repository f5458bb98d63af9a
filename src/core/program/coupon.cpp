#include "core/program/coupon.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/calibration/first_cut.h"
#include "core/program/interpreter.h"

namespace ypsi {
namespace {

constexpr double small_mm = 20, least_small_mm = 10, least_gap_mm = 5, most_mm = 200, gap_mm = 10, stepover = 0.45,
                 milled_run_up_mm = 2;
constexpr double caliper_mm = 180, least_square_mm = 30, most_circle_mm = 100, line_mm = 20;
constexpr int depth_steps = 3;

struct Rect {
  double x = 0, y = 0, width = 0, height = 0;  ///< its middle and size
};

class CouponWriter {
 public:
  explicit CouponWriter(const CouponSetting& s)
      : s_(s), top_(s.zero_on_bed ? s.thickness + s.sheet : 0), r_(s.tool_diameter / 2) {}

  void begin(const char* what) {
    ProgramHead head;
    head.remarks = {fmt::format("{} for a {:g} mm cutter on {:g} x {:g} x {:g} mm", what, s_.tool_diameter,
                                s_.stock_width, s_.stock_height, s_.thickness)};
    head.zero =
        fmt::format("{}, Z on {}",
                    s_.corner_x == 0 && s_.corner_y == 0
                        ? std::string("the stock's front left corner")
                        : fmt::format("the stock's front left corner is at X{:g} Y{:g}", s_.corner_x, s_.corner_y),
                    s_.zero_on_bed ? "the bed" : "the stock's top");
    head.frame = s_.frame;
    head.lift = top_ + s_.safe;
    head.tool = s_.takes_tools ? s_.tool : 0;
    head.rpm = s_.rpm;
    head.spin_up_s = s_.spin_up_s;
    text_ += program_head(head);
  }
  void end() {
    lift();
    line("M5");
    line("M30");
  }

  /// Cleared in rows, then its wall in one go, counter-clockwise.
  void pocket(const Rect& p, double depth) {
    const double w = p.width / 2 - r_, h = p.height / 2 - r_;
    for (const double z : passes(depth)) {
      const double cw = std::max(w - s_.rest, 0.0), ch = std::max(h - s_.rest, 0.0);
      over(p.x - cw, p.y - ch);
      down(z);
      const int rows = std::max(1, static_cast<int>(std::ceil(2 * ch / (stepover * s_.tool_diameter))));
      for (int i = 0; i <= rows; ++i) {
        const double y = p.y - ch + 2 * ch * i / rows;
        cut(i % 2 == 0 ? p.x - cw : p.x + cw, y);
        cut(i % 2 == 0 ? p.x + cw : p.x - cw, y);
      }
      lift();
    }
    round(p.x, p.y, w, h, depth);
  }
  /// A groove round what stays.
  void tenon(const Rect& t, double depth) {
    for (const double z : passes(depth)) round(t.x, t.y, t.width / 2 + r_, t.height / 2 + r_, -z + top_);
  }

  /// A hole, come to from below on both axes, so that lost motion is in none of them.
  void hole(double x, double y, double depth) {
    over(x - milled_run_up_mm, y - milled_run_up_mm);
    over(x, y);
    down(top_ - depth);
    lift();
  }
  /// Cleared from its middle outwards, then its wall one and a quarter times round.
  void round_pocket(double x, double y, double diameter, double depth) {
    const double wall = diameter / 2 - r_;
    for (const double z : passes(depth)) {
      over(x, y);
      down(z);
      const double cleared = std::max(wall - s_.rest, 0.0);
      const int rings = static_cast<int>(std::ceil(cleared / (stepover * s_.tool_diameter)));
      for (int i = 1; i <= rings; ++i) circle(x, y, cleared * i / rings);
      lift();
    }
    ring(x, y, wall, depth);
  }
  /// A groove round a disc that stays.
  void disc(double x, double y, double diameter, double depth) {
    for (const double z : passes(depth)) ring(x, y, diameter / 2 + r_, top_ - z);
  }
  /// A straight line cut from (x0, y0), come to from below on both axes.
  void engrave(double x0, double y0, double x1, double y1, double depth) {
    over(x0 - milled_run_up_mm, y0 - milled_run_up_mm);
    over(x0, y0);
    down(top_ - depth);
    cut(x1, y1);
    lift();
  }

  double top() const { return top_; }
  std::string take() { return std::move(text_); }

 private:
  std::vector<double> passes(double depth) const {
    const int n = std::max(1, static_cast<int>(std::ceil(depth / (s_.pass > 0 ? s_.pass : std::max(r_, 0.5)) - 1e-9)));
    std::vector<double> all;
    for (int i = 1; i <= n; ++i) all.push_back(top_ - depth * i / n);
    return all;
  }
  /// One and a quarter times round a rectangle of half sizes w and h, so that every side is come to alike.
  void round(double x, double y, double w, double h, double depth) {
    over(x - w, y + h);
    down(top_ - depth);
    cut(x - w, y - h);
    cut(x + w, y - h);
    cut(x + w, y + h);
    cut(x - w, y + h);
    cut(x - w, y - h);
    cut(x + w, y - h);
    lift();
  }
  /// Once round counter-clockwise, from the +X side.
  void circle(double x, double y, double radius) {
    cut(x + radius, y);
    line(fmt::format("G3 {} I{:.4f} J0 F{:.0f}", place(x + radius, y), -radius, s_.feed));
  }
  void ring(double x, double y, double radius, double depth) {
    over(x + radius, y);
    down(top_ - depth);
    circle(x, y, radius);
    line(fmt::format("G3 {} I{:.4f} J0 F{:.0f}", place(x, y + radius), -radius, s_.feed));
    lift();
  }
  void line(const std::string& text) { text_ += text + "\n"; }
  void lift() { line(fmt::format("G0 Z{:.3f}", top_ + s_.safe)); }
  void over(double x, double y) { line(fmt::format("G0 {}", place(x, y))); }
  void down(double z) { line(fmt::format("G1 Z{:.4f} F{:.0f}", z, s_.plunge)); }
  void cut(double x, double y) { line(fmt::format("G1 {} F{:.0f}", place(x, y), s_.feed)); }
  /// Laid out from the stock's corner, written from work zero.
  std::string place(double x, double y) const {
    return fmt::format("X{:.4f} Y{:.4f}", s_.corner_x + x, s_.corner_y + y);
  }

  const CouponSetting& s_;
  double top_, r_;
  std::string text_;
};

tl::unexpected<Error> no_room(double width, double height) {
  return fail("no_room",
              fmt::format("This test cut needs a stock of {:.0f} x {:.0f} mm; take a larger one, or a thinner cutter.",
                          std::ceil(width), std::ceil(height)));
}

/// Lays out one kind of test cut on the stock, and names what is to be measured on it.
class Layout {
 public:
  explicit Layout(const CouponSetting& s) : s_(s), d_(s.tool_diameter), margin_(d_ + 4), writer_(s) {}

  Result<void> frame();
  Result<void> depths();
  Result<void> square();
  Result<void> circle();
  Result<void> lines();

  Result<Coupon> finish() {
    writer_.end();
    Coupon coupon;
    coupon.text = writer_.take();
    coupon.features = std::move(features_);
    auto read = read_program(coupon.text);
    if (!read) return tl::make_unexpected(read.error());
    coupon.program = std::move(*read);
    return coupon;
  }

 private:
  void add(FeatureKind feature, Axis axis, double nominal, WorkPosition at, WorkPosition other = {}) {
    for (WorkPosition* p : {&at, &other}) {
      p->x += s_.corner_x;
      p->y += s_.corner_y;
    }
    const char name = static_cast<char>('A' + static_cast<int>(features_.size()));
    features_.push_back({std::string(1, name), feature, axis, nominal, at, other});
  }
  /// Small features nearer to each other, for a stock on which the usual ones leave no room.
  void crowd() {
    small_ = least_small_mm;
    gap_ = least_gap_mm;
  }
  double deep_side() const { return 2 * d_ + 2; }  ///< of the pockets that tell the depth
  double depths_width() const { return 2 * margin_ + depth_steps * deep_side() + (depth_steps - 1) * gap_; }
  double level() const { return writer_.top() - s_.depth / 2; }
  void depth_row(double y) {
    for (int i = 0; i < depth_steps; ++i) {
      const Rect p{margin_ + deep_side() / 2 + i * (deep_side() + gap_), y, deep_side(), deep_side()};
      const double depth = s_.depth * (i + 1) / depth_steps;
      writer_.pocket(p, depth);
      add(FeatureKind::depth, Axis::z, depth, {p.x, p.y, writer_.top()});
    }
  }

  const CouponSetting& s_;
  double d_, margin_, small_ = small_mm, gap_ = gap_mm;
  CouponWriter writer_;
  std::vector<CouponFeature> features_;
};

Result<void> Layout::depths() {
  const double height = 2 * margin_ + deep_side();
  if (s_.stock_width < depths_width() || s_.stock_height < height) return no_room(depths_width(), height);
  writer_.begin("Steps of depth");
  depth_row(margin_ + deep_side() / 2);
  return {};
}

/// Left the small, right the big; below the pockets, above them the tenons, on top the depths.
Result<void> Layout::frame() {
  const auto fixed = [this] {
    return std::array{2 * margin_ + small_ + 2 * d_ + gap_ + 2 * d_,
                      2 * margin_ + 2 * d_ + 2 * gap_ + deep_side() + d_};
  };
  const auto room = [&] {
    return std::floor(std::min({s_.stock_width - fixed()[0], (s_.stock_height - fixed()[1]) / 2, most_mm}));
  };
  if (room() < 1.5 * small_ || s_.stock_width < depths_width()) crowd();
  const double big = room(), least = 1.5 * small_, fixed_x = fixed()[0], fixed_y = fixed()[1];
  if (big < least || s_.stock_width < depths_width())
    return no_room(std::max(fixed_x + least, depths_width()), fixed_y + 2 * least);
  const double x_small = margin_ + d_ + small_ / 2, x_big = x_small + small_ / 2 + d_ + gap_ + d_ + big / 2;
  const double y_pockets = margin_ + big / 2, y_tenons = y_pockets + big / 2 + gap_ + d_ + big / 2;
  writer_.begin("First cut");
  const Rect pockets[] = {{x_small, y_pockets, small_, small_}, {x_big, y_pockets, big, big}};
  const Rect tenons[] = {{x_small, y_tenons, small_, small_}, {x_big, y_tenons, big, big}};
  for (const Rect& p : pockets) writer_.pocket(p, s_.depth);
  for (const Rect& t : tenons) writer_.tenon(t, s_.depth);
  for (const Axis a : {Axis::x, Axis::y}) {
    for (const Rect& p : pockets) add(FeatureKind::inside, a, p.width, {p.x, p.y, level()});
    for (const Rect& t : tenons) add(FeatureKind::outside, a, t.width, {t.x, t.y, level()});
  }
  // Left edges of the two pockets; near edges of the big pocket and of the groove before the big tenon.
  add(FeatureKind::spacing, Axis::x, x_big - big / 2 - (x_small - small_ / 2), {x_small, y_pockets, level()},
      {x_big, y_pockets, level()});
  const double groove = y_tenons - big / 2 - d_ / 2;
  add(FeatureKind::spacing, Axis::y, groove - d_ / 2 - (y_pockets - big / 2), {x_big, y_pockets, level()},
      {x_big, groove, level()});
  depth_row(y_tenons + big / 2 + d_ + gap_ + deep_side() / 2);
  return {};
}

/// Four holes, as far apart as a caliper spans across.
Result<void> Layout::square() {
  const double width = s_.stock_width - 2 * margin_, height = s_.stock_height - 2 * margin_;
  if (std::min(width, height) < least_square_mm)
    return no_room(least_square_mm + 2 * margin_, least_square_mm + 2 * margin_);
  const double shrink = std::min(1.0, caliper_mm / std::hypot(width, height));
  const double w = std::floor(width * shrink), h = std::floor(height * shrink), x = margin_, y = margin_;
  writer_.begin("Four holes for the diagonals");
  const std::array<WorkPosition, 4> holes{
      {{x, y, level()}, {x + w, y, level()}, {x + w, y + h, level()}, {x, y + h, level()}}};
  for (const auto& hole : holes) writer_.hole(hole.x, hole.y, s_.depth);
  add(FeatureKind::diagonal, Axis::x, std::hypot(w, h) + d_, holes[0], holes[2]);
  add(FeatureKind::diagonal, Axis::x, std::hypot(w, h) + d_, holes[1], holes[3]);
  return {};
}

/// A round pocket and two discs: each measured along X and along Y, lost motion is what narrows them.
Result<void> Layout::circle() {
  const double small = small_, fixed_x = 2 * margin_ + small + 2 * d_ + gap_, fixed_y = 2 * margin_ + gap_ + 2 * d_;
  const double big =
      std::floor(std::min({s_.stock_width - fixed_x - 2 * d_, (s_.stock_height - fixed_y) / 2, most_circle_mm}));
  if (big < 1.5 * small) return no_room(fixed_x + 2 * d_ + 1.5 * small, fixed_y + 3 * small);
  const double x_big = margin_ + d_ + big / 2, x_small = x_big + big / 2 + d_ + gap_ + d_ + small / 2;
  const double y_pocket = margin_ + big / 2, y_disc = y_pocket + big / 2 + gap_ + d_ + big / 2;
  writer_.begin("Circles");
  writer_.round_pocket(x_big, y_pocket, big, s_.depth);
  writer_.disc(x_big, y_disc, big, s_.depth);
  writer_.disc(x_small, y_disc, small, s_.depth);
  for (const Axis a : {Axis::x, Axis::y}) {
    add(FeatureKind::inside, a, big, {x_big, y_pocket, level()});
    add(FeatureKind::outside, a, big, {x_big, y_disc, level()});
    add(FeatureKind::outside, a, small, {x_small, y_disc, level()});
  }
  return {};
}

/// Two rows of lines, along X and along Y, unevenly spaced so that a screw's periodic error shows.
Result<void> Layout::lines() {
  constexpr std::array steps{0.0, 0.19, 0.41, 0.57, 0.83, 1.0};
  const double corner = margin_ + line_mm + gap_;
  const double x_length = std::min(s_.stock_width - corner - margin_, caliper_mm),
               y_length = std::min(s_.stock_height - corner - margin_, caliper_mm), least = 6 * (d_ + 4);
  if (std::min(x_length, y_length) < least) return no_room(corner + margin_ + least, corner + margin_ + least);
  writer_.begin("Rows of lines");
  const double half = line_mm / 2;
  for (const Axis a : {Axis::x, Axis::y}) {
    const auto place = [&](double part, double along) {
      const double far = corner + std::round(part * (a == Axis::x ? x_length : y_length));
      return a == Axis::x ? WorkPosition{far, margin_ + along, level()} : WorkPosition{margin_ + along, far, level()};
    };
    for (const double part : steps) {
      const WorkPosition from = place(part, 0), to = place(part, line_mm);
      writer_.engrave(from.x, from.y, to.x, to.y, s_.depth);
      const WorkPosition first = place(0, half), here = place(part, half);
      if (part > 0) add(FeatureKind::spacing, a, a == Axis::x ? here.x - first.x : here.y - first.y, first, here);
    }
  }
  return {};
}

}  // namespace

double last_pass_rest(std::optional<double> lost_motion, double U) {
  constexpr double spare_mm = 0.1, unknown_mm = 0.6;
  return lost_motion ? std::fabs(*lost_motion) + U + spare_mm : unknown_mm;
}

Result<Coupon> make_coupon(CouponKind kind, const CouponSetting& s) {
  for (const double v :
       {s.stock_width, s.stock_height, s.thickness, s.tool_diameter, s.depth, s.feed, s.plunge, s.rpm, s.safe})
    if (!(v > 0) || !std::isfinite(v))
      return fail("out_of_range", "Stock, cutter, depth, feeds, speed and lift must be above zero.");
  if (s.depth >= s.thickness) return fail("out_of_range", "The test cut must stay above the bed; make it less deep.");
  Layout layout(s);
  Result<void> laid;
  switch (kind) {
    case CouponKind::frame:
      laid = layout.frame();
      break;
    case CouponKind::depths:
      laid = layout.depths();
      break;
    case CouponKind::square:
      laid = layout.square();
      break;
    case CouponKind::circle:
      laid = layout.circle();
      break;
    case CouponKind::lines:
      laid = layout.lines();
      break;
    case CouponKind::heads:
    case CouponKind::plate:
      return fail("no_heads", "That test cut is not milled; heads cut it.");
  }
  if (!laid) return tl::make_unexpected(laid.error());
  return layout.finish();
}

const char* name(CutMaterial material) {
  static constexpr const char* names[] = {"wood", "plastic", "foam", "aluminium", "brass"};
  return names[static_cast<std::size_t>(material)];
}

void set_for(CutMaterial material, CouponSetting& s) {
  struct Figures {
    double chip, pass, plunge;  ///< of the diameter, of the diameter, of the feed
  };
  static constexpr Figures figures[] = {
      {0.010, 0.5, 0.25}, {0.009, 0.4, 0.25}, {0.020, 1.0, 0.5}, {0.004, 0.12, 0.15}, {0.004, 0.08, 0.15}};
  constexpr double flutes = 2, most_feed = 1800;
  const Figures& f = figures[static_cast<std::size_t>(material)];
  s.feed = std::min(most_feed, f.chip * s.tool_diameter * flutes * s.rpm);
  s.plunge = f.plunge * s.feed;
  s.pass = f.pass * s.tool_diameter;
}

const char* name(CouponKind kind) {
  static constexpr const char* names[] = {"frame", "depths", "square", "circle", "lines", "heads", "plate"};
  return names[static_cast<std::size_t>(kind)];
}

}  // namespace ypsi
