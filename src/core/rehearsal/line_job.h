#pragma once
// The first job of a table whose heads cut, or of an engraver with a pointed tool: its test cut, measured line by line,
// read, put right, and made again. For the rehearsal's own steps alone; each does what the step of that name does for a
// cutter.
#include "core/rehearsal/parts.h"

namespace ypsi::rehearsal::lines {

/// Whether the machine's first job is made of lines.
bool are_made(const Book& book);
Verdict stock_and_program(Work& work);
Verdict work_zero(Work& work);
Verdict measure_cut(Work& work);

}  // namespace ypsi::rehearsal::lines
