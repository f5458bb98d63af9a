#pragma once
// The whole order of work by itself: every sheet's procedures and calculations in their order, with a person's hands
// and instruments, from the first press of a switch to a second part that has its sizes. Lengths mm.
//
// What can stop it first: a switch or a probe that does not answer, an axis that cannot be told apart, a limit in the
// way. It then ends on that sheet, with the machine left stopped. Source: handbook of the trade, 2.
#include "core/calibration/first_cut.h"
#include "core/rehearsal/owner_knows.h"
#include "core/rehearsal/workshop.h"

namespace ypsi {

struct RehearsedAxis {
  std::optional<double> steps_per_mm, U_steps, lost_motion, u_lost_motion, U_lost_motion, soft_min, soft_max, homing_s;
  double place_u = 0;     ///< of a place on the axis, by its screw's periodic error; standard uncertainty
  bool reversed = false;  ///< turned round in the controller
};

struct RehearsedTool {
  int number = 0;
  double offset = 0;  ///< against the reference tool, longer is above zero
  std::optional<double> U;
};

struct SheetVerdict {
  std::string sheet, verdict;
};

namespace rehearsal {
struct Step;
}

struct Rehearsal {
  bool completed = false;
  std::array<RehearsedAxis, axis_count> axes;
  std::optional<double> skew, U_skew;  ///< rad, as found
  std::optional<double> plate_thickness, U_plate_thickness;
  std::optional<MachinePosition> setter;  ///< its place; Z is the reference tool's trigger
  std::vector<RehearsedTool> tools;
  std::optional<WorkZero> work_zero;
  std::array<double, axis_count> steps_when_cut{};  ///< per mm, of the first cut
  int cutter = 0;                                   ///< which tool made the first cut
  std::optional<double> nominal_cutter;             ///< the diameter that the first cut was made for
  std::optional<FirstCutResult> first_cut;
  double worst_before = 0, worst_after = 0;  ///< largest deviation of a size, first and second cut
  std::vector<SheetVerdict> sheets;
  std::vector<std::string> problems;
  Book book;  ///< as it is after the work
};

/// What a rehearsal starts from: the book, completed by what the controller is set to and by what the owner knows.
Book starting_book(const MachineLink& link, const Book* book, const OwnerKnows& known);

/// Runs its steps with the book of starting_book(); returns when it is completed or stopped. The steps are the tasks':
/// rehearsal_steps() or rehearsal_steps_by_part() in core/tasks.
Rehearsal rehearse(Workshop& workshop, const std::vector<rehearsal::Step>& steps);

}  // namespace ypsi
