#pragma once
// A jog pad: what its sticks and buttons say now. By SDL 2, which is seen in this file's source alone.
#include <QString>
#include <vector>

namespace ypsi::app {

struct PadReading {
  bool there = false;
  QString name;
  std::vector<double> axes;   ///< of its sticks, -1 to 1: left x, left y, right x, right y, …; down and right are +
  std::vector<bool> buttons;  ///< by number, as the pad has them
  bool pressed(int button) const {
    return button >= 0 && button < static_cast<int>(buttons.size()) && buttons[static_cast<std::size_t>(button)];
  }
  double deflection(int axis) const {
    return axis >= 0 && axis < static_cast<int>(axes.size()) ? axes[static_cast<std::size_t>(axis)] : 0;
  }
};

class PadSource {
 public:
  PadSource();
  ~PadSource();
  PadSource(const PadSource&) = delete;
  PadSource& operator=(const PadSource&) = delete;
  /// The pad that was there first; looks for one where there is none. Nothing of SDL has a window or takes a key.
  PadReading read();

 private:
  void* pad_ = nullptr;       // an SDL_GameController, where its layout is known
  void* joystick_ = nullptr;  // the same, or any other
};

}  // namespace ypsi::app
