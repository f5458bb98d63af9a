#pragma once
#include <vector>

#include "core/calibration/positioning.h"

namespace ypsi::cli {

class JsonInput;

/// runs [{direction "+" or "-", deviation_mm}]
std::vector<PositioningRun> positioning_runs(JsonInput& in);

}  // namespace ypsi::cli
