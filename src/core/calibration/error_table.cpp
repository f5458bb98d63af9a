#include "core/calibration/error_table.h"

#include <cmath>

namespace ypsi {

Result<ErrorTable> error_table(const std::vector<double>& targets, const std::vector<PositioningRun>& runs,
                               std::optional<double> shortest_period) {
  constexpr double spacings_that_see_a_period = 4;
  const auto test = evaluate_positioning(targets, runs);
  if (!test) return tl::make_unexpected(test.error());
  ErrorTable out;
  out.span_before = test->systematic;
  for (std::size_t i = 0; i < targets.size(); ++i)
    out.rows.push_back({targets[i], -test->targets[i].mean_plus, -test->targets[i].mean_minus});
  const double spacing = std::fabs(targets.back() - targets.front()) / static_cast<double>(targets.size() - 1);
  out.period_too_short = shortest_period && *shortest_period < spacings_that_see_a_period * spacing;
  return out;
}

}  // namespace ypsi
