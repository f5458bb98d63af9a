#pragma once
// The first job of a table whose heads cut: its test cut, measured line by line, read, put right, and made again.
// For the rehearsal's own steps alone; each does what the step of that name does for a cutter.
#include "core/rehearsal/parts.h"

namespace ypsi::rehearsal::table {

Verdict stock_and_program(Work& work);
Verdict work_zero(Work& work);
Verdict measure_cut(Work& work);

}  // namespace ypsi::rehearsal::table
