#include "core/program/head_coupon.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/calibration/first_cut.h"
#include "core/program/head_lines.h"

namespace ypsi {
namespace {

constexpr double edge_mm = 20, arm_mm = 10, apart_mm = 40, aside_of_cut_mm = 20, front_mm = 70, back_mm = 40,
                 beside_line_mm = 30, least_heads_square_mm = 60, grid_mm = 10, heads_run_up_mm = 5, fold_edge_mm = 10,
                 heads_gap_mm = 2, gap_line_mm = 25;

class TableLayout {
 public:
  TableLayout(const Book& book, const HeadCouponSetting& s) : heads_(book.machine.heads), s_(s) {
    for (std::size_t i = 1; i < heads_.size(); ++i)
      if (cuts(heads_[i].kind)) others_.push_back(i);
  }

  Result<Coupon> make(const Book& book) {
    const double row = edge_mm + apart_mm * static_cast<double>(others_.size());
    end_of_row_ = row + arm_mm + (trails() ? apart_mm / 2 + 2 * gap_line_mm : 0);
    side_ =
        grid_mm *
        std::floor(std::min(s_.stock_height - front_mm - back_mm, (s_.stock_width - 3 * beside_line_mm) / 2) / grid_mm);
    if (!(side_ >= least_heads_square_mm) || s_.stock_width < end_of_row_ + edge_mm + 2 * arm_mm)
      return fail("no_room", fmt::format("This test cut needs a stock of {:.0f} x {:.0f} mm; take a larger one.",
                                         std::max(2 * least_heads_square_mm + 3 * beside_line_mm,
                                                  end_of_row_ + edge_mm + 2 * arm_mm),
                                         least_heads_square_mm + front_mm + back_mm));
    squares();
    first_crosses();
    other_heads();
    // Pens and creasers first: what is cut may shift.
    std::stable_sort(lines_.begin(), lines_.end(), [&](const HeadLine& a, const HeadLine& b) {
      return only_marks(heads_[a.head].kind) > only_marks(heads_[b.head].kind);
    });
    HeadLinesSetting setting;
    setting.title = fmt::format("Test cut of all heads on {:g} x {:g} mm", s_.stock_width, s_.stock_height);
    setting.feed = s_.feed;
    auto program = head_lines_program(book, lines_, setting);
    if (!program) return tl::make_unexpected(program.error());
    return Coupon{std::move(program->text), std::move(features_), std::move(program->program)};
  }

 private:
  bool trails() const {
    return std::any_of(heads_.begin(), heads_.end(), [](const Head& h) { return is_castor(h); });
  }
  static bool is_castor(const Head& h) { return h.kind == HeadKind::drag_knife; }
  void line(std::size_t head, double x0, double y0, double x1, double y1, double run_up_x = -heads_run_up_mm,
            double run_up_y = -heads_run_up_mm) {
    HeadLine l{
        .head = head, .x0 = s_.corner_x + x0, .y0 = s_.corner_y + y0, .x1 = s_.corner_x + x1, .y1 = s_.corner_y + y1};
    l.run_up_x = run_up_x;
    l.run_up_y = run_up_y;
    if (head < s_.levels.size()) l.level = s_.levels[head];
    lines_.push_back(std::move(l));
  }
  void add(FeatureKind kind, Axis axis, double nominal, PlanPoint at, PlanPoint other = {}, std::string head = {}) {
    const auto n = features_.size();
    const auto place = [&](PlanPoint p) { return WorkPosition{p.real() + s_.corner_x, p.imag() + s_.corner_y, 0}; };
    features_.push_back({n < 26 ? std::string(1, static_cast<char>('A' + n)) : fmt::format("A{}", n - 25), kind, axis,
                         nominal, place(at), place(other), std::move(head)});
  }

  /// The left one counter-clockwise, the right one clockwise; every side is come to from inside, so that both lose an
  /// axis's slack.
  void squares() {
    const double y0 = front_mm, y1 = y0 + side_;
    for (const bool clockwise : {false, true}) {
      const double x0 = beside_line_mm + (clockwise ? side_ + beside_line_mm : 0), x1 = x0 + side_;
      if (clockwise) {
        line(0, x0, y0, x0, y1, heads_run_up_mm, 0);
        line(0, x0, y1, x1, y1, 0, 0);
        line(0, x1, y1, x1, y0, 0, 0);
        line(0, x1, y0, x0, y0, 0, 0);
      } else {
        line(0, x0, y0, x1, y0, 0, heads_run_up_mm);
        line(0, x1, y0, x1, y1, 0, 0);
        line(0, x1, y1, x0, y1, 0, 0);
        line(0, x0, y1, x0, y0, 0, 0);
      }
      const PlanPoint middle((x0 + x1) / 2, (y0 + y1) / 2);
      // A blade beside its path towards its left cuts the first too small and the second too large, as a cutter's
      // width does outside and inside.
      for (const Axis a : {Axis::x, Axis::y})
        add(clockwise ? FeatureKind::inside : FeatureKind::outside, a, side_, middle);
    }
  }

