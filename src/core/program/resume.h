#pragma once
// Going on with a program at a chosen line: the modes that held there, and a safe way in. Handbook, section 15.
#include "core/program/interpreter.h"

namespace ypsi {

struct ResumePlan {
  std::uint32_t line = 0;         ///< where it goes on: the one asked for, or the first of its chain of drilled holes
  ModalState modes;               ///< as they were before it; `at` is where it begins, in the base frame
  std::vector<std::string> over;  ///< lift and the way over its place alone, to try it
  /// Blocks before it: lift, over, tool, spindle on and up to speed, down, heads that were lowered or switched on so
  /// again, modes. X and Y are come upon from the side
  /// from which the program came, so that lost motion is taken up as it was.
  std::vector<std::string> lead_in;
};

/// `line` from 1 to the program's last; `safe_z`, the height of the way across, in the base frame of `setting`, mm;
/// `tool` in the spindle now, which needs no change; `room`, where the machine may go, in the base frame.
/// Errors: `out_of_range`; `limit` where the line begins above the safe height; `probing` where a probing move comes
/// before the line, whose end nobody knows; those of the interpreter.
Result<ResumePlan> plan_resume(std::string_view text, std::uint32_t line, double safe_z,
                               const ReadSetting& setting = {}, int tool = 0, const std::optional<Extents>& room = {});

}  // namespace ypsi
