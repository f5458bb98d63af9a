#pragma once
// Work zero at a corner, by a corner plate (or an inner corner without one): Z first, then each side, the tool led
// round outside the plate and down beside it under the probe's guard. Nothing is set by it. Source: handbook of the
// trade, 10.
#include "core/procedures/touch.h"

namespace ypsi {

struct CornerWay {
  bool x_towards_plus = true, y_towards_plus = true;  ///< the way the tool travels when it touches each side
  bool inner = false;                        ///< two walls of thickness 0, the tool between them: it need not go round
  double tool_diameter = 0;                  ///< mm, > 0
  double wall_x = 0, wall_y = 0, floor = 0;  ///< of the plate, mm, >= 0
  double out = 35;                           ///< from the start outwards before it goes down, mm, > 0
  double drop = 4;                           ///< below the plate's top where the sides are touched, mm, > 0
  double cross_rate = 1500;                  ///< mm/min
  TouchWay touch;                            ///< search distance, rates and repeats; axis and sense are set here
};

class CornerTouch : public Procedure {
 public:
  /// Errors: `out_of_range`; those of Touch; `limit` where the way round leaves the soft limits. Later also
  /// `in_the_way` where something was met on the way down beside the plate.
  Result<void> start(MachineLink& link, const CornerWay& way);
  /// Machine coordinates of the corner, on what the plate lies on. Precondition: phase() == done.
  const MachinePosition& corner() const { return corner_; }
  /// Of the slow touches of each axis.
  const std::vector<double>& triggers(Axis axis) const { return triggers_[index(axis)]; }
  /// Which part is under way: 0 top, 1 X, 2 Y.
  int part() const { return part_; }

 private:
  struct Step {
    enum class Kind { touch, go, down } kind;
    Axis axis;
    double value = 0;  ///< go: machine coordinate; down: distance; touch: unused
  };
  void step(const MachineStatus& now) override;
  void next();
  void plan_side(Axis axis);
  void found();
  CornerWay way_;
  MachinePosition start_, corner_;
  double top_ = 0;           ///< machine Z clear above the plate
  std::vector<Step> steps_;  ///< the last first
  Step step_{};
  int part_ = 0;
  Legs legs_;
  Touch touch_;
  ProgramRun down_;
  std::string block_;
  std::uint32_t probes_before_ = 0;
  std::array<std::vector<double>, axis_count> triggers_;
};

}  // namespace ypsi
