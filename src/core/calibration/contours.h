#pragma once
// Level lines through heights on a grid. Source: marching squares, straight between the crossings of a cell's sides.
#include <vector>

#include "core/calibration/probing.h"

namespace ypsi {

struct HeightGrid {
  std::vector<double> xs, ys;   ///< rising, at least 2 each
  std::vector<double> heights;  ///< row by row: heights[row * xs.size() + column]
  double at(std::size_t column, std::size_t row) const { return heights[row * xs.size() + column]; }
};

struct ContourLine {
  Point2 from, to;
};
/// Where the surface crosses `level`, piece by piece.
std::vector<ContourLine> contour(const HeightGrid& grid, double level);

/// 1, 2 or 5 times a power of ten, so that `range` (> 0) holds at most `most` steps of it.
double contour_step(double range, int most);

}  // namespace ypsi
