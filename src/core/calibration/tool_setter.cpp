#include "core/calibration/tool_setter.h"

#include <fmt/format.h>

#include <cmath>

#include "core/metrology/coverage.h"
#include "core/metrology/spread.h"

namespace ypsi {

Result<SetterResult> evaluate_setter(const std::vector<double>& reference, const std::vector<SetterTool>& tools,
                                     std::optional<double> work_zero_z, double step) {
  if (reference.empty())
    return fail("too_few", "Touch the setter with the reference tool first.", "reference_trigger_mm");
  double squares = squares_about_mean(reference);
  int freedom = static_cast<int>(reference.size()) - 1;
  for (std::size_t i = 0; i < tools.size(); ++i) {
    if (tools[i].triggers.empty())
      return fail("too_few", "This tool has not touched the setter yet.", fmt::format("tools[{}].trigger_mm", i));
    squares += squares_about_mean(tools[i].triggers);
    freedom += static_cast<int>(tools[i].triggers.size()) - 1;
  }
  SetterResult out;
  if (freedom > 0) out.s_pooled = std::sqrt(squares / freedom);
  const double zero = mean(reference);
  for (const auto& tool : tools) {
    SetterToolResult r;
    r.number = tool.number;
    r.offset = mean(tool.triggers) - zero;
    r.s = sample_deviation(tool.triggers);
    if (out.s_pooled) {
      const double touches = 1 / static_cast<double>(tool.triggers.size()) + 1 / static_cast<double>(reference.size());
      r.u = std::sqrt(*out.s_pooled * *out.s_pooled * touches + step * step / 6);
      r.U = t95(freedom) * *r.u;
    }
    if (work_zero_z) r.work_zero_z = *work_zero_z + r.offset;
    out.tools.push_back(r);
  }
  return out;
}

}  // namespace ypsi
