#pragma once
// A program's path on a drawing. Moves shorter than a fraction of a pixel are run together, so that a million of them
// draw as fast as they can be told apart.
#include <QTransform>
#include <map>

#include "app/session/loaded_program.h"
#include "app/theme/theme.h"
#include "core/program/tool_shape.h"

class QPainter;

namespace ypsi::app {

enum class PathLook { lines, cut_width };

/// How wide the tools cut, by their shape and how deep their tip is below the top.
struct CutWidths {
  struct Cutter {
    Tool tool;
    double top = 0;  ///< Z that a motion names where its tip is at the stock's top, mm
  };
  std::map<int, Cutter> cutters;        ///< by tool number; 0: the one that is in before the first change
  double at(int tool, double z) const;  ///< mm, where a motion is at `z`
};

/// Draws motions [from, to) mapped by `map` (work mm to px).
void draw_path(QPainter& painter, const LoadedProgram& program, const QTransform& map, std::size_t from, std::size_t to,
               PathLook look, const QColor& colour, const CutWidths& widths);

/// Index of the first motion whose line is not before `line`.
std::size_t motion_at_line(const LoadedProgram& program, std::uint32_t line);

}  // namespace ypsi::app
