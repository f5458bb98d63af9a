#include "core/rehearsal/counted_bench.h"

namespace ypsi {
namespace {

// What a reading takes, by the instrument's name; a ruler or a tape where it is neither.
constexpr double with_caliper_s = 25, with_indicator_s = 15, with_ruler_s = 40, act_s = 5;

double seconds_of(std::string_view instrument) {
  if (instrument.find("caliper") != std::string_view::npos) return with_caliper_s;
  if (instrument.find("indicator") != std::string_view::npos || instrument.find("scale") != std::string_view::npos)
    return with_indicator_s;
  return with_ruler_s;
}

}  // namespace

Bench& CountedBench::read(std::string_view instrument) {
  ++effort_.readings;
  effort_.seconds += seconds_of(instrument);
  return inner_;
}

Bench& CountedBench::act() {
  ++effort_.acts;
  effort_.seconds += act_s;
  return inner_;
}

void CountedBench::mark(Axis axis) {
  act().mark(axis);
}
Result<double> CountedBench::read_distance(Axis axis, std::string_view instrument) {
  return read(instrument).read_distance(axis, instrument);
}
Result<double> CountedBench::read_free_way(Axis axis, bool towards_plus, std::string_view instrument) {
  return read(instrument).read_free_way(axis, towards_plus, instrument);
}
Result<void> CountedBench::spot(std::string_view name) {
  return act().spot(name);
}
Result<double> CountedBench::read_between(std::string_view from, std::string_view to, std::string_view instrument) {
  return read(instrument).read_between(from, to, instrument);
}
Result<double> CountedBench::read_square(double length, bool turned, std::string_view instrument) {
  return read(instrument).read_square(length, turned, instrument);
}
Result<double> CountedBench::read_blade(Axis towards, double height, bool turned, std::string_view instrument) {
  return read(instrument).read_blade(towards, height, turned, instrument);
}
Result<double> CountedBench::read_sweep(double radius, double angle_deg, std::string_view instrument) {
  return read(instrument).read_sweep(radius, angle_deg, instrument);
}
Result<double> CountedBench::measure(const CutFeature& feature, std::string_view instrument) {
  return read(instrument).measure(feature, instrument);
}
Result<std::array<double, 2>> CountedBench::pointer_from(std::string_view spotted, double power_percent) {
  return act().pointer_from(spotted, power_percent);
}
Result<std::array<double, 2>> CountedBench::head_from(std::string_view head, std::string_view spotted) {
  return act().head_from(head, spotted);
}
Result<double> CountedBench::read_strokes(const StrokePoint& from, const StrokePoint& to, Axis along,
                                          std::string_view instrument) {
  return read(instrument).read_strokes(from, to, along, instrument);
}
Result<double> CountedBench::read_width(std::string_view head, std::string_view instrument) {
  return read(instrument).read_width(head, instrument);
}
Result<double> CountedBench::read_from_fence(std::string_view fence, std::string_view instrument) {
  return read(instrument).read_from_fence(fence, instrument);
}
Result<double> CountedBench::read_strips(std::string_view head, int strips, std::string_view instrument) {
  return read(instrument).read_strips(head, strips, instrument);
}
Result<double> CountedBench::read_groove(double tick, std::string_view instrument) {
  return read(instrument).read_groove(tick, instrument);
}
void CountedBench::turn_nose(double tick) {
  act().turn_nose(tick);
}
Result<TrialSeen> CountedBench::try_cut(std::string_view head, double level) {
  return act().try_cut(head, level);
}
void CountedBench::set_clip(bool on) {
  act().set_clip(on);
}
void CountedBench::hold_switch(Axis axis, bool pressed) {
  act().hold_switch(axis, pressed);
}
void CountedBench::hold_far_switch(Axis axis, bool pressed) {
  act().hold_far_switch(axis, pressed);
}
void CountedBench::press_emergency_stop(bool pressed) {
  act().press_emergency_stop(pressed);
}
void CountedBench::lay_plate(PlatePlace place) {
  act().lay_plate(place);
}
Result<void> CountedBench::arm(std::string_view point) {
  return act().arm(point);
}
Result<void> CountedBench::put_tool(int number) {
  return act().put_tool(number);
}
void CountedBench::lay_clamp(double x, double y) {
  act().lay_clamp(x, y);
}
void CountedBench::take_clamps_away() {
  act().take_clamps_away();
}
void CountedBench::lay_fresh_stock() {
  act().lay_fresh_stock();
}
void CountedBench::adjust_nut(Axis axis) {
  act().adjust_nut(axis);
}
void CountedBench::move_rail_end(RailEnd end, double distance) {
  act().move_rail_end(end, distance);
}

}  // namespace ypsi
