#pragma once
// A tool measured on the tool setter: lift, across to its place, down to it under the probe's guard, and up again.
// Source: handbook of the trade, 11.
#include "core/procedures/touch.h"

namespace ypsi {

struct SetterWay {
  double x = 0, y = 0;       ///< the setter's place, machine coordinates
  double safe_z = 0;         ///< machine Z of the way across and of the search's start
  double cross_rate = 3000;  ///< mm/min
  TouchWay touch;            ///< of Z, downwards; its search distance reaches from safe_z to the setter and beyond
};

class SetterTouch : public Procedure {
 public:
  /// Errors: `limit` where the place or the safe height is outside the soft limits; those of Touch.
  Result<void> start(MachineLink& link, const SetterWay& way);
  const std::vector<double>& triggers() const { return touch_.triggers(); }

 private:
  void step(const MachineStatus& now) override;
  SetterWay way_;
  Legs legs_;
  bool touching_ = false, touched_ = false;
  Touch touch_;
};

}  // namespace ypsi
