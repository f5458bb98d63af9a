#include "standin/person.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "standin/stroke_sizes.h"

namespace ypsi::standin {
namespace {

constexpr double what_the_eye_sees_mm = 0.5, paper_mm = 0.1;
constexpr double dot_seen_to_mm = 0.1;
constexpr double head_seen_to_mm = 0.05;  // standard deviation
constexpr double trial_cut_mm = 30;
/// By CutFeature::Kind.
constexpr std::array jaw_words{" inside",  " outside", " spacing", " depth",  " diagonal",
                               " spacing", " inside",  " spacing", " spacing"};
constexpr double carpenters_square_error = 1e-4;  // rad, standard deviation

double rounded(double value, double step) {
  return std::round(value / step) * step;
}

/// Longest distance that instruments of these names span.
double reach_of(std::string_view name) {
  return name == "indicator" ? 10 : name == magnifier ? 15 : name == "caliper" ? 200 : 1e9;
}

tl::unexpected<Error> no_mark(std::string_view name) {
  return fail("no_mark", fmt::format("Nothing was spotted under the name “{}”; spot it first.", name));
}

tl::unexpected<Error> no_feature() {
  return fail("no_feature",
              "Nothing of that size was cut there. Cut the part first, or see that the drawing's place is right.");
}

const Interval* nearest(const std::vector<Interval>& all, double nominal) {
  const Interval* best = nullptr;
  double best_off = std::max(2.0, 0.2 * nominal);
  for (const auto& i : all) {
    const double off = std::fabs(i.high - i.low - nominal) + std::fabs(i.low + i.high) / 2;
    if (std::fabs(i.high - i.low - nominal) <= std::max(2.0, 0.2 * nominal) && (!best || off < best_off)) {
      best = &i;
      best_off = off;
    }
  }
  return best;
}

}  // namespace

Person::Person(Plant& plant, const MachineLink& controller)
    : plant_(plant), controller_(controller), random_(plant.scenario().seed ^ 0x5bd1e995u) {
  std::normal_distribution<double> normal;
  for (const auto& [name, i] : plant.scenario().instruments)
    calibration_[name] = {i.u_cal_mm * normal(random_), i.u_rel * normal(random_)};
  // Inside jaws, outside jaws and depth rod of one caliper are each off by their own; its scale is one.
  std::mt19937_64 of_jaws(plant.scenario().seed ^ 0x7f4a7c15u);
  for (const auto& [name, i] : plant.scenario().instruments)
    for (const char* jaws : {" inside", " outside", " spacing", " depth", " diagonal"})
      calibration_[name + jaws] = {i.u_cal_mm * normal(of_jaws), calibration_[name].relative};
  square_error_ = carpenters_square_error * normal(random_);
  const PhysicalStock& stock = plant.scenario().stock;
  const double c = std::cos(stock.rotation), s = std::sin(stock.rotation);
  int printed = 0;
  for (const auto& [u, v] : stock.marks)
    spots_[fmt::format("printed {}", ++printed)] = {stock.x + c * u - s * v, stock.y + s * u + c * v};
}

Result<double> Person::read(double distance, std::string_view name, std::string_view jaws) {
  const auto& instruments = plant_.scenario().instruments;
  const auto found = instruments.find(name);
  if (found == instruments.end())
    return fail("unknown_instrument",
                fmt::format("There is no “{}” at the stand-in; choose another instrument.", name));
  if (std::fabs(distance) > reach_of(name))
    return fail("out_of_reach", fmt::format("The {} spans {:g} mm and this is {:.0f} mm; take a longer instrument.",
                                            name, reach_of(name), std::fabs(distance)));
  const Instrument& i = found->second;
  const CalibrationError& error = calibration_.find(std::string(name) + std::string(jaws))->second;
  std::normal_distribution<double> normal;
  std::uniform_real_distribution<double> somewhere(0, i.resolution_mm);
  const double seen = std::fabs(distance) * (1 + error.relative) + error.fixed + i.scatter_mm() * normal(random_);
  // A ruler is laid down anywhere: both of its ends are read, and each is rounded by itself.
  const double offset = i.ends >= 2 ? somewhere(random_) : 0;
  const double read = rounded(offset + seen, i.resolution_mm) - (i.ends >= 2 ? rounded(offset, i.resolution_mm) : 0);
  return std::signbit(distance) ? -read : read;
}

Point3 Person::physical(const MachinePosition& place) const {
  const MachinePosition at = controller_.status().position;
  const Point3 tip = plant_.tip();
  return {tip[0] + place.x - at.x, tip[1] + place.y - at.y, tip[2] + place.z - at.z};
}

double Person::gap_seen() const {
  const Point3 tip = plant_.tip();
  const double gap = tip[2] - plant_.top_height(tip[0], tip[1]);
  if (gap >= 0 && gap < paper_mm) return 0;
  if (gap < 0) return gap;
  return gap < 3 ? rounded(gap, 0.1) : rounded(gap, what_the_eye_sees_mm);
}

std::optional<Bench::Outline> Person::stock_seen() const {
  const PhysicalStock& stock = plant_.scenario().stock;
  if (!(stock.size[0] > 0)) return std::nullopt;
  const MachinePosition believed = controller_.status().position;
  const Point3 tip = plant_.tip();
  const double x = std::round(stock.x - tip[0] + believed.x), y = std::round(stock.y - tip[1] + believed.y);
  return Outline{x, y, x + stock.size[0], y + stock.size[1]};
}

std::optional<std::array<double, 2>> Person::setter_seen() const {
  const auto& setter = plant_.scenario().setter;
  if (!setter) return std::nullopt;
  const MachinePosition believed = controller_.status().position;
  const Point3 tip = plant_.tip();
  return std::array{std::round(setter->x - tip[0] + believed.x), std::round(setter->y - tip[1] + believed.y)};
}

std::array<double, 3> Person::tool_seen() const {
  const Point3 tip = plant_.tip();
  return {rounded(tip[0], what_the_eye_sees_mm), rounded(tip[1], what_the_eye_sees_mm),
          rounded(tip[2] - plant_.scenario().bed_z, what_the_eye_sees_mm)};
}

Surroundings Person::surroundings() const {
  Surroundings s;
  s.clip_on = plant_.clip_on();
  s.emergency_stop_pressed = plant_.emergency_stop_line();
  for (const Axis a : all_axes) {
    s.switch_held[index(a)] = plant_.switch_held(a);
    s.has_far_switch[index(a)] = plant_.scenario().axes[index(a)].far.has_value();
    s.far_switch_held[index(a)] = plant_.far_switch_held(a);
  }
  s.plate = plant_.plate();
  s.tool = plant_.tool().number;
  s.nose_tick = plant_.nose_tick();
  const MachinePosition at = controller_.status().position;
  const Point3 tip = plant_.tip();
  for (const auto& c : plant_.clamps())
    s.clamps.push_back({std::round(c[0] - tip[0] + at.x), std::round(c[1] - tip[1] + at.y)});
  for (const auto& [name, i] : plant_.scenario().instruments) s.instruments.push_back(name);
  s.speed = speed_;
  return s;
}

void Person::mark(Axis axis) {
  marks_[index(axis)] = plant_.place(axis);
}

Result<double> Person::read_distance(Axis axis, std::string_view name) {
  if (!marks_[index(axis)])
    return fail("no_mark", fmt::format("There is no mark on {} yet; mark first, then move.", letter(axis)));
  return read(plant_.place(axis) - *marks_[index(axis)], name);
}

Result<double> Person::read_free_way(Axis axis, bool towards_plus, std::string_view instrument) {
  const AxisTruth& truth = plant_.scenario().axes[index(axis)];
  const double at = plant_.place(axis);
  return read(towards_plus ? truth.stop_high - at : at - truth.stop_low, instrument);
}

Result<void> Person::spot(std::string_view name) {
  const Point3 tip = plant_.tip();
  spots_[std::string(name)] = {tip[0], tip[1]};
  return {};
}

Result<double> Person::read_between(std::string_view from, std::string_view to, std::string_view instrument) {
  const auto a = spots_.find(from), b = spots_.find(to);
  if (a == spots_.end()) return no_mark(from);
  if (b == spots_.end()) return no_mark(to);
  return read(std::hypot(b->second[0] - a->second[0], b->second[1] - a->second[1]), instrument);
}

Result<double> Person::read_square(double length, bool turned, std::string_view instrument) {
  return read(length * (std::tan(plant_.skew()) + (turned ? -square_error_ : square_error_)), instrument);
}

Result<double> Person::read_blade(Axis towards, double height, bool turned, std::string_view instrument) {
  const std::size_t along = index(towards);
  if (along > 1) return fail("out_of_range", "A square's blade stands along X or Y.", "axis");
  constexpr double foot_mm = 100;
  const Point3 tip = plant_.tip();
  const double dx = along == 0 ? foot_mm / 2 : 0, dy = along == 1 ? foot_mm / 2 : 0;
  const double rise =
      (plant_.bed_height(tip[0] + dx, tip[1] + dy) - plant_.bed_height(tip[0] - dx, tip[1] - dy)) / foot_mm;
  const double blade = (turned ? -square_error_ : square_error_) - rise;  // how far it leans towards +
  const double goes = height * (plant_.scenario().z_lean[along] - blade), pushed_in = 1 + std::fabs(goes);
  const auto at_foot = read(pushed_in, instrument), at_top = read(pushed_in + goes, instrument);
  if (!at_foot) return at_foot;
  if (!at_top) return at_top;
  return *at_top - *at_foot;
}

Result<double> Person::read_sweep(double radius, double angle_deg, std::string_view instrument) {
  const double angle = angle_deg * std::numbers::pi / 180, dx = radius * std::cos(angle), dy = radius * std::sin(angle);
  const Point3 tip = plant_.tip();
  const auto& tilt = plant_.scenario().spindle_tilt;
  const double pushed =
      plant_.bed_height(tip[0] + dx, tip[1] + dy) - plant_.bed_height(tip[0], tip[1]) + dx * tilt[0] + dy * tilt[1];
  return read(pushed, instrument);
}

bool Person::measures_lines() const {
  return !plant_.scenario().heads.empty() && plant_.cut().sweeps().empty();
}

Result<double> Person::true_size(const CutFeature& f) const {
  if (measures_lines() || plant_.tool().angle > 0) {
    std::vector<const Stroke*> strokes;
    for (std::size_t i = 0; i < plant_.scenario().heads.size(); ++i)
      for (const Stroke& s : plant_.marks_of(i).strokes()) strokes.push_back(&s);
    const Point3 at = physical(f.at), other = physical(f.other);
    if (f.kind == CutFeature::Kind::width || f.kind == CutFeature::Kind::depth) return true_groove(strokes, f, at);
    const auto size = size_between(strokes, f.kind, f.along, {at[0], at[1]}, {other[0], other[1]}, f.nominal);
    if (!size) return no_feature();
    return *size;
  }
  const auto sweeps = plant_.cut().sweeps();
  const PhysicalStock& stock = plant_.scenario().stock;
  const double c = std::cos(stock.rotation), s = std::sin(stock.rotation);
  const std::array<double, 2> direction = f.along == Axis::y ? std::array{s, c} : std::array{c, -s};  // in the stock
  const auto place = [&](const MachinePosition& p) {
    const Point3 at = physical(p);
    return plant_.in_stock(at[0], at[1]);
  };
  const auto origin = place(f.at);
  if (f.kind == CutFeature::Kind::depth) {
    // Where the cutter went over it and stayed above, it cut nothing; where it never was, nothing is there to measure.
    constexpr double never_mm = 1e9;
    const double floor = floor_at(sweeps, origin[0], origin[1], never_mm);
    if (floor == never_mm) return no_feature();
    return std::max(0.0, plant_.stock_top(origin[0], origin[1]) - floor);
  }
  const double level = physical(f.at)[2];
  const auto gaps = gaps_along(sweeps, origin, direction, level);
  if (f.kind == CutFeature::Kind::inside) {
    const Interval* gap = nearest(gaps, f.nominal);
    if (!gap) return no_feature();
    return gap->high - gap->low;
  }
  if (f.kind == CutFeature::Kind::diagonal) {
    // Each hole's middle and width from the gaps through it along both sides.
    const auto hole = [&](const std::array<double, 2>& about) -> std::optional<std::array<double, 3>> {
      std::array<double, 3> found{about[0], about[1], 0};
      for (const std::size_t side : {0U, 1U}) {
        const auto through =
            gaps_along(sweeps, {found[0], found[1]}, {side == 0 ? 1.0 : 0.0, side == 0 ? 0.0 : 1.0}, level);
        const auto gap =
            std::find_if(through.begin(), through.end(), [](const Interval& i) { return i.low <= 0 && i.high >= 0; });
        if (gap == through.end()) return std::nullopt;
        found[side] += (gap->low + gap->high) / 2;
        found[2] = gap->high - gap->low;
      }
      return found;
    };
    const auto a = hole(origin), b = hole(place(f.other));
    if (!a || !b) return no_feature();
    return std::hypot((*b)[0] - (*a)[0], (*b)[1] - (*a)[1]) + ((*a)[2] + (*b)[2]) / 2;
  }
  if (f.kind == CutFeature::Kind::outside) {
    std::vector<Interval> left;
    for (std::size_t i = 1; i < gaps.size(); ++i) left.push_back({gaps[i - 1].high, gaps[i].low});
    const Interval* part = nearest(left, f.nominal);
    if (!part) return no_feature();
    return part->high - part->low;
  }
  // Like edges: the near side of two gaps, of whatever width.
  const auto other = place(f.other);
  const double away = (other[0] - origin[0]) * direction[0] + (other[1] - origin[1]) * direction[1];
  const Interval *first = nullptr, *second = nullptr;
  const auto middle = [](const Interval& i) { return (i.low + i.high) / 2; };
  for (const auto& g : gaps) {
    if (!first || std::fabs(middle(g)) < std::fabs(middle(*first))) first = &g;
    if (!second || std::fabs(middle(g) - away) < std::fabs(middle(*second) - away)) second = &g;
  }
  if (!first || first == second) return no_feature();
  return std::fabs(second->low - first->low);
}

/// How wide or how deep a point has left its line there; one that lies along X where a depth is read.
Result<double> Person::true_groove(const std::vector<const Stroke*>& strokes, const CutFeature& f,
                                   const Point3& at) const {
  const bool width = f.kind == CutFeature::Kind::width;
  const auto line = line_at(strokes, width ? f.along : Axis::y, {at[0], at[1]});
  if (!line) return no_feature();
  const double depth = std::max(0.0, plant_.top_height((*line)[0], (*line)[1]) - (*line)[2]);
  if (!width || depth == 0) return depth;
  const PhysicalTool& tool = plant_.tool();
  return std::min(tool.diameter, tool.tip + 2 * depth * std::tan(tool.angle / 2)) + tool.runout;
}

Result<double> Person::measure(const CutFeature& feature, std::string_view instrument) {
  const auto size = true_size(feature);
  if (!size) return size;
  return read(*size, instrument, jaw_words[static_cast<std::size_t>(feature.kind)]);
}

Result<std::array<double, 2>> Person::pointer_from(std::string_view spotted, double power_percent) {
  const auto found = spots_.find(spotted);
  if (found == spots_.end()) return no_mark(spotted);
  const auto& pointer = plant_.scenario().pointer;
  if (!pointer) return fail("not_seen", "This machine has no pointer.");
  if (!(power_percent >= pointer->threshold_percent))
    return fail("not_seen", "No dot can be seen at this power; raise it a little.");
  const Point3 nose = plant_.nose();
  return std::array{rounded(nose[0] + pointer->offset_x - found->second[0], dot_seen_to_mm),
                    rounded(nose[1] + pointer->offset_y - found->second[1], dot_seen_to_mm)};
}

// --------------------------------------------------------------------------------------------------------------- heads

Result<std::size_t> Person::head(std::string_view name) const {
  if (const auto found = plant_.head_named(name)) return *found;
  return fail("unknown_head", fmt::format("There is no head “{}” at the stand-in.", name));
}

Result<std::array<double, 2>> Person::head_from(std::string_view name, std::string_view spotted) {
  const auto found = head(name);
  if (!found) return tl::make_unexpected(found.error());
  const auto spot = spots_.find(spotted);
  if (spot == spots_.end()) return no_mark(spotted);
  const Point3 at = plant_.head_point(*found);
  std::normal_distribution<double> normal(0, head_seen_to_mm);
  return std::array{at[0] - spot->second[0] + normal(random_), at[1] - spot->second[1] + normal(random_)};
}

Result<std::array<double, 2>> Person::place_of(const StrokePoint& point) const {
  const auto found = head(point.head);
  if (!found) return tl::make_unexpected(found.error());
  const auto& strokes = plant_.marks_of(*found).strokes();
  if (point.back < 0 || static_cast<std::size_t>(point.back) >= strokes.size()) return no_feature();
  const auto& points = strokes[strokes.size() - 1 - static_cast<std::size_t>(point.back)].points;
  const Point3 &a = points.front(), &b = points.back();
  if (point.where == StrokePoint::Where::start) return std::array{a[0], a[1]};
  if (point.where == StrokePoint::Where::end) return std::array{b[0], b[1]};
  return std::array{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2};
}

Result<double> Person::read_strokes(const StrokePoint& from, const StrokePoint& to, Axis along,
                                    std::string_view instrument) {
  const auto a = place_of(from), b = place_of(to);
  if (!a) return tl::make_unexpected(a.error());
  if (!b) return tl::make_unexpected(b.error());
  const std::size_t i = along == Axis::y ? 1 : 0;
  return read((*b)[i] - (*a)[i], instrument);
}

Result<double> Person::read_width(std::string_view name, std::string_view instrument) {
  const auto found = head(name);
  if (!found) return tl::make_unexpected(found.error());
  const auto& strokes = plant_.marks_of(*found).strokes();
  if (strokes.empty()) return no_feature();
  return read(width_of(*found, strokes.back()), instrument);
}

double Person::width_of(std::size_t head, const Stroke& stroke) const {
  const PhysicalHead& h = plant_.scenario().heads[head];
  const double off = (stroke.points.front()[2] - h.focus_z) / h.rayleigh;
  return h.spot * std::sqrt(1 + off * off);
}

Result<double> Person::read_strips(std::string_view name, int strips, std::string_view instrument) {
  const auto found = head(name);
  if (!found) return tl::make_unexpected(found.error());
  const auto& strokes = plant_.marks_of(*found).strokes();
  if (strips < 1 || strokes.size() < static_cast<std::size_t>(strips) + 1) return no_feature();
  double total = 0;
  for (std::size_t i = strokes.size() - static_cast<std::size_t>(strips); i < strokes.size(); ++i) {
    const Point3 &a = strokes[i - 1].points.back(), &b = strokes[i].points.back();
    total +=
        std::hypot(b[0] - a[0], b[1] - a[1]) - (width_of(*found, strokes[i - 1]) + width_of(*found, strokes[i])) / 2;
  }
  return read(total, instrument, jaw_words[static_cast<std::size_t>(CutFeature::Kind::outside)]);
}

/// By the nose's dial, or where there is none by Z, sent that far below the top.
double Person::groove_depth(double level) {
  const auto& nose = plant_.scenario().nose;
  if (!nose) return level;
  std::normal_distribution<double> normal(0, nose->s);
  return nose->mm_per_tick * (level - nose->zero_tick) + (nose->s > 0 ? normal(random_) : 0);
}

Result<TrialSeen> Person::try_cut(std::string_view name, double level) {
  const auto found = head(name);
  if (!found) return tl::make_unexpected(found.error());
  const PhysicalHead& h = plant_.scenario().heads[*found];
  if (h.kind == HeadKind::beam) return look_for_dot(*found);
  if (h.kind == HeadKind::spindle || h.kind == HeadKind::scribe) {
    const double depth = groove_depth(level);
    const PhysicalStock& stock = plant_.scenario().stock;
    return TrialSeen{depth > (stock.cap > 0 ? stock.cap : stock.size[2]), depth > stock.size[2]};
  }
  HeadMarks& marks = plant_.marks_of(*found);
  marks.has_cut(trial_cut_mm);
  std::normal_distribution<double> normal(0, h.sigma);
  const double needed = h.threshold + h.wear_per_m * marks.cut_m();
  const bool through = level + normal(random_) > needed;
  return TrialSeen{through, level + normal(random_) > h.backing};
}

Result<double> Person::read_from_fence(std::string_view name, std::string_view instrument) {
  for (const PhysicalFence& f : plant_.scenario().fences) {
    if (f.name != name) continue;
    const Point3 at = plant_.scenario().heads.empty() ? plant_.tip() : plant_.head_point(0);
    const std::size_t across = f.along == Axis::x ? 1 : 0;
    const double slope = std::tan(f.along == Axis::x ? f.turn : -f.turn);
    return read(std::fabs((at[across] - f.at - slope * at[1 - across]) * std::cos(f.turn)), instrument,
                jaw_words[static_cast<std::size_t>(CutFeature::Kind::outside)]);
  }
  return fail("unknown_fence", fmt::format("There is no fence “{}” at the stand-in.", name));
}

Result<double> Person::read_groove(double tick, std::string_view instrument) {
  if (!plant_.scenario().nose) return fail("no_nose", "This machine has no depth nose.");
  plant_.turn_nose(tick);
  const double depth = groove_depth(tick);
  if (!(depth > 0)) return 0.0;  // the tool did not reach
  return read(depth, instrument, jaw_words[static_cast<std::size_t>(CutFeature::Kind::depth)]);
}

/// Nobody switches a beam on by hand: what the newest flash has left is looked at. Heat spreads, so that what is needed
/// falls with the root of the time.
Result<TrialSeen> Person::look_for_dot(std::size_t head) {
  constexpr double threshold_told_at_s = 0.1;
  const auto& flashes = plant_.flashes_of(head);
  if (flashes.empty()) return fail("no_feature", "No flash was made yet; there is nothing to look at.");
  const PhysicalHead& h = plant_.scenario().heads[head];
  const auto& flash = flashes.back();
  std::normal_distribution<double> normal(0, h.sigma);
  const double needed = flash.seconds > 0 ? h.threshold * std::sqrt(threshold_told_at_s / flash.seconds) : 1e9;
  return TrialSeen{flash.level + normal(random_) > needed, flash.level + normal(random_) > h.backing};
}

Result<void> Person::put_tool(int number) {
  if (plant_.put_tool(number)) return {};
  return fail("unknown_tool", fmt::format("There is no tool {} at the stand-in; its drawer holds others.", number));
}

void Person::lay_clamp(double x, double y) {
  const Point3 at = physical({x, y, 0});
  plant_.lay_clamp(at[0], at[1]);
}

}  // namespace ypsi::standin
