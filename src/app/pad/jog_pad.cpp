#include "app/pad/jog_pad.h"

#include <QApplication>
#include <cmath>

#include "app/session/machine_session.h"

namespace ypsi::app {

JogPad::JogPad(Session& session, QWidget* window, QWidget* strip)
    : QObject(window), session_(session), window_(window), strip_(strip), jog_(session) {
  setObjectName("jog-pad");
  timer_.setTimerType(Qt::PreciseTimer);
  connect(&timer_, &QTimer::timeout, this, &JogPad::look);
  timer_.start(looks_for_one_ms);
}

JogPad::~JogPad() = default;

bool JogPad::may_move() const {
  return now_.there && now_.pressed(buttons_.of(PadAct::guard)) && strip_->isVisible() &&
         QApplication::activeWindow() == window_ && !QApplication::activeModalWidget() &&
         !QApplication::activePopupWidget() && !session_.machine().hands();
}

void JogPad::look() {
  before_ = std::exchange(now_, source_.read());
  if (now_.there != before_.there) {
    timer_.start(now_.there ? looks_every_ms : looks_for_one_ms);
    emit came_or_went();
  }
  const int hold = buttons_.of(PadAct::hold);
  if (now_.pressed(hold) && !before_.pressed(hold)) session_.machine().hold();  // whatever else is so
  if (may_move()) {
    follow_buttons();
    follow_stick();
  } else if (std::exchange(going_, std::nullopt)) {
    jog_.let_go();
  }
  emit looked();
}

void JogPad::follow_buttons() {
  if (going_) return;
  for (const PadAct act : all_pad_acts)
    if (const auto step = step_of(act); step && now_.pressed(buttons_.of(act)) && !before_.pressed(buttons_.of(act)))
      return jog_.step(*step);
}

/// The axis that is pushed farthest, and how far in steps: a stick that trembles does not start and stop.
std::optional<JogPad::Push> JogPad::pushed() const {
  const std::pair<Axis, double> ways[] = {
      {Axis::x, now_.deflection(x_axis)}, {Axis::y, -now_.deflection(y_axis)}, {Axis::z, -now_.deflection(z_axis)}};
  const auto* far = &ways[0];
  for (const auto& way : ways)
    if (std::fabs(way.second) > std::fabs(far->second)) far = &way;
  const double way = (std::fabs(far->second) - dead_zone) / (1 - dead_zone);
  if (!(way > 0)) return std::nullopt;
  const auto part = static_cast<std::size_t>(std::ceil(way * std::size(parts))) - 1;
  return Push{{far->first, far->second > 0 ? 1.0 : -1.0}, std::min(part, std::size(parts) - 1)};
}

void JogPad::follow_stick() {
  const auto now = pushed();
  if (going_ && now != going_) {
    jog_.let_go();
    going_.reset();
  }
  if (!now || going_) return;
  // What it did before must stand first.
  if (!session_.machine().standing_ready() && session_.machine().status().state != MachineState::not_homed) return;
  jog_.hold(now->key, parts[now->part]);
  if (jog_.held()) going_ = now;
}

}  // namespace ypsi::app
