#include "core/procedures/setter_touch.h"

#include <fmt/format.h>

namespace ypsi {

Result<void> SetterTouch::start(MachineLink& link, const SetterWay& way) {
  const MachineStatus now = link.status();
  if (!now.all_homed()) return fail("not_homed", "Home the machine first: the setter's place means nothing before.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  if (now.inputs.probe) return tl::make_unexpected(already_touching());
  for (const auto& [axis, at] : {std::pair{Axis::x, way.x}, {Axis::y, way.y}, {Axis::z, way.safe_z}}) {
    const auto low = link.setting(axis_setting(axis, "soft_min_mm")),
               high = link.setting(axis_setting(axis, "soft_max_mm"));
    if (!low || !high) return tl::make_unexpected(low ? high.error() : low.error());
    if (!(at >= *low && at <= *high))
      return fail("limit",
                  fmt::format("The setter's place needs {} at {:.2f}, beyond the limits {:.2f} and {:.2f}. Nothing "
                              "moved; take its place from the machine again.",
                              letter(axis), at, *low, *high));
  }
  const auto low_z = link.setting(axis_setting(Axis::z, "soft_min_mm"));
  if (!low_z) return tl::make_unexpected(low_z.error());
  link_ = &link;
  way_ = way;
  way_.touch.axis = Axis::z;
  way_.touch.towards_plus = false;
  way_.touch.search = std::min(way_.touch.search, way_.safe_z - *low_z);
  legs_ = {{Axis::y, way.y}, {Axis::x, way.x}, {Axis::z, std::max(way.safe_z, now.position.z)}};
  touching_ = touched_ = false;
  stage_ = Stage::running;
  next();
  if (stage_ == Stage::failed) return tl::make_unexpected(error_);
  return {};
}

void SetterTouch::fail_with(Error error) {
  stage_ = Stage::failed;
  error_ = std::move(error);
}

void SetterTouch::next() {
  while (!legs_.empty()) {
    leg_ = legs_.back();
    legs_.pop_back();
    const double distance = leg_.second - link_->status().position[leg_.first];
    if (distance == 0) continue;
    if (const auto moved = link_->jog(leg_.first, distance, way_.cross_rate); !moved) fail_with(moved.error());
    return;
  }
  if (touched_) {
    stage_ = Stage::done;
    return;
  }
  touching_ = true;
  if (const auto begun = touch_.start(*link_, way_.touch); !begun) fail_with(begun.error());
}

void SetterTouch::tick() {
  if (stage_ != Stage::running) return;
  if (touching_) {
    touch_.tick();
    if (touch_.running()) return;
    if (touch_.stage() != Touch::Stage::done) return fail_with(touch_.error());
    touching_ = false;
    touched_ = true;
    legs_ = {{Axis::z, way_.safe_z}};
    return next();
  }
  const MachineStatus now = link_->status();
  if (now.state == MachineState::moving) return;
  if (!arrived(now, leg_.first, leg_.second))
    return fail_with({"stopped", "The way to the setter was ended; nothing was measured.", ""});
  next();
}

void SetterTouch::cancel() {
  if (!running()) return;
  if (touching_)
    touch_.cancel();
  else
    link_->end_jog();
  fail_with({"cancelled", "The measurement was ended; nothing was changed.", ""});
}

}  // namespace ypsi
