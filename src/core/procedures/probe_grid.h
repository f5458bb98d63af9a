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

class ProbeGrid {
 public:
  enum class Stage { idle, crossing, touching, done, failed };

  /// Crosses at the height at which it stands. Errors: `out_of_range`; `limit` for a place outside the soft limits;
  /// those of Touch.
  Result<void> start(MachineLink& link, const GridPlan& plan);
  void tick();
  void cancel();
  Stage stage() const { return stage_; }
  bool running() const { return stage_ == Stage::crossing || stage_ == Stage::touching; }
  /// What was touched so far: z is the trigger's machine coordinate.
  const std::vector<BedPoint>& points() const { return points_; }
  std::size_t count() const { return places_.size(); }
  const Error& error() const { return error_; }

 private:
  void go();
  void fail_with(Error error);
  MachineLink* link_ = nullptr;
  GridPlan plan_;
  std::vector<BedPoint> places_, points_;
  double height_ = 0, wanted_ = 0;
  Axis axis_ = Axis::x;
  int leg_ = 0;
  Touch touch_;
  Stage stage_ = Stage::idle;
  Error error_;
};

}  // namespace ypsi
