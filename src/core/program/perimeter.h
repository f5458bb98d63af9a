#pragma once
// Where a program will go, to be gone round at a safe height before the start. Work frame, mm. Source: handbook of the
// trade, 14.
#include <string>
#include <vector>

#include "core/calibration/probing.h"
#include "core/program/program.h"

namespace ypsi {

enum class PerimeterKind {
  box,       ///< along X and Y round all that is cut
  hull,      ///< the tightest band round all that is cut
  last_tool  ///< the widest stretch that the last tool cuts without lifting: mostly the part's outline
};

/// Corners in order, the first not repeated; empty where nothing is cut. Of the tool's centre.
std::vector<Point2> perimeter(const Program& program, PerimeterKind kind);

/// Blocks in the work frame: lift to `safe_z`, round at `feed` mm/min, and stand over the first corner.
std::vector<std::string> trace(const std::vector<Point2>& corners, double safe_z, double feed);

}  // namespace ypsi
