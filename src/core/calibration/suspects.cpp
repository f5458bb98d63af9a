#include "core/calibration/suspects.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace ypsi {
namespace {

constexpr std::array leads_mm{1., 1.25, 1.5, 2.,  2.5, 2.54, 3.,  3.175, 4.,  5.,  5.08,
                              6., 6.35, 8.,  10., 12., 12.7, 16., 20.,   25., 25.4};
constexpr std::array tooth_counts{12., 14., 15., 16., 18., 20., 22., 24., 25., 28., 30., 32., 36., 40., 48., 60.};
constexpr std::array belt_pitches_mm{2., 2.032, 3., 5., 5.08, 8., 9.525, 10.};
constexpr double helix_angle_deg = 19.5283;

template <std::size_t N>
void add_ratios(std::vector<Suspect>& all, const char* cause, const std::array<double, N>& usual, double entered) {
  for (const double value : usual) all.push_back({cause, value / entered});
}

std::vector<Suspect> candidates(const std::optional<Transmission>& transmission) {
  std::vector<Suspect> all;
  for (int power = -5; power <= 5; ++power) all.push_back({"microsteps", std::ldexp(1.0, power)});
  all.push_back({"inch_mm", 25.4});
  all.push_back({"inch_mm", 1 / 25.4});
  if (!transmission) return all;
  if (const auto* screw = std::get_if<Screw>(&*transmission)) add_ratios(all, "screw_lead", leads_mm, screw->lead_mm);
  if (const auto* belt = std::get_if<Belt>(&*transmission)) {
    add_ratios(all, "pulley_teeth", tooth_counts, belt->teeth);
    add_ratios(all, "belt_pitch", belt_pitches_mm, belt->pitch_mm);
  }
  if (const auto* rack = std::get_if<Rack>(&*transmission)) {
    add_ratios(all, "pulley_teeth", tooth_counts, rack->teeth);
    const double cosine = std::cos(helix_angle_deg * std::numbers::pi / 180);
    all.push_back({"helical_rack", 1 / cosine});
    all.push_back({"helical_rack", cosine});
  }
  return all;
}

}  // namespace

std::vector<Suspect> scale_suspects(double k, double u, bool gross, const std::optional<Transmission>& transmission) {
  const double allowed = std::max(3 * u / k, gross ? 0.02 : 0.002);
  const auto off = [k](const Suspect& s) { return std::fabs(k / s.factor - 1); };
  auto found = candidates(transmission);
  std::erase_if(found, [&](const Suspect& s) { return s.factor == 1 || off(s) > allowed; });
  std::stable_sort(found.begin(), found.end(), [&](const Suspect& a, const Suspect& b) { return off(a) < off(b); });
  return found;
}

std::optional<DriveTrain> drive_as_it_behaves(const DriveTrain& entered, const Suspect& suspect) {
  DriveTrain drive = entered;
  auto* screw = std::get_if<Screw>(&drive.transmission);
  auto* belt = std::get_if<Belt>(&drive.transmission);
  auto* rack = std::get_if<Rack>(&drive.transmission);
  if (suspect.cause == "microsteps") {
    drive.microsteps /= suspect.factor;  // it goes twice as far where each step is twice as coarse
  } else if (suspect.cause == "screw_lead" && screw) {
    screw->lead_mm *= suspect.factor;
  } else if (suspect.cause == "pulley_teeth" && (belt || rack)) {
    (belt ? belt->teeth : rack->teeth) *= suspect.factor;
  } else if (suspect.cause == "belt_pitch" && belt) {
    belt->pitch_mm *= suspect.factor;
  } else if (suspect.cause == "helical_rack" && rack) {
    rack->module_mm *= suspect.factor;
  } else {
    return std::nullopt;
  }
  return drive;
}

}  // namespace ypsi
