#include "app/pad/pad_source.h"

#define SDL_MAIN_HANDLED
#include <SDL2/SDL.h>

#include <algorithm>

namespace ypsi::app {
namespace {

constexpr double axis_full = 32767;

/// For as long as the program runs: a pad can be plugged in at any time.
bool ready() {
  static const bool is_ready = [] {
    SDL_SetMainReady();
    SDL_SetHint(SDL_HINT_NO_SIGNAL_HANDLERS, "1");
    SDL_SetHint(SDL_HINT_JOYSTICK_ALLOW_BACKGROUND_EVENTS, "1");  // the window is Qt's; who looks decides
    return SDL_InitSubSystem(SDL_INIT_GAMECONTROLLER) == 0;
  }();
  return is_ready;
}

double part_of(Sint16 value) {
  return std::max(-1.0, value / axis_full);
}

}  // namespace

PadSource::PadSource() {
  ready();
}

PadSource::~PadSource() {
  if (pad_)
    SDL_GameControllerClose(static_cast<SDL_GameController*>(pad_));
  else if (joystick_)
    SDL_JoystickClose(static_cast<SDL_Joystick*>(joystick_));
}

PadReading PadSource::read() {
  PadReading now;
  if (!ready()) return now;
  SDL_JoystickUpdate();
  auto* joystick = static_cast<SDL_Joystick*>(joystick_);
  if (joystick && SDL_JoystickGetAttached(joystick) != SDL_TRUE) {
    if (pad_)
      SDL_GameControllerClose(static_cast<SDL_GameController*>(pad_));
    else
      SDL_JoystickClose(joystick);
    pad_ = joystick_ = joystick = nullptr;
    return now;  // that it went is told before another is taken
  }
  if (!joystick && SDL_NumJoysticks() > 0) {
    if (SDL_IsGameController(0) == SDL_TRUE) {
      pad_ = SDL_GameControllerOpen(0);
      if (pad_) joystick_ = SDL_GameControllerGetJoystick(static_cast<SDL_GameController*>(pad_));
    } else {
      joystick_ = SDL_JoystickOpen(0);
    }
    joystick = static_cast<SDL_Joystick*>(joystick_);
  }
  if (!joystick) return now;
  now.there = true;
  now.name = QString::fromUtf8(SDL_JoystickName(joystick));
  if (auto* pad = static_cast<SDL_GameController*>(pad_)) {
    for (int axis = 0; axis < SDL_CONTROLLER_AXIS_MAX; ++axis)
      now.axes.push_back(part_of(SDL_GameControllerGetAxis(pad, static_cast<SDL_GameControllerAxis>(axis))));
    for (int button = 0; button < SDL_CONTROLLER_BUTTON_MAX; ++button)
      now.buttons.push_back(SDL_GameControllerGetButton(pad, static_cast<SDL_GameControllerButton>(button)) != 0);
    return now;
  }
  for (int axis = 0; axis < SDL_JoystickNumAxes(joystick); ++axis)
    now.axes.push_back(part_of(SDL_JoystickGetAxis(joystick, axis)));
  for (int button = 0; button < SDL_JoystickNumButtons(joystick); ++button)
    now.buttons.push_back(SDL_JoystickGetButton(joystick, button) != 0);
  return now;
}

}  // namespace ypsi::app
