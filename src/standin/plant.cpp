#include "standin/plant.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ypsi::standin {
namespace {

constexpr double at_power_up_mm = 120, z_at_power_up_mm = 20;  // how far from the switches it happens to stand
constexpr double plate_side_mm = 60, setter_radius_mm = 10;
constexpr double clamp_half_mm = 20, clamp_height_mm = 30;
constexpr double wave_x_mm = 420, wave_y_mm = 310;
constexpr double pi = std::numbers::pi;

AxisMechanics standing(const AxisTruth& truth, double from_switch) {
  // A small machine stands in its middle, not at a stop.
  const double away = std::min(from_switch, (truth.stop_high - truth.stop_low) / 2);
  const double at = truth.switch_at + (truth.switch_at_max ? -away : away);
  return AxisMechanics(truth, std::clamp(at, truth.stop_low, truth.stop_high));
}

/// Whether a place that far off in the plane lies within `radius`; asked at each step, so without a root.
bool nearer(double dx, double dy, double radius) {
  return radius > 0 && dx * dx + dy * dy < radius * radius;
}

double step_mm(const Scenario& s) {
  return 1 / std::min(s.axes[0].true_steps_per_mm, s.axes[1].true_steps_per_mm);
}

}  // namespace

Plant::Plant(const Scenario& s)
    : scenario_(&s),
      mechanics_{standing(s.axes[0], at_power_up_mm), standing(s.axes[1], at_power_up_mm),
                 standing(s.axes[2], z_at_power_up_mm)},
      switches_{EndSwitch(s.axes[0].home(), s.seed * 3), EndSwitch(s.axes[1].home(), s.seed * 3 + 1),
                EndSwitch(s.axes[2].home(), s.seed * 3 + 2)},
      grown_(s.growth()),
      clip_(s.clip_on),
      arming_(s.arming),
      random_(s.seed ^ 0x9e3779b97f4a7c15u),
      cos_stock_(std::cos(s.stock.rotation)),
      sin_stock_(std::sin(s.stock.rotation)),
      cut_(0.75 * step_mm(s)),
      of_nose_(s.seed ^ 0xd1b54a32d192ed03u) {
  settle_lean();
  for (const Axis axis : all_axes) {
    const std::size_t i = index(axis);
    if (s.axes[i].far) far_switches_[i].emplace(*s.axes[i].far, s.seed * 5 + i);
    wires_[i] = wire_of(s, axis);
  }
  if (!s.tools.empty()) tool_ = s.tools.front();
  for (const PhysicalHead& head : s.heads) {
    marks_.emplace_back(head);
    const bool beam = head.kind == HeadKind::beam;
    heads_.push_back(
        {.beam = beam, .by_z = head.lower.empty() && !beam, .levelled = head.on.find(level_mark) != std::string::npos});
  }
  if (s.nose) nose_tick_ = 0;
  flashes_.resize(s.heads.size());
  std::normal_distribution<double> normal;
  if (s.setter) {
    setter_top_ = bed_height(s.setter->x, s.setter->y) + s.setter->height;
    setter_error_ = s.setter->s * normal(random_);
  }
  // The stock's highest place, from its corners and what can be on top of them.
  highest_ = -1e9;
  for (const double u : {0.0, s.stock.size[0]})
    for (const double v : {0.0, s.stock.size[1]})
      highest_ = std::max(highest_, bed_plane(s.stock.x + u * cos_stock_ - v * sin_stock_,
                                              s.stock.y + u * sin_stock_ + v * cos_stock_));
  highest_ += s.stock.size[2] + s.bed_waviness + s.stock.thickness_variation;
}

// --------------------------------------------------------------------------------------------------------- where it is

double Plant::skew() const {
  return std::atan(std::tan(scenario_->skew) + (beam_ + homed_offset_) / scenario_->rail_spacing);
}

