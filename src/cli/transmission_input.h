#pragma once
#include "cli/json_input.h"
#include "core/calibration/drive.h"

namespace ypsi::cli {
/// {kind: screw lead_mm · belt pitch_mm, teeth · rack module_mm, teeth · rotary}
Transmission transmission(JsonInput in);
}  // namespace ypsi::cli