  /// At the stock's corners, come to from below on both axes. The front left one carries the line and the arm that the
  /// other heads' crosses are measured from.
  void first_crosses() {
    const double right = s_.stock_width - edge_mm, back = s_.stock_height - edge_mm;
    const PlanPoint corners[] = {{edge_mm, edge_mm}, {right, edge_mm}, {right, back}, {edge_mm, back}};
    for (const PlanPoint& c : corners) {
      const bool long_arms = c == corners[0];
      line(0, c.real() - arm_mm, c.imag(), long_arms ? end_of_row_ : c.real() + arm_mm, c.imag());
      line(0, c.real(), c.imag() - arm_mm, c.real(), c.imag() + (long_arms ? aside_of_cut_mm + arm_mm : arm_mm));
    }
    add(FeatureKind::spacing, Axis::x, right - edge_mm, corners[0], corners[1]);
    add(FeatureKind::spacing, Axis::y, back - edge_mm, corners[0], corners[3]);
    const double across = std::abs(corners[2] - corners[0]);
    add(FeatureKind::diagonal, Axis::x, across, corners[0], corners[2]);
    add(FeatureKind::diagonal, Axis::x, across, corners[1], corners[3]);
  }

  void other_heads() {
    double x = edge_mm;
    const double y = edge_mm + aside_of_cut_mm;
    for (const std::size_t i : others_) {
      x += apart_mm;
      const std::string& name = heads_[i].name;
      line(i, x - arm_mm, y, x + arm_mm, y);
      line(i, x, y - arm_mm, x, y + arm_mm);
      add(FeatureKind::beside, Axis::x, x - edge_mm, {edge_mm, y}, {x, y}, name);
      // Where no arm of its own is in the way.
      add(FeatureKind::beside, Axis::y, aside_of_cut_mm, {x - arm_mm / 2, edge_mm}, {x - arm_mm / 2, y}, name);
      if (heads_[i].kind == HeadKind::creaser) {
        const double fold = beside_line_mm + std::round(side_ / 2);
        line(i, fold, front_mm + fold_edge_mm, fold, front_mm + side_ - fold_edge_mm);
        fold_ = {i, fold};
      }
    }
    for (const std::size_t i : others_) {
      if (!is_castor(heads_[i])) continue;
      // Towards one end from either side; the pivot goes on by what it is known to trail, if anything is.
      const double middle = x + arm_mm + apart_mm / 2 + gap_line_mm, a = heads_[i].trailing_mm.value_or(0);
      line(i, middle - gap_line_mm, y, middle - heads_gap_mm / 2 + a, y);
      line(i, middle + gap_line_mm, y, middle + heads_gap_mm / 2 - a, y, heads_run_up_mm, -heads_run_up_mm);
      add(FeatureKind::gap, Axis::x, heads_gap_mm, {middle, y}, {}, heads_[i].name);
      break;
    }
    if (fold_) {
      // From the side that was come to as the fold was.
      const double at = front_mm + side_ / 2;
      add(FeatureKind::beside, Axis::x, beside_line_mm + side_ - fold_->second, {beside_line_mm + side_, at},
          {fold_->second, at}, heads_[fold_->first].name);
    }
  }

  const std::vector<Head>& heads_;
  const HeadCouponSetting& s_;
  std::vector<std::size_t> others_;
  double side_ = 0, end_of_row_ = 0;
  std::optional<std::pair<std::size_t, double>> fold_;
  std::vector<HeadLine> lines_;
  std::vector<CouponFeature> features_;
};

}  // namespace

bool cut_by_heads(const MachineSetup& machine) {
  return !machine.heads.empty() && machine.heads.front().kind != HeadKind::spindle && cuts(machine.heads.front().kind);
}

Result<Coupon> make_head_coupon(const Book& book, const HeadCouponSetting& s) {
  if (!cut_by_heads(book.machine))
    return fail("no_heads", "This test cut is for a machine whose first head is a wheel, a knife, a pen or a beam.");
  for (const double v : {s.stock_width, s.stock_height, s.feed})
    if (!(v > 0) || !std::isfinite(v)) return fail("out_of_range", "Stock and feed must be above zero.");
  return TableLayout(book, s).make(book);
}

}  // namespace ypsi