void Plant::settle_lean() {
  lean_sin_ = std::sin(skew());
  lean_cos_ = std::cos(skew());
}

Point3 Plant::nose() const {
  const Scenario& s = *scenario_;
  const double y = place(Axis::y), z = place(Axis::z), travel = s.axes[1].stop_high - s.axes[1].stop_low;
  const double turned = s.yaw * y * (y / (2 * travel) - 0.5);  // the lean is the middle's
  return {place(Axis::x) + y * lean_sin_ + turned + z * s.z_lean[0], y * lean_cos_ + z * s.z_lean[1], z};
}

Point3 Plant::tip() const {
  const Point3 n = nose();
  const auto& tilt = scenario_->spindle_tilt;
  return {n[0] - tool_.stickout * tilt[0], n[1] - tool_.stickout * tilt[1], n[2] - tool_.stickout};
}

double Plant::bed_plane(double x, double y) const {
  return scenario_->bed_z + scenario_->bed_tilt[0] * x + scenario_->bed_tilt[1] * y;
}

double Plant::bed_height(double x, double y) const {
  const Scenario& s = *scenario_;
  double z = bed_plane(x, y);
  if (s.bed_waviness > 0) z += s.bed_waviness / 2 * std::sin(2 * pi * x / wave_x_mm) * std::cos(2 * pi * y / wave_y_mm);
  return z;
}

std::array<double, 2> Plant::in_stock(double x, double y) const {
  const double dx = x - scenario_->stock.x, dy = y - scenario_->stock.y;
  return {dx * cos_stock_ + dy * sin_stock_, dy * cos_stock_ - dx * sin_stock_};
}

bool Plant::over_stock(double x, double y) const {
  const auto p = in_stock(x, y);
  const auto& size = scenario_->stock.size;
  return size[2] > 0 && p[0] >= 0 && p[0] <= size[0] && p[1] >= 0 && p[1] <= size[1];
}

double Plant::top_height(double x, double y) const {
  const auto p = in_stock(x, y);
  return over_stock(x, y) ? stock_top(p[0], p[1]) : bed_height(x, y);
}

double Plant::stock_top(double u, double v) const {
  const auto& stock = scenario_->stock;
  const double x = stock.x + u * cos_stock_ - v * sin_stock_, y = stock.y + u * sin_stock_ + v * cos_stock_;
  const double uneven = stock.thickness_variation / 2 * std::sin(1.7 * pi * u / stock.size[0] + 0.3) *
                        std::cos(1.3 * pi * v / stock.size[1]);
  return bed_height(x, y) + stock.size[2] + uneven;
}

// -------------------------------------------------------------------------------------------------------------- moving

void Plant::turn(const std::array<std::int64_t, axis_count>& steps) {
  if (clamps_.empty())
    turn_motors(steps);
  else
    turn_beside_clamps(steps);
  if (!spindle_on_ && !scenario_->setter) return;
  const Point3 at = tip();
  if (scenario_->setter) ready_setter(at);
  if (spindle_on_) cut_here(at);
}

/// Where the tool stands against a clamp, the motors slip.
void Plant::turn_beside_clamps(const std::array<std::int64_t, axis_count>& steps) {
  const auto before = mechanics_;
  turn_motors(steps);
  if (hits_a_clamp(tip())) mechanics_ = before;
}

void Plant::turn_motors(const std::array<std::int64_t, axis_count>& steps) {
  for (std::size_t i = 0; i < axis_count; ++i)
    if (steps[i] != 0) {
      mechanics_[i].turn(steps[i]);
      switches_[i].carriage_at(mechanics_[i].place());
      if (far_switches_[i]) far_switches_[i]->carriage_at(mechanics_[i].place());
    }
  if (!marks_.empty()) draw_with_heads();
}

