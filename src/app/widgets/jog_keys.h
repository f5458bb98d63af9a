#pragma once
// Moving by keys: a tap is one step, a key that is held moves on until it is let go. At the jog rate, never faster.
#include <QKeyEvent>
#include <optional>

#include "app/session/session.h"
#include "core/geometry.h"

namespace ypsi::app {

struct JogKey {
  Axis axis = Axis::x;
  double sign = 1;  ///< towards + or -
};

/// Arrows are X and Y, with Shift up and down are Z; none for any other key.
std::optional<JogKey> jog_key(const QKeyEvent& event);

/// What is held down; letting go of it ends the move.
class HeldJog {
 public:
  explicit HeldJog(Session& session) : session_(session) {}
  void step(JogKey key) const;
  /// On to the limit at most, or 10 mm before homing, at a part of the jog rate. Nothing while something moves.
  void hold(JogKey key, double part_of_rate = 1);
  void let_go();
  bool held() const { return held_; }

 private:
  Session& session_;
  bool held_ = false;
};

}  // namespace ypsi::app
