#include "standin/standin.h"

#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>

namespace ypsi::standin {
namespace {
constexpr const char* kept_settings[] = {"steps_per_mm", "soft_min_mm", "soft_max_mm",       "max_rate_mm_min",
                                         "accel_mm_s2",  "reversed",    "home_coordinate_mm"};
constexpr double what_the_eye_sees_mm = 0.5, paper_mm = 0.1;
double rounded(double value, double step) {
  return std::round(value / step) * step;
}
}  // namespace

StandIn::StandIn(Scenario scenario)
    : scenario_(std::move(scenario)),
      controller_(std::make_unique<Controller>(scenario_)),
      random_(scenario_.seed ^ 0x5bd1e995u) {
  std::normal_distribution<double> normal;
  for (const auto& [name, i] : scenario_.instruments)
    calibration_[name] = {i.u_cal_mm * normal(random_), i.u_rel * normal(random_)};
}

void StandIn::mark(Axis axis) {
  marks_[index(axis)] = true_place(axis);
}

Result<double> StandIn::read_distance(Axis axis, std::string_view name) {
  if (!marks_[index(axis)])
    return fail("no_mark", fmt::format("There is no mark on {} yet; mark first, then move.", letter(axis)));
  const auto found = scenario_.instruments.find(name);
  if (found == scenario_.instruments.end())
    return fail("unknown_instrument",
                fmt::format("There is no “{}” at the stand-in; choose another instrument.", name));
  const Instrument& i = found->second;
  const CalibrationError& error = calibration_.find(name)->second;
  std::normal_distribution<double> normal;
  std::uniform_real_distribution<double> somewhere(0, i.resolution_mm);
  const double distance = true_place(axis) - *marks_[index(axis)];
  const double seen = std::fabs(distance) * (1 + error.relative) + error.fixed + i.scatter_mm() * normal(random_);
  // A ruler is laid down anywhere: both of its ends are read, and each is rounded by itself.
  const double offset = i.ends >= 2 ? somewhere(random_) : 0;
  const double read = rounded(offset + seen, i.resolution_mm) - (i.ends >= 2 ? rounded(offset, i.resolution_mm) : 0);
  return std::copysign(read, distance);
}

double StandIn::gap_seen() const {
  const double x = true_place(Axis::x), y = true_place(Axis::y);
  const bool over_stock = x >= scenario_.stock_x && x <= scenario_.stock_x + scenario_.stock_size[0] &&
                          y >= scenario_.stock_y && y <= scenario_.stock_y + scenario_.stock_size[1];
  const int in_spindle = controller_->status().tool;
  double length = 0;
  for (const auto& t : scenario_.tools)
    if (t.number == in_spindle) length = t.stickout;
  const double gap = true_place(Axis::z) - length - scenario_.bed_z - (over_stock ? scenario_.stock_size[2] : 0);
  if (gap >= 0 && gap < paper_mm) return 0;
  if (gap < 0) return gap;
  return gap < 3 ? rounded(gap, 0.1) : rounded(gap, what_the_eye_sees_mm);
}

std::optional<Bench::Outline> StandIn::stock_seen() const {
  if (!(scenario_.stock_size[0] > 0)) return std::nullopt;
  const MachinePosition believed = controller_->status().position;
  const double x = std::round(scenario_.stock_x - true_place(Axis::x) + believed.x);
  const double y = std::round(scenario_.stock_y - true_place(Axis::y) + believed.y);
  return Outline{x, y, x + scenario_.stock_size[0], y + scenario_.stock_size[1]};
}

std::string StandIn::settings() const {
  nlohmann::json out;
  for (const Axis a : all_axes)
    for (const char* what : kept_settings) {
      const auto name = axis_setting(a, what);
      out[name] = controller_->setting(name).value_or(0);
    }
  return out.dump(1) + "\n";
}

void StandIn::restore_settings(std::string_view text) {
  const auto in = nlohmann::json::parse(text, nullptr, false);
  if (!in.is_object()) return;
  for (const auto& [name, value] : in.items())
    if (value.is_number()) (void)controller_->set_setting(name, value.get<double>());
}

}  // namespace ypsi::standin
