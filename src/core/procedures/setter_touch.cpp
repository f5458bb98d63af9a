#include "core/procedures/setter_touch.h"

#include <algorithm>

#include "core/procedures/readiness.h"

namespace ypsi {

Result<void> SetterTouch::start(MachineLink& link, const SetterWay& way) {
  const MachineStatus now = link.status();
  if (auto ok = ready_to_move(now, "the setter's place means nothing before."); !ok) return ok;
  if (now.inputs.probe) return tl::make_unexpected(already_touching());
  for (const auto& [axis, at] : {std::pair{Axis::x, way.x}, {Axis::y, way.y}, {Axis::z, way.safe_z}})
    if (auto ok = inside_travel(link, axis, at, "The setter's place", "take its place from the machine again."); !ok)
      return ok;
  const auto z = soft_limits(link, Axis::z);
  if (!z) return tl::make_unexpected(z.error());
  way_ = way;
  way_.touch.axis = Axis::z;
  way_.touch.towards_plus = false;
  way_.touch.search = std::min(way_.touch.search, way_.safe_z - z->low);
  touching_ = touched_ = false;
  if (auto ok = legs_.start(link, {{Axis::z, std::max(way.safe_z, now.position.z), way.cross_rate},
                                   {Axis::x, way.x, way.cross_rate},
                                   {Axis::y, way.y, way.cross_rate}});
      !ok)
    return ok;
  begin(link);
  return {};
}

void SetterTouch::step(const MachineStatus& now) {
  if (touching_) {
    touch_.tick();
    if (touch_.running()) return;
    if (touch_.phase() != Phase::done) return fail_with(touch_.error());
    touching_ = false;
    touched_ = true;
    if (const auto up = legs_.start(link(), {{Axis::z, way_.safe_z, way_.cross_rate}}); !up) fail_with(up.error());
    return;
  }
  const auto state = legs_.tick(now);
  if (state == Legs::State::walking) return;
  if (state == Legs::State::ended)
    return fail_with(legs_.why("The way to the setter was ended; nothing was measured."));
  if (touched_) return finish();
  touching_ = true;
  if (const auto ok = touch_.start(link(), way_.touch); !ok) fail_with(ok.error());
}

}  // namespace ypsi
