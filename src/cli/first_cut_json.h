#pragma once
#include <nlohmann/json.hpp>

#include "core/calibration/first_cut.h"

namespace ypsi::cli {

/// As the contract of `calc first-cut` has it.
nlohmann::json first_cut_json(const FirstCutResult& result);

}  // namespace ypsi::cli
