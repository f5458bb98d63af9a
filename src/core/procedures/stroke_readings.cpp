#include "core/procedures/stroke_readings.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/procedures/readiness.h"
#include "core/procedures/two_approaches.h"

namespace ypsi {
namespace {
constexpr double overlap = 0.25, slow_part = 0.25;
constexpr int least_in_a_stroke = 8;
}  // namespace

std::vector<StrokeStop> stroke_stops(double from, double turn, double reach, double turns, int per_turn) {
  const double way = turns * turn, stroke = std::min(way, reach);
  const int strokes = way <= reach ? 1 : 1 + static_cast<int>(std::ceil((way - stroke) / (stroke * (1 - overlap))));
  const int places = std::max(least_in_a_stroke, static_cast<int>(std::lround(stroke / turn * per_turn)));
  std::vector<StrokeStop> stops;
  for (int k = 0; k < strokes; ++k) {
    const double start = from + (strokes == 1 ? 0 : (way - stroke) * k / (strokes - 1));
    for (int i = 0; i < places; ++i) {
      // Not at equal steps, or what repeats with them is not seen: by parts of the golden ratio.
      const double odd = i == 0 || i == places - 1 ? 0 : 0.6 * (std::fmod(i * 0.618034, 1.0) - 0.5);
      stops.push_back({start + stroke * (i + odd) / (places - 1), k});
    }
  }
  return stops;
}

std::vector<Leg> StrokeReadings::way() const {
  const double place = stops_[at_].place;
  if (begins_a_stroke()) return {{axis_, place - run_up_mm, rate_}, {axis_, place, rate_ * slow_part}};
  return {{axis_, place, rate_ * slow_part}};
}

Result<void> StrokeReadings::start(MachineLink& link, Axis axis, std::vector<StrokeStop> stops, double rate) {
  if (stops.empty()) return fail("too_few", "There is no place to read the indicator at.");
  if (auto ok = ready_to_move(link.status(), "places on the travel mean nothing before.", axis); !ok) return ok;
  const auto limits = soft_limits(link, axis);
  if (!limits) return tl::make_unexpected(limits.error());
  const auto [low, high] = std::minmax_element(
      stops.begin(), stops.end(), [](const StrokeStop& a, const StrokeStop& b) { return a.place < b.place; });
  if (!(limits->holds(low->place - run_up_mm) && limits->holds(high->place)))
    return fail("limit", fmt::format("{} is to go from {:.1f} to {:.1f} and needs {:g} mm before that to arrive from; "
                                     "its soft limits are {:.1f} and {:.1f}.",
                                     letter(axis), low->place, high->place, run_up_mm, limits->low, limits->high));
  axis_ = axis;
  rate_ = rate;
  stops_ = std::move(stops);
  at_ = 0;
  reading_ = false;
  if (auto ok = legs_.start(link, way()); !ok) return ok;
  begin(link);
  return {};
}

void StrokeReadings::step(const MachineStatus& now) {
  if (reading_) return;
  switch (legs_.tick(now)) {
    case Legs::State::walking:
      return;
    case Legs::State::ended:
      return fail_with(legs_.why("The move was ended before its place; nothing was measured there."));
    case Legs::State::arrived:
      reading_ = true;
  }
}

void StrokeReadings::go_on() {
  if (waits_for() != WaitsFor::reading) return;
  if (at_ + 1 == stops_.size()) return finish();
  ++at_;
  reading_ = false;
  if (const auto ok = legs_.start(link(), way()); !ok) fail_with(ok.error());
}

}  // namespace ypsi
