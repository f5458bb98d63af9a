#pragma once
// What a wrong ratio of told to measured travel looks like.
#include <optional>
#include <vector>

#include "core/calibration/scale.h"

namespace ypsi {

/// Causes whose factor f satisfies |k/f - 1| <= max(3u/k, gross ? 0.02 : 0.002), nearest first. `k` > 0 is the fitted
/// scale, `u` its standard uncertainty. Without a transmission only causes that any drive can have are named.
std::vector<Suspect> scale_suspects(double k, double u, bool gross, const std::optional<Transmission>& transmission);

/// The drive as it would be, were this the cause; none where the cause is not a part of the drive (inch for mm), or is
/// not of this drive.
std::optional<DriveTrain> drive_as_it_behaves(const DriveTrain& entered, const Suspect& suspect);

}  // namespace ypsi
