#pragma once
// A program that cuts an area flat: a bed, or a board. Source: handbook of the trade, 12.
#include <string>

#include "core/program/program.h"
#include "core/program/program_head.h"
#include "core/result.h"

namespace ypsi {

enum class SurfacingWay { both_ways, one_way };  ///< one way: every pass in the same sense, lifted back

struct SurfacingPlan {
  double x0 = 0, y0 = 0;                 ///< front left corner of the area, work frame, mm
  double width = 0, height = 0;          ///< along X and Y, mm, > 0
  double cutter_diameter = 0;            ///< mm, > 0
  double stepover = 0;                   ///< mm, > 0, below the cutter
  double depth = 0, depth_per_pass = 0;  ///< from Z 0 downwards, mm, > 0
  double feed = 0, plunge_feed = 0;      ///< mm/min, > 0
  double lift = 5;                       ///< above Z 0 between passes, mm, > 0
  double rpm = 0;                        ///< >= 0; 0: the program leaves the spindle to a hand
  double spin_up_s = usual_spin_up_s;
  int frame = 0;         ///< that it is cut in, 0: G54
  bool along_y = false;  ///< the way the passes run
  SurfacingWay way = SurfacingWay::both_ways;
};

struct Surfacing {
  std::string text;
  Program program;             ///< the same, read back
  Extents reach;               ///< of the tool's centre once it has left where it stood
  int layers = 0, passes = 0;  ///< passes in one layer
};

/// The tool's centre stays within the area; the cutter reaches half its diameter beyond. Errors: `out_of_range` naming
/// what cannot be; `degenerate` where the stepover is not below the cutter; `too_long` beyond 20,000 passes.
Result<Surfacing> surfacing_program(const SurfacingPlan& plan);

}  // namespace ypsi
