#include "core/procedures/corner_touch.h"

#include <fmt/format.h>

#include <cmath>

#include "core/calibration/probing.h"
#include "core/metrology/spread.h"
#include "core/procedures/readiness.h"

namespace ypsi {
namespace {
constexpr double down_mm_min = 200;
}

Result<void> CornerTouch::start(MachineLink& link, const CornerWay& way) {
  for (const double v : {way.tool_diameter, way.out, way.drop, way.cross_rate})
    if (!(v > 0) || !std::isfinite(v))
      return fail("out_of_range", "The tool's diameter, the way round and the way down must be above zero.");
  for (const double v : {way.wall_x, way.wall_y, way.floor})
    if (!(v >= 0) || !std::isfinite(v))
      return fail("out_of_range", "The plate's walls and its thickness must not be below zero.");
  const MachineStatus now = link.status();
  if (auto ok = ready_to_move(now, "a corner has no place before."); !ok) return ok;
  if (!way.inner)
    for (const auto& [axis, plus] : {std::pair{Axis::x, way.x_towards_plus}, {Axis::y, way.y_towards_plus}})
      if (auto ok = inside_travel(link, axis, now.position[axis] + (plus ? -way.out : way.out),
                                  "The way round the plate", "lay the stock further in.");
          !ok)
        return ok;
  way_ = way;
  way_.touch.axis = Axis::z;
  way_.touch.towards_plus = false;
  if (auto ok = touch_.start(link, way_.touch); !ok) return ok;
  start_ = now.position;
  for (auto& t : triggers_) t.clear();
  steps_.clear();
  part_ = 0;
  step_ = {Step::Kind::touch, Axis::z};
  begin(link);
  return {};
}

/// Out beside the plate and down, the touch, and back above it; an inner corner needs no way round.
void CornerTouch::plan_side(Axis axis) {
  const double way = (axis == Axis::x ? way_.x_towards_plus : way_.y_towards_plus) ? 1 : -1;
  ++part_;
  if (way_.inner) {
    steps_ = {{Step::Kind::go, axis, start_[axis]}, {Step::Kind::touch, axis}};
    return;
  }
  const double down = way_.drop + (top_ - mean(triggers_[index(Axis::z)]));
  steps_ = {{Step::Kind::go, axis, start_[axis]},
            {Step::Kind::go, Axis::z, top_},
            {Step::Kind::touch, axis},
            {Step::Kind::down, Axis::z, down},
            {Step::Kind::go, axis, start_[axis] - way * way_.out}};
}

void CornerTouch::next() {
  if (steps_.empty()) {
    if (part_ == 2) return found();
    if (part_ == 0) top_ = link().status().position.z;
    plan_side(part_ == 0 ? Axis::x : Axis::y);
  }
  step_ = steps_.back();
  steps_.pop_back();
  Result<void> ok;
  if (step_.kind == Step::Kind::go) {
    ok = legs_.start(link(), {{step_.axis, step_.value, way_.cross_rate}});
  } else if (step_.kind == Step::Kind::down) {
    probes_before_ = link().status().probe.count;
    block_ = fmt::format("G21 G91 G38.3 Z{:.4f} F{:.1f}\n", -step_.value, down_mm_min);
    ok = down_.start(link(), block_);
  } else {
    TouchWay touch = way_.touch;
    touch.axis = step_.axis;
    touch.towards_plus = step_.axis == Axis::x ? way_.x_towards_plus : way_.y_towards_plus;
    if (!way_.inner) touch.search = std::max(touch.search, way_.out);
    ok = touch_.start(link(), touch);
  }
  if (!ok) fail_with(ok.error());
}

void CornerTouch::step(const MachineStatus& now) {
  switch (step_.kind) {
    case Step::Kind::touch:
      touch_.tick();
      if (touch_.running()) return;
      if (touch_.phase() != Phase::done) return fail_with(touch_.error());
      triggers_[index(step_.axis)] = touch_.triggers();
      return next();
    case Step::Kind::go: {
      const auto state = legs_.tick(now);
      if (state == Legs::State::walking) return;
      if (state == Legs::State::ended)
        return fail_with(legs_.why("The way round the plate was ended; work zero is untouched."));
      return next();
    }
    case Step::Kind::down:
      down_.tick();
      if (down_.state() == RunState::running) return;
      if (down_.state() != RunState::finished)
        return fail_with(
            {"stopped", down_.why().empty() ? "The way down was ended; work zero is untouched." : down_.why(), ""});
      if (const auto& probe = link().status().probe; probe.count != probes_before_ && probe.contact)
        return fail_with(
            {"in_the_way",
             "Something was met on the way down beside the plate: the tool stood too far in. Lift it, bring "
             "it nearer to the corner, and touch again; work zero is untouched.",
             ""});
      return next();
  }
}

void CornerTouch::found() {
  corner_.x = touched_edge(mean(triggers_[0]), way_.x_towards_plus, way_.tool_diameter, way_.wall_x);
  corner_.y = touched_edge(mean(triggers_[1]), way_.y_towards_plus, way_.tool_diameter, way_.wall_y);
  corner_.z = mean(triggers_[2]) - way_.floor;
  finish();
}

}  // namespace ypsi