void Plant::cut_here(const Point3& at) {
  if (tool_.angle > 0) return;  // a point leaves lines: draw_with_heads()
  const double radius = std::max(0.0, scenario_->cut_width(tool_) / 2);
  const auto p = in_stock(at[0], at[1]);
  const auto& size = scenario_->stock.size;
  const bool inside = at[2] < highest_ && size[2] > 0 && p[0] > -radius && p[0] < size[0] + radius && p[1] > -radius &&
                      p[1] < size[1] + radius;
  if (inside)
    cut_.cut_to({p[0], p[1], at[2]}, radius);
  else
    cut_.lift();
}

// --------------------------------------------------------------------------------------------------------------- heads

std::vector<OwnBlock> Plant::own_blocks() const {
  std::vector<Head> heads;
  for (const PhysicalHead& h : scenario_->heads) {
    Head& head = heads.emplace_back();
    head.lower = h.lower;
    head.raise = h.raise;
    head.on = h.on;
    head.off = h.off;
  }
  return ypsi::own_blocks(heads);
}

void Plant::act_on_head(std::size_t head, HeadAct act, double level) {
  if (head >= marks_.size()) return;
  if (act == HeadAct::on && heads_[head].beam) flashes_[head].push_back({level, 0});
  if (act == HeadAct::lower || act == HeadAct::raise) heads_[head].lowered = act == HeadAct::lower;
  if (act == HeadAct::on || act == HeadAct::off) heads_[head].on = act == HeadAct::on;
  draw_with_heads();
}

void Plant::put_beams_out() {
  shaded_ = false;
  for (std::size_t i = 0; i < heads_.size(); ++i)
    if (heads_[i].beam && heads_[i].on) act_on_head(i, HeadAct::off, 0);
}

bool Plant::beam_on() const {
  return !shaded_ && std::any_of(heads_.begin(), heads_.end(), [](const HeadNow& h) { return h.beam && h.on; });
}

void Plant::stand(double seconds) {
  for (std::size_t i = 0; i < heads_.size(); ++i)
    if (heads_[i].on && !shaded_ && !flashes_[i].empty()) flashes_[i].back().seconds += seconds;
}

Point3 Plant::head_point(std::size_t head) const {
  const PhysicalHead& h = scenario_->heads[head];
  if (h.kind == HeadKind::spindle) return tip();
  const Point3 n = nose();
  return {n[0] + h.offset_x, n[1] + h.offset_y, n[2]};
}

std::optional<std::size_t> Plant::head_named(std::string_view name) const {
  for (std::size_t i = 0; i < scenario_->heads.size(); ++i)
    if (scenario_->heads[i].name == name) return i;
  return std::nullopt;
}

/// Where its block says a level, one too weak to show a dot leaves nothing along its way either.
bool Plant::burns(std::size_t head) const {
  return !heads_[head].levelled ||
         (!flashes_[head].empty() && flashes_[head].back().level >= scenario_->heads[head].threshold);
}

/// Whether the tip is down on what lies below that place. Most of the time it is far above: then no wave is looked at.
bool Plant::meets_the_top(const Point3& at) const {
  const Scenario& s = *scenario_;
  const double most_above = s.bed_waviness + s.stock.size[2] + s.stock.thickness_variation, z = tip()[2];
  return z <= bed_plane(at[0], at[1]) + most_above && z <= top_height(at[0], at[1]);
}

/// Each that is down or shines makes its line; one without a block of its own is down where Z brings it to the top.
void Plant::draw_with_heads() {
  for (std::size_t i = 0; i < marks_.size(); ++i) {
    if (!cuts(scenario_->heads[i].kind)) continue;
    const HeadNow& head = heads_[i];
    const bool down = head.beam   ? head.on && !shaded_ && burns(i)
                      : head.by_z ? meets_the_top(head_point(i))
                                  : head.lowered;
    if (!down) {
      marks_[i].lift();
      continue;
    }
    Point3 at = head_point(i);
    if (head.by_z && nose_tick_) at[2] = held_by_nose(at, !marks_[i].is_down());
    marks_[i].go_to(at);
  }
}

