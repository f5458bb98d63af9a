#pragma once
// Straight moves of one axis each, one after another, each seen to have arrived before the next begins.
#include <vector>

#include "core/procedures/machine_link.h"

namespace ypsi {

struct Leg {
  Axis axis = Axis::x;
  double place = 0;  ///< machine coordinate, mm
  double rate = 0;   ///< mm/min, > 0
};

class Legs {
 public:
  enum class State { walking, arrived, ended };

  /// Sets out; places where an axis stands already are passed over. Errors: those of a jog, and then nothing moves.
  Result<void> start(MachineLink& link, std::vector<Leg> legs);
  /// `arrived` once the last is reached; `ended` where somebody or something ended a move before its place, or the next
  /// one was refused.
  State tick(const MachineStatus& now);
  /// Why it `ended`: the refusal of a move, or `stopped` with `sentence` where one was ended before its place.
  Error why(const char* sentence) const { return why_.code.empty() ? Error{"stopped", sentence, ""} : why_; }

 private:
  Result<void> next();
  MachineLink* link_ = nullptr;
  std::vector<Leg> legs_;
  std::size_t at_ = 0;
  bool on_the_way_ = false;
  Error why_;
};

}  // namespace ypsi
