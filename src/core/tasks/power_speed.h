#pragma once
// Power and speed of a beam by material: a grid is burnt, its owner says which squares came out as wanted, and what is
// kept is the one of them that has most room around it. Source: handbook of the trade, 19.
#include "core/book/worksheets/trials.h"
#include "core/program/beam_grid.h"
#include "core/tasks/trials.h"

namespace ypsi {

/// The grid of the worksheet, at the stock's corner. Errors: `no_range` where powers or speeds are not said; `no_beam`.
Result<BeamGrid> planned_grid(const Book& book);

/// Of the squares that are wanted the one whose neighbours are wanted too, most of them; of equal ones the fastest.
/// None where none is wanted that is in the grid.
std::optional<BeamSetting> most_room(const BeamGrid& grid, const std::vector<BeamSetting>& wanted);
/// How many of the squares around it (8, fewer at an edge) are wanted too.
int wanted_around(const BeamGrid& grid, const std::vector<BeamSetting>& wanted, const BeamSetting& square);

/// Keeps it for the worksheet's material, and clears what was marked.
void keep_power_speed(Book& book, const BeamSetting& chosen, const std::string& time);
/// The newest that was kept for a material and holds.
std::optional<BeamSetting> power_speed_for(const Book& book, const std::string& material);

}  // namespace ypsi
