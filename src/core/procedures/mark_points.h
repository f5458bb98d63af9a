#pragma once
// Marks put down at chosen places, each arrived at from below on both axes, so that lost motion is in none of them.
// Source: handbook of the trade, 7.
#include <algorithm>
#include <string>
#include <vector>

#include "core/calibration/squareness.h"
#include "core/procedures/machine_link.h"

namespace ypsi {

struct MarkingWay {
  double lift_z = 0, mark_z = 0;          ///< machine coordinates, mark below lift
  double rate = 1000, plunge_rate = 200;  ///< mm/min
};

class MarkPoints {
 public:
  enum class Stage { idle, moving, on_mark, done, failed };

  /// Checks every place and its run-up against the soft limits before anything moves. Errors: `not_homed`, `busy`,
  /// `limit` naming the mark, `too_few` without a point.
  Result<void> start(MachineLink& link, std::vector<MarkedPoint> points, const MarkingWay& way);
  void tick();
  /// The mark is down; on to the next. Precondition: stage() == on_mark.
  void go_on();
  void cancel() { stage_ = Stage::idle; }
  Stage stage() const { return stage_; }
  /// The one on its way or just marked. Precondition: started.
  const MarkedPoint& point() const { return points_[std::min(at_, points_.size() - 1)]; }
  const Error& error() const { return error_; }

 private:
  struct Leg {
    Axis axis;
    double place;  ///< machine coordinate
    bool slow;
  };
  void plan_way_to(const MarkedPoint& point);
  void next_leg();
  MachineLink* link_ = nullptr;
  std::vector<MarkedPoint> points_;
  MarkingWay way_;
  std::vector<Leg> legs_;  ///< of the way to the mark, the last first
  std::size_t at_ = 0;
  double wanted_ = 0;
  Axis axis_ = Axis::z;
  Stage stage_ = Stage::idle;
  Error error_;
};

/// The same as G-code (ISO 6983-1) for any controller: work zero at the first mark, on the surface. `depth` and `lift`
/// mm from the surface, > 0; `feed` mm/min. The spindle stands: a pointed tool or a pen marks.
std::string marking_program(const std::vector<MarkedPoint>& points, double depth, double lift, double feed);

}  // namespace ypsi
