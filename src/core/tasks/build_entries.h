#pragma once
// What the machine is made of, changed as a whole: edited on the side, then kept with what was found and what was left.
#include <vector>

#include "core/book/book.h"

namespace ypsi {

/// Steps per mm of an axis after its drive changes: by the new drive where nothing was measured yet, else the measured
/// figure in the ratio of the two drives. Errors: those of steps_per_unit().
Result<double> steps_after_drive_change(const Book& book, Axis axis, const DriveTrain& drive);

/// Entries for the record of what differs between two builds: one for each axis, one for the machine as a whole. Names
/// are "axis.x.drive", "axis.x.travel_mm", "machine.kind" and so on. `time` is left empty.
std::vector<Entry> build_entries(const MachineSetup& before, const MachineSetup& after);

/// Keeps `build` in the book and adds its entries with `time`; at least one, which `words` describes, so that a build
/// looked at and found right is on record too. An axis whose drive is another, or was never measured, takes the build's
/// steps per mm, with all its stored positions carried over; soft limits and the steps of the other axes stay as the
/// book has them.
void keep_build(Book& book, const MachineSetup& build, const std::string& time, const std::string& words);

}  // namespace ypsi
