#pragma once
// A program's path on a drawing. Moves shorter than a fraction of a pixel are run together, so that a million of them
// draw as fast as they can be told apart.
#include <QTransform>
#include <functional>

#include "app/session/loaded_program.h"
#include "app/theme/theme.h"

class QPainter;

namespace ypsi::app {

enum class PathLook { lines, cut_width };

/// Draws motions [from, to) mapped by `map` (work mm to px). `width_of` gives the cut's width in mm for a tool number.
void draw_path(QPainter& painter, const LoadedProgram& program, const QTransform& map, std::size_t from, std::size_t to,
               PathLook look, const QColor& colour, const std::function<double(int)>& width_of);

/// Index of the first motion whose line is not before `line`.
std::size_t motion_at_line(const LoadedProgram& program, std::uint32_t line);

}  // namespace ypsi::app
