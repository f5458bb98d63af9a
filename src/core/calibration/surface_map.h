#pragma once
// A surface touched on a grid, and its height between the touches. Lengths mm. Source: handbook of the trade, 12 and
// 23; interpolation by polynomials: Lagrange.
#include <vector>

#include "core/calibration/bed.h"
#include "core/calibration/contours.h"
#include "core/result.h"

namespace ypsi {

/// The points in rows and columns, whatever their order. Errors: `too_few` below two each way; `degenerate` where a
/// place of the grid was not touched, or twice.
Result<HeightGrid> height_grid(const std::vector<BedPoint>& points);

/// Between the touches: a cubic through the four nearest of a row, and of a column (fewer where there are fewer), so
/// that a surface bent like a sheet is told between them too. Beyond the outermost touch it goes straight on for half
/// of the last gap, and stays level from there. Exact at the touches.
double height_at(const HeightGrid& grid, double x, double y);

/// How far `value` lies outside of rising `places` by more than half of the outermost gap; 0 inside.
double beyond(const std::vector<double>& places, double value);

}  // namespace ypsi
