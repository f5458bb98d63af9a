#pragma once
// The parts of a rehearsal, one for each sheet; for the rehearsal alone. Each returns the sheet's verdict in a few
// words, or why the work must stop there.
#include "core/program/coupon.h"
#include "core/rehearsal/rehearsal.h"

namespace ypsi::rehearsal {

struct Work {
  Workshop& w;
  Rehearsal r;
  CouponSetting setting;  ///< of the test cut
  Coupon coupon;
  std::vector<double> tops;                      ///< of the stock at each of its depths, above Z zero, mm
  std::array<double, axis_count> first_steps{};  ///< per mm, as the controller was found
};

using Verdict = Result<std::string>;

/// A step of the rehearsal: what a task does in it.
struct Step {
  const char* title;  ///< of the task under which it is told
  Verdict (*run)(Work& work);
  bool told = true;  ///< it is the task's own verdict, not something on the way to it; an empty one is not told
  double later = 0;  ///< by how many tasks of the order of work it comes later than its own place
};

// commissioning.cpp
/// From the carriage to one of its stops, mm, as the eye with a ruler or a tape tells it. Error: `no_instrument`.
Result<double> free_way(Workshop& w, Axis axis, bool towards_plus);
Verdict inputs(Work& work);
Verdict directions(Work& work);
/// Homing for the first time, steps per unit roughly, and where the stops are.
Verdict first_homing(Work& work);
Verdict limits(Work& work);
Verdict homing_repeat(Work& work);

// calibration.cpp
/// New steps per unit in the controller and the book, limits carried over; the machine homes anew.
Result<void> set_steps(Workshop& w, Axis axis, double steps);
/// The same where nothing is homed yet.
Result<void> set_steps_unhomed(Workshop& w, Axis axis, double steps);
Result<void> rough_steps(Work& work, Axis axis);
/// About 95 %, of a length along the axis as the controller is set: what the readings leave open, and what they found
/// and left as it was.
double relative_scale_U(const Work& work, Axis axis);
Verdict steps(Work& work);
Verdict lost_motion(Work& work);
Verdict squareness(Work& work);
Verdict tram(Work& work);

// references.cpp
Verdict touch_plate(Work& work);
Verdict tool_setter(Work& work);
Verdict tools(Work& work);
/// Tool in the collet by hand, and the controller told.
Result<void> put_tool(Workshop& w, int number);
/// Down to what conducts, `search` mm at most: machine Z at the touches.
Result<std::vector<double>> touch_down(Workshop& w, double search);
/// Plate and cutter touched together by hand: the input must come on, and go off again.
Result<void> see_the_circuit(Workshop& w);

// heads.cpp
Verdict heads(Work& work);
Verdict trials(Work& work);

// first_job.cpp
Verdict stock_and_program(Work& work);
Verdict work_zero(Work& work);
Verdict ready_check(Work& work);
Verdict cut(Work& work);
Verdict measure_cut(Work& work);
/// A scale error that a cut shows put right, unless the axis was measured better on the sheet Steps per unit.
Result<void> correct_scale(Work& work, Axis axis, double error, double U);
/// Slack that a cut shows taken out, where it is worth it.
void take_slack_out(Workshop& w, Axis axis, double lost);
/// Runs the test cut's program to its end, and lifts. Error: `stopped` with why.
Result<void> run_cut(Work& work);

}  // namespace ypsi::rehearsal
