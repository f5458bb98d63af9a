#pragma once
// Tool offsets from a tool setter. Lengths mm. Source: handbook of the trade, 11; JCGM 100:2008, 4.2 and H.3 (pooled
// scatter).
#include <optional>
#include <vector>

#include "core/result.h"

namespace ypsi {

struct SetterTool {
  int number = 0;
  std::vector<double> triggers;  ///< machine Z, repeats, at least 1
};

struct SetterToolResult {
  int number = 0;
  double offset = 0;                  ///< longer than the reference tool by this much
  std::optional<double> s;            ///< of this tool's repeats
  std::optional<double> u, U;         ///< of the offset; none where nothing was repeated
  std::optional<double> work_zero_z;  ///< for this tool, where the reference tool's is known
};

struct SetterResult {
  std::vector<SetterToolResult> tools;
  std::optional<double> s_pooled;  ///< over all repeats, the reference tool's too
};

/// `step` >= 0: one motor step of Z, mm, since each trigger is only known to a step. Error: `too_few` where the
/// reference or a tool has no trigger.
Result<SetterResult> evaluate_setter(const std::vector<double>& reference, const std::vector<SetterTool>& tools,
                                     std::optional<double> work_zero_z, double step);

/// Setter-to-work constant: valid for any later tool, whose work-zero Z is its trigger less this. mm, machine Z.
inline double setter_to_work(double trigger, double work_zero_z_of_that_tool) {
  return trigger - work_zero_z_of_that_tool;
}

}  // namespace ypsi
