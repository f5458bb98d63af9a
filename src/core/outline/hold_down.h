#pragma once
// What a vacuum bed holds: which valves to open under a stock, what to mask, and with what force the whole and each
// piece that is cut free are held. Source: handbook of the trade, 28.
#include <optional>
#include <string>
#include <vector>

#include "core/book/vacuum_bed.h"
#include "core/outline/outline.h"

namespace ypsi {

struct ZoneCover {
  std::string name;
  double covered = 0;  ///< of its area, 0 to 1
  bool open = false;   ///< its valve
  double to_mask = 0;  ///< of an open one, bare, mm^2
};

/// A piece that is cut free, with the holes that are cut out of it; machine coordinates, mm.
struct FreedPiece {
  Outline outline;
  std::vector<Outline> holes;
};

struct HeldPiece {
  double area = 0, held = 0;      ///< its own, and of that over open zones, mm^2
  std::optional<double> force_N;  ///< along the bed; none where the pressure is not known
  bool too_small = false;         ///< below the owner's smallest, or not held at all: by tabs or tape
};

struct HoldDown {
  std::vector<ZoneCover> zones;   ///< those of the bed, in its order
  double stock = 0, held = 0;     ///< the stock's area, and of that over open zones, mm^2
  std::optional<double> force_N;  ///< that it takes to push it along the bed
  std::vector<HeldPiece> pieces;  ///< one for each that was asked
};

/// A zone is opened where at least `open_share` of it is covered, and covered at all. F = area held x pressure x
/// friction: 100 cm^2 at 18 kPa and 0.3 hold 54 N. `stock` and pieces in machine coordinates, as they lie. Errors:
/// `no_zones`; `no_stock` where the outline has no area.
Result<HoldDown> hold_down(const VacuumBed& bed, const Outline& stock, const std::vector<FreedPiece>& pieces);

}  // namespace ypsi
