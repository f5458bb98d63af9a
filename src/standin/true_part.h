#pragma once
// What a frame cut now would really be off by: the contour is gone round in the air and the iron is looked at. For
// whoever judges a calibration afterwards, never for whoever makes it. Contract: `rehearse`, part.
#include "core/rehearsal/workshop.h"
#include "standin/served_machine.h"

namespace ypsi::standin {

struct TruePart {
  double side = 0;          ///< of the frame, mm: what was wanted or the largest that fits
  double worst_size = 0;    ///< largest deviation of an inside size, an outside size or a spacing, mm
  double worst_square = 0;  ///< how far one corner is from where a right angle has it, over its side, mm
};

/// A frame of `side` mm cut with the tool in the collet, believed to be of `tool_diameter`. The machine is homed.
/// Errors: those of the moves.
Result<TruePart> true_part(Workshop& workshop, ServedMachine& machine, double tool_diameter, double side = 300);

}  // namespace ypsi::standin
