#pragma once
// Going on with a program at a chosen line: the modes that held there, and a safe way in. Handbook, section 15.
#include "core/program/interpreter.h"

namespace ypsi {

struct ResumePlan {
  ModalState modes;                  ///< as they were before it; `at` is where it begins, in G54
  std::vector<std::string> lead_in;  ///< blocks before it: lift, over, spindle on, down, modes
};

/// `line` from 1 to the program's last; `safe_z` in G54, mm, the height of the way across.
/// Errors: `out_of_range`; `limit` where the line begins above the safe height; those of the interpreter.
Result<ResumePlan> plan_resume(std::string_view text, std::uint32_t line, double safe_z, const Frames& frames = {});

}  // namespace ypsi
