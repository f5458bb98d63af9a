#include "standin/arming.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

namespace ypsi::standin {
namespace {

constexpr double least_supply_bar = 4;  // at which its pressure switch closes
constexpr std::string_view air = "air";

}  // namespace

std::string Arming::in_order() const {
  return fmt::format("{}", fmt::join(truth_.points, ", "));
}

Result<void> Arming::switch_on(std::string_view point, bool stop_pressed) {
  const auto& points = truth_.points;
  if (points.empty()) return {};
  const auto found = std::find(points.begin(), points.end(), point);
  if (found == points.end())
    return fail("unknown_point", fmt::format("There is no “{}” to be switched on here; it is {}.", point, in_order()));
  const auto place = static_cast<std::size_t>(found - points.begin());
  if (place < on_) return {};
  if (place > on_) return fail("not_armed", fmt::format("First the {}; the order is {}.", points[on_], in_order()));
  if (point == air && truth_.supply_bar < least_supply_bar)
    return fail("not_armed", fmt::format("The supply shows {:.1f} bar, and its pressure switch closes at {:g}: look at "
                                         "the compressor and the main valve.",
                                         truth_.supply_bar, least_supply_bar));
  if (point != air && stop_pressed)
    return fail("not_armed",
                "Only the air comes on while an emergency stop is pressed; find which, make the machine safe, release "
                "it.");
  ++on_;
  return {};
}

void Arming::stop() {
  const auto& points = truth_.points;
  const auto first = std::find_if(points.begin(), points.end(), [](const std::string& p) { return p != air; });
  on_ = std::min(on_, static_cast<std::size_t>(first - points.begin()));
}

Result<void> Arming::all_on() const {
  if (on_ >= truth_.points.size()) return {};
  return fail("not_armed", fmt::format("Nothing moves before it is switched on, in this order: {}. Next is the {}.",
                                       in_order(), truth_.points[on_]));
}

}  // namespace ypsi::standin
