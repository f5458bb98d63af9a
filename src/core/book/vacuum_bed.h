#pragma once
// What holds a stock down: zones of a vacuum bed. Source: handbook of the trade, 28.
#include <string>
#include <vector>

#include "core/geometry.h"

namespace ypsi {

/// A part of the bed with a valve of its own.
struct VacuumZone {
  std::string name;
  Coordinate x_mm, y_mm;                  ///< its front left corner, machine coordinates
  double width_mm = 400, depth_mm = 400;  ///< along X and Y, > 0
};

struct VacuumBed {
  std::vector<VacuumZone> zones;  ///< none: it has no vacuum
  double pressure_kPa = 0;        ///< below the air's, with its zones open; 0: not known
  double friction = 0.3;          ///< between stock and bed, > 0
  double open_share = 0.8;        ///< of a zone that must be covered to open its valve, 0 to 1
  double smallest_piece_cm2 = 0;  ///< that is held by vacuum alone when it is cut free; 0: not said
};

}  // namespace ypsi