/// How low the tip comes: its nose rides on the top beside it, and each line starts a little otherwise.
double Plant::held_by_nose(const Point3& tip, bool starts) {
  const PhysicalNose& nose = *scenario_->nose;
  if (starts) nose_off_ = nose.s > 0 ? std::normal_distribution<double>(0, nose.s)(of_nose_) : 0;
  const double deepest = nose.mm_per_tick * (*nose_tick_ - nose.zero_tick) + nose_off_;
  return std::max(tip[2], top_height(tip[0], tip[1]) - std::max(0.0, deepest));
}

void Plant::set_spindle(double rpm) {
  const bool on = rpm > 0;
  if (spindle_on_ && !on) cut_.lift();
  spindle_on_ = on;
}

void Plant::lose_steps(Axis axis, std::int64_t steps) {
  std::array<std::int64_t, axis_count> lost{};
  lost[index(axis)] = -steps;
  turn(lost);
}

void Plant::lay_plate(PlatePlace place) {
  plate_ = place;
  const Point3 at = tip();
  const auto p = in_stock(at[0], at[1]);
  plate_right_ = p[0] > scenario_->stock.size[0] / 2;
  plate_back_ = p[1] > scenario_->stock.size[1] / 2;
}

bool Plant::put_tool(int number) {
  const PhysicalTool* tool = scenario_->tool(number);
  if (!tool) return false;
  cut_.lift();
  tool_ = *tool;
  return true;
}

void Plant::lay_clamp(double x, double y) {
  clamps_.push_back({x, y});
}

void Plant::move_rail_end(RailEnd end, double distance) {
  beam_ += end == RailEnd::right ? distance : -distance;
  settle_lean();
}

// ------------------------------------------------------------------------------------------------------------- sensing

Plant::Wire Plant::wire_of(const Scenario& scenario, Axis axis) {
  const auto& axes = scenario.axes;
  const Wiring wired = axes[index(axis)].wired;
  std::size_t read = index(axis);
  if (wired == Wiring::swapped) {
    // With the other swapped one, or where none is said, with the axis after.
    std::size_t other = (read + 1) % axis_count;
    for (std::size_t i = 0; i < axis_count; ++i)
      if (i != read && axes[i].wired == Wiring::swapped) other = i;
    read = other;
  }
  return {.of = read, .dead = wired == Wiring::never, .reversed = wired == Wiring::reversed};
}

bool Plant::switch_line(Axis axis) const {
  const Wire& wire = wires_[index(axis)];
  return !wire.dead && switches_[wire.of].closed() != wire.reversed;
}

bool Plant::far_switch_line(Axis axis) const {
  const auto& far_switch = far_switches_[index(axis)];
  if (!far_switch || scenario_->axes[index(axis)].far->wired == Wiring::never) return false;
  return far_switch->closed() != (scenario_->axes[index(axis)].far->wired == Wiring::reversed);
}

bool Plant::touches_box(const std::array<double, 4>& box, double x, double y) const {
  const double dx = std::max({box[0] - x, 0.0, x - box[2]}), dy = std::max({box[1] - y, 0.0, y - box[3]});
  const double r = tool_.diameter / 2;
  return dx * dx + dy * dy < r * r || (dx == 0 && dy == 0);
}

