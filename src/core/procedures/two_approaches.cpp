#include "core/procedures/two_approaches.h"

#include <fmt/format.h>

#include "core/procedures/readiness.h"

namespace ypsi {
namespace {
constexpr double arrival_rate_part = 0.1;  // arrivals are slow, so that nothing swings
}  // namespace

std::vector<Leg> TwoApproaches::way(bool plus) const {
  return {{axis_, place_ + (plus ? -run_up_mm : run_up_mm), rate_}, {axis_, place_, rate_ * arrival_rate_part}};
}

Result<void> TwoApproaches::start(MachineLink& link, Axis axis, double place, double rate) {
  if (auto ok = ready_to_move(link.status(), "places on the travel mean nothing before.", axis); !ok) return ok;
  const auto limits = soft_limits(link, axis);
  if (!limits) return tl::make_unexpected(limits.error());
  if (!(limits->holds(place - run_up_mm) && limits->holds(place + run_up_mm)))
    return fail("limit", fmt::format("{} needs {:g} mm on both sides of the place to arrive from; between the soft "
                                     "limits that leaves {:.1f} to {:.1f}.",
                                     letter(axis), run_up_mm, limits->low + run_up_mm, limits->high - run_up_mm));
  axis_ = axis;
  place_ = place;
  rate_ = rate;
  if (auto ok = legs_.start(link, way(true)); !ok) return ok;
  stage_ = Stage::arriving_plus;
  begin(link);
  return {};
}

void TwoApproaches::step(const MachineStatus& now) {
  if (needs() == WaitsFor::reading) return;
  switch (legs_.tick(now)) {
    case Legs::State::walking:
      return;
    case Legs::State::ended:
      return fail_with(legs_.why("The move was ended before its place; nothing was measured there."));
    case Legs::State::arrived:
      stage_ = stage_ == Stage::arriving_plus ? Stage::read_plus : Stage::read_minus;
  }
}

void TwoApproaches::go_on() {
  if (waits_for() != WaitsFor::reading) return;
  if (stage_ == Stage::read_minus) return finish();
  stage_ = Stage::arriving_minus;
  if (const auto ok = legs_.start(link(), way(false)); !ok) fail_with(ok.error());
}

}  // namespace ypsi
