#pragma once
// What hangs on the spindle as discs over the tool's tip, and whether it meets a box on its way. Work frame, mm.
#include <optional>
#include <vector>

#include "core/book/book.h"
#include "core/program/program.h"

namespace ypsi {

/// A round part that goes with the tool: everything from `above_tip` upwards within `radius`.
struct HangingPart {
  enum class Kind { tool, nut, boot } kind = Kind::tool;
  double radius = 0, above_tip = 0;
};
/// The tool as it is shaped, and nut and boot where they and the tool's length out are known.
std::vector<HangingPart> hanging_parts(const Tool* tool, const Spindle& spindle);

struct Box {
  double x0 = 0, y0 = 0, x1 = 0, y1 = 0, top = 0;
};
/// The deepest that a disc of `radius` around the tip comes into the box on the straight way from `from` to `to`: mm
/// below its top and where the tip is then. None where it passes beside it or above it.
struct Meeting {
  double depth = 0;
  WorkPosition at;
};
std::optional<Meeting> meets(const Box& box, double radius, double above_tip, const WorkPosition& from,
                             const WorkPosition& to);

/// The least distance that such a part keeps from the box on that way, and where the tip is then; 0 where they meet.
struct Nearest {
  double distance = 0;
  WorkPosition at;
};
Nearest nearest(const Box& box, double radius, double above_tip, const WorkPosition& from, const WorkPosition& to);

}  // namespace ypsi
