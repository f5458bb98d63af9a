#pragma once
// Heights touched on a grid, for a map of the bed. Source: handbook of the trade, 12.
#include "core/calibration/bed.h"
#include "core/procedures/touch.h"

namespace ypsi {

struct GridPlan {
  double x0 = 0, y0 = 0, x1 = 0, y1 = 0;  ///< machine coordinates, x0 < x1, y0 < y1
  int columns = 5, rows = 4;              ///< 2 to 50 each
  double rate = 3000;                     ///< across, mm/min
  TouchWay touch;                         ///< of Z, downwards
};

/// Places row by row, to and fro.
std::vector<BedPoint> grid_places(const GridPlan& plan);

class ProbeGrid : public Procedure {
 public:
  /// Crosses at the height at which it stands. Errors: `out_of_range`; `limit` for a place outside the soft limits;
  /// those of Touch.
  Result<void> start(MachineLink& link, const GridPlan& plan);
  /// What was touched so far: z is the trigger's machine coordinate.
  const std::vector<BedPoint>& points() const { return points_; }
  std::size_t count() const { return places_.size(); }

 private:
  void step(const MachineStatus& now) override;
  /// The way to the next place, or up where the last was touched.
  std::vector<Leg> next_way() const;
  GridPlan plan_;
  std::vector<BedPoint> places_, points_;
  double height_ = 0;
  bool touching_ = false;
  Legs legs_;
  Touch touch_;
};

}  // namespace ypsi
