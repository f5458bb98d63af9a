#pragma once
// Squares burnt at each of some powers and speeds, both engraved beside each square, so that the piece tells by itself
// what made what. Lengths mm, feeds mm/min, work frame. Source: handbook of the trade, 19.
#include <vector>

#include "core/program/head_lines.h"

namespace ypsi {

struct BeamGrid {
  std::size_t head = 0;           ///< of the machine's, from 0; a beam whose block for on takes a level
  std::vector<double> powers;     ///< columns, on its gauge, rising
  std::vector<double> feeds;      ///< rows, rising
  double side = 8, apart = 0.25;  ///< of a square, and of its lines, > 0
  double x = 0, y = 0;            ///< lower left corner of all
};

inline constexpr double grid_digit_mm = 2;  ///< height of a digit
inline constexpr std::size_t most_grid_levels = 12;

/// Width of a square with what is written beside it and the gap to the next.
double grid_pitch_x(const BeamGrid& grid);
double grid_pitch_y(const BeamGrid& grid);

/// Slow and strong ones last, since they heat the stock; digits are burnt at the middle power and the highest feed.
/// Errors: `too_few` without a power or a feed; `too_many` above most_grid_levels of either; `out_of_range`; those of
/// head_lines_program().
Result<HeadProgram> beam_grid_program(const Book& book, const BeamGrid& grid, const HeadLinesSetting& setting);

}  // namespace ypsi
