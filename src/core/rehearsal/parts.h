#pragma once
// The parts of a rehearsal, one for each sheet; for the rehearsal alone. Each returns the sheet's verdict in a few
// words, or why the work must stop there.
#include "core/calibration/drive.h"
#include "core/metrology/known.h"
#include "core/program/coupon.h"
#include "core/rehearsal/rehearsal.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi::rehearsal {

struct Work {
  Workshop& w;
  Rehearsal r{};
  CouponSetting setting{};  ///< of the test cut
  Coupon coupon{};
  std::vector<double> tops{};                    ///< of the stock at each of its depths, above Z zero, mm
  std::array<double, axis_count> first_steps{};  ///< per mm, as the controller was found
  std::array<double, axis_count> rough_U{};      ///< of each scale after the first short moves, relative, about 95 %
  std::array<std::optional<Known>, axis_count> slack{};  ///< lost motion as left, mm
  double too_deep = 0;                                   ///< mm, that the first engraving was
  bool by_part = false;  ///< measure_for_the_part() is done: no second cut where the first is good enough
};

using Verdict = Result<std::string>;

inline constexpr const char* rehearsed_material = "stock";
constexpr double slack_worth_mm = 0.02;  ///< less is left as it is

/// One cause of what a part is off by measured, and put right.
using Better = Result<void> (*)(Work& work, const BudgetShare& cause);

/// A step of the rehearsal: what a task does in it.
struct Step {
  const char* title;  ///< of the task under which it is told
  Verdict (*run)(Work& work);
  bool told = true;         ///< it is the task's own verdict, not something on the way to it; an empty one is not told
  double later = 0;         ///< by how many tasks of the order of work it comes later than its own place
  bool beside = false;      ///< bears on no size of a part
  Better better = nullptr;  ///< where it measures causes that bear on one: the same for one of them alone
};

// by_part.cpp
/// Measures what the owner's part is off by, the largest cause first, and puts it right, until the part is within the
/// tolerance or what is left cannot be told better by these instruments.
Verdict measure_for_the_part(Work& work);
/// Whether the book says that the part is within its owner's tolerance, all that its sizes need being known.
bool good_enough(const Work& work);

// rehearsal.cpp
/// A finding into the book's record, as the sheet of its task keeps one. `found` and `left`: steps per mm of that axis.
void keep(Work& work, const char* task, std::string subject, RecordJson finding);
void keep_steps(Work& work, Axis axis, RecordJson finding, double found, double left);

// commissioning.cpp
/// From the carriage to one of its stops, mm, as the eye with a ruler or a tape tells it. Error: `no_instrument`.
Result<double> free_way(Workshop& w, Axis axis, bool towards_plus);
Verdict inputs(Work& work);
Verdict directions(Work& work);
/// Homing for the first time, steps per unit roughly, and where the stops are.
Verdict first_homing(Work& work);
Verdict limits(Work& work);
Verdict homing_repeat(Work& work);

// steps.cpp
/// The book's drive, where it gives these steps; one that was never entered gives others.
std::optional<Transmission> drive_of(const Workshop& w, Axis axis, double steps);
/// A scale measured, applied and measured again; `wanted_per_m`: until it is known to so many mm per m, about 95 %.
Result<void> steps_of(Work& work, Axis axis, std::optional<double> wanted_per_m = {});
/// New steps per unit in the controller and the book, limits carried over; the machine homes anew.
Result<void> set_steps(Workshop& w, Axis axis, double steps);
/// The same where nothing is homed yet.
Result<void> set_steps_unhomed(Workshop& w, Axis axis, double steps);
Result<void> rough_steps(Work& work, Axis axis);
/// About 95 %, of a length along the axis as the controller is set: what the readings leave open, and what they found
/// and left as it was.
double relative_scale_U(const Work& work, Axis axis);
Verdict steps(Work& work);

// calibration.cpp
Verdict lost_motion(Work& work);
Verdict squareness(Work& work);
// The same for one cause alone.
Result<void> better_steps(Work& work, const BudgetShare& cause);
Result<void> better_lost_motion(Work& work, const BudgetShare& cause);
Result<void> better_squareness(Work& work, const BudgetShare& cause);
Verdict tram(Work& work);

// references.cpp
Verdict touch_plate(Work& work);
Verdict tool_setter(Work& work);
Verdict tools(Work& work);
/// Tool in the collet by hand, and the controller told.
Result<void> put_tool(Workshop& w, int number);
/// Down to what conducts, `search` mm at most: machine Z at the touches.
Result<std::vector<double>> touch_down(Workshop& w, double search);
/// Machine Z of the stock's top where the tool is over it, by the touch plate laid there; the plate is away after.
Result<double> top_by_plate(Workshop& w);
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
