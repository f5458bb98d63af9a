#pragma once
// How deep an engraving must be in a plate of layers, and how surely it is. Lengths mm. Source: handbook of the
// trade, 23.
namespace ypsi {

/// A plate: a cap over a core, or of one piece.
struct PlateLayers {
  double cap = 0;        ///< thickness of the cap, >= 0; 0: of one piece
  double total = 0;      ///< of the whole plate, >= cap; 0: not said
  double core_left = 0;  ///< what must be left below a groove, >= 0
};

enum class DepthVerdict {
  clears,      ///< through the cap and above what must be left, surely
  misses_cap,  ///< not through the cap
  unsure_cap,  ///< through it, but by less than U
  too_deep,    ///< leaves less than what must be left
  unsure_core  ///< leaves it, but by less than U
};

/// A groove of a depth that is known to +-U, in a plate.
struct DepthMargins {
  DepthVerdict verdict = DepthVerdict::clears;
  double below_cap = 0;  ///< how far beyond the cap it goes
  double left = 0;       ///< of the plate below it; of no meaning where the total is not said
  double least = 0;      ///< what is deep enough, surely ...
  double most = 0;       ///< ... and not too deep; below `least` where nothing is; of no meaning without a total
};

/// `U` of the next groove, >= 0. What is wrong first counts: the cap before the core.
DepthMargins depth_margins(const PlateLayers& plate, double depth, double U);

/// Chance, 0 to 1, that a groove set to `depth` is not deeper than `level`; `u` >= 0 its standard uncertainty, told by
/// `dof` >= 1 degrees of freedom. Example: a groove set to the level itself fails to pass it half of the time.
double chance_above(double depth, double level, double u, int dof);

}  // namespace ypsi