/// The flat plate lies with its middle under where a hand puts it: over the stock's corner region or on the bed beside
/// it. The corner plate hangs over a corner, its walls outside.
bool Plant::touches_plate(const Point3& at) const {
  const auto& plate = scenario_->plate;
  const auto p = in_stock(at[0], at[1]);
  if (plate_ == PlatePlace::at_cutter) return true;
  if (plate_ == PlatePlace::on_bed) {
    // Wherever the tool is over the bed, a hand holds the plate under it.
    return !over_stock(at[0], at[1]) && at[2] < bed_height(at[0], at[1]) + plate.thickness;
  }
  if (!(scenario_->stock.size[2] > 0)) return false;
  if (plate_ == PlatePlace::on_stock)
    return over_stock(at[0], at[1]) && at[2] < top_height(at[0], at[1]) + plate.thickness;
  const auto& size = scenario_->stock.size;
  const double u = plate_right_ ? size[0] : 0, v = plate_back_ ? size[1] : 0;
  // A quarter turn makes the walls change places.
  const bool quarter = plate_right_ != plate_back_;
  const double wall_u = quarter ? plate.wall_y : plate.wall_x, wall_v = quarter ? plate.wall_x : plate.wall_y;
  const double u0 = plate_right_ ? u - plate_side_mm : u - wall_u, u1 = plate_right_ ? u + wall_u : u + plate_side_mm;
  const double v0 = plate_back_ ? v - plate_side_mm : v - wall_v, v1 = plate_back_ ? v + wall_v : v + plate_side_mm;
  return at[2] < stock_top(u, v) + plate.thickness && touches_box({u0, v0, u1, v1}, p[0], p[1]);
}

bool Plant::probe_line() const {
  if (probe_shorted_) return true;
  if (!clip_) return false;
  const Point3 at = tip();
  if (plate_ != PlatePlace::away && touches_plate(at)) return true;
  if (scenario_->setter) {
    const auto& setter = *scenario_->setter;
    const double r = setter_radius_mm + tool_.diameter / 2;
    if (at[2] < setter_top_ + setter_error_ && nearer(at[0] - setter.x, at[1] - setter.y, r)) return true;
  }
  return touches_stock(at);
}

bool Plant::touches_stock(const Point3& at) const {
  const auto& stock = scenario_->stock;
  if (!stock.conductive || !(stock.size[2] > 0) || at[2] >= highest_) return false;
  const auto p = in_stock(at[0], at[1]);
  const double r = tool_.diameter / 2;
  if (stock.round ? !nearer(p[0] - stock.size[0] / 2, p[1] - stock.size[0] / 2, stock.size[0] / 2 + r)
                  : !touches_box({0, 0, stock.size[0], stock.size[1]}, p[0], p[1]))
    return false;
  // At the edge of the tool the nearest place of the stock is what is touched.
  const double top = stock_top(std::clamp(p[0], 0.0, stock.size[0]), std::clamp(p[1], 0.0, stock.size[1]));
  if (const auto& recess = stock.recess) {
    const double du = std::fabs(p[0] - recess->u), dv = std::fabs(p[1] - recess->v);
    const bool clear_of_walls = recess->height > 0 ? du + r < recess->width / 2 && dv + r < recess->height / 2
                                                   : nearer(du, dv, recess->width / 2 - r);
    if (clear_of_walls) return at[2] < top - recess->depth;
  }
  return at[2] < top;
}

/// The setter trips a little elsewhere each time it is pressed.
void Plant::ready_setter(const Point3& at) {
  const auto& setter = *scenario_->setter;
  if (at[2] < setter_top_ + setter_error_) {
    setter_pressed_ = nearer(at[0] - setter.x, at[1] - setter.y, setter_radius_mm);
  } else if (setter_pressed_ && at[2] > setter_top_ + 0.1) {
    setter_pressed_ = false;
    std::normal_distribution<double> normal;
    setter_error_ = setter.s * normal(random_);
  }
}

bool Plant::hits_a_clamp(const Point3& at) const {
  for (const auto& c : clamps_)
    if (touches_box({c[0] - clamp_half_mm, c[1] - clamp_half_mm, c[0] + clamp_half_mm, c[1] + clamp_half_mm}, at[0],
                    at[1]) &&
        at[2] < bed_height(c[0], c[1]) + clamp_height_mm + (scenario_->stock.size[2]))
      return true;
  return false;
}

}  // namespace ypsi::standin
