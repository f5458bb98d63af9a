#include "app/widgets/jog_keys.h"

#include <utility>

#include "app/session/machine_session.h"

namespace ypsi::app {

std::optional<JogKey> jog_key(const QKeyEvent& event) {
  const bool vertical = event.modifiers() & Qt::ShiftModifier;
  switch (event.key()) {
    case Qt::Key_Left:
      return JogKey{Axis::x, -1};
    case Qt::Key_Right:
      return JogKey{Axis::x, 1};
    case Qt::Key_Up:
      return JogKey{vertical ? Axis::z : Axis::y, 1};
    case Qt::Key_Down:
      return JogKey{vertical ? Axis::z : Axis::y, -1};
    default:
      return std::nullopt;
  }
}

void HeldJog::step(JogKey key) const {
  session_.machine().jog(key.axis, key.sign * session_.machine().jog_step());
}

void HeldJog::hold(JogKey key, double part_of_rate) {
  MachineSession& machine = session_.machine();
  if (held_ || machine.status().state == MachineState::moving) return;
  const double room = machine.room_ahead(key.axis, key.sign);
  if (!(room > 0)) return;
  held_ = true;
  machine.jog(key.axis, key.sign * room, part_of_rate);
}

void HeldJog::let_go() {
  if (std::exchange(held_, false)) session_.machine().end_jog();
}

}  // namespace ypsi::app
