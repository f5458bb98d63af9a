#pragma once
// A table of positional errors from a positioning test: what to add to a commanded place to arrive there. Source:
// handbook of the trade, 25; ISO 230-2:2014, 3.19 for the span.
#include <optional>
#include <vector>

#include "core/calibration/positioning.h"

namespace ypsi {

struct ErrorTable {
  struct Row {
    double target = 0;
    double plus = 0, minus = 0;  ///< to add when arriving moving + and -, mm
  };
  std::vector<Row> rows;
  double span_before = 0;         ///< E of ISO 230-2, mm
  bool period_too_short = false;  ///< the drive's period is below four spacings: the table leaves most of it
};

/// `shortest_period` of the drive > 0, mm, where it is known. Errors: those of evaluate_positioning().
Result<ErrorTable> error_table(const std::vector<double>& targets, const std::vector<PositioningRun>& runs,
                               std::optional<double> shortest_period);

}  // namespace ypsi
