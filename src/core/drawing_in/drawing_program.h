#pragma once
// From the layers of a drawing to a program: what is done with each, by which head, in which order. Lengths mm, work
// frame. Source: handbook of the trade, 20 and 29.
#include "core/drawing_in/drawing.h"
#include "core/program/head_lines.h"

namespace ypsi {

/// What one of a unit's is, mm: mm, cm, m, in, ft, or a number of mm above zero. None for another word.
std::optional<double> unit_by_name(std::string_view unit);
/// What to call a unit of so many mm: "in", or "0.3528".
std::string name_of_unit(double mm);

/// How long the way over a tab is: what is to stay, and the cutter's width beside it where one goes down by Z.
double way_over_tab(const Book& book, const LayerAct& act);

/// Which of the machine's heads makes a layer: by its tool, else by its name, else the first. Errors: `no_tool`,
/// `no_head`.
Result<std::size_t> head_of(const Book& book, const LayerAct& act);

/// From the drawing's places to each copy's in the work frame, mm. Precondition: something is drawn.
std::vector<PlanPoint> copy_shifts(const Drawing& drawing, const DrawingJob& job);

/// Lines in the order in which they are cut: marked first, then creased, engraved and cut; of these what lies within
/// another comes first, and the next is the nearest. A wheel and a creaser are lifted at sharp corners
/// and run on past them by the layer's overcut; other closed lines run on past their start. Tabs are left on closed
/// lines that are cut: by Z where a head goes down by it, else lifted over them. Copies stand
/// beside each other as `job` says. Errors: `nothing_to_do`; `no_head`, `no_tool`, `no_diameter`; `open_outline` with
/// its source, where something is cut beside a line that is not closed; `too_narrow`, where the tool does not go
/// inside; `no_spacing` where nobody says how dense a hatch is, nor with which tool.
Result<std::vector<HeadPath>> drawing_paths(const Book& book, const Drawing& drawing, const DrawingJob& job);

/// The paths written and read back. Errors: those of head_paths_program().
Result<HeadProgram> drawing_program(const Book& book, const Drawing& drawing, const std::vector<HeadPath>& paths,
                                    const DrawingJob& job);
inline constexpr std::size_t most_programs = 200;  ///< of one drawing, where each copy has its own
/// What is to be written: one program of all copies, or of each its own, in the order of copy_shifts(). All or none.
/// Errors: those of both; `too_many` programs.
Result<std::vector<HeadProgram>> drawing_programs(const Book& book, const Drawing& drawing, const DrawingJob& job);
/// Both at once. Errors: those of both.
Result<HeadProgram> drawing_program(const Book& book, const Drawing& drawing, const DrawingJob& job);

}  // namespace ypsi
