#pragma once
// Marks put down at chosen places, each arrived at from below on both axes, so that lost motion is in none of them.
// Source: handbook of the trade, 7.
#include <algorithm>
#include <string>
#include <vector>

#include "core/calibration/squareness.h"
#include "core/procedures/legs.h"
#include "core/procedures/procedure.h"

namespace ypsi {

struct MarkingWay {
  double lift_z = 0, mark_z = 0;          ///< machine coordinates, mark below lift
  double rate = 1000, plunge_rate = 200;  ///< mm/min
};

class MarkPoints : public Procedure {
 public:
  /// Checks every place and its run-up against the soft limits before anything moves. Errors: `not_homed`, `busy`,
  /// `limit` naming the mark, `too_few` without a point.
  Result<void> start(MachineLink& link, std::vector<MarkedPoint> points, const MarkingWay& way);
  /// The mark is down; on to the next. Nothing where it is not on_mark().
  void go_on();
  bool on_mark() const { return waits_for() == WaitsFor::act; }
  /// The one on its way or just marked. Precondition: started.
  const MarkedPoint& point() const { return points_[std::min(at_, points_.size() - 1)]; }

 private:
  void step(const MachineStatus& now) override;
  WaitsFor needs() const override { return on_mark_ ? WaitsFor::act : WaitsFor::machine; }
  std::vector<Leg> way_to(const MarkedPoint& point) const;
  std::vector<MarkedPoint> points_;
  MarkingWay way_;
  std::size_t at_ = 0;
  bool on_mark_ = false;
  Legs legs_;
};

/// The same as G-code (ISO 6983-1) for any controller: work zero at the first mark, on the surface. `depth` and `lift`
/// mm from the surface, > 0; `feed` mm/min. The spindle stands: a pointed tool or a pen marks.
std::string marking_program(const std::vector<MarkedPoint>& points, double depth, double lift, double feed,
                            int frame = 0);

}  // namespace ypsi
