#pragma once
// What warmth does to a scale that was found with a rule. Source: handbook of the trade, 27; ISO 1:2022 for the
// reference of 20 °C that both cancel here.

namespace ypsi {

inline constexpr double frame_expansion_per_K = 23e-6;   ///< aluminium
inline constexpr double rule_expansion_per_K = 11.5e-6;  ///< steel
inline constexpr double cannot_agree_K = 10;             ///< readings further apart are said to disagree by it
inline constexpr double u_temperature_unsaid_K = 3;      ///< of the day of the part against that of the readings
inline constexpr double u_temperature_said_K = 1.4;      ///< where both were read off a thermometer of 1 K

/// By how much, relative, a length along the frame at `now_C` is off against the rule where its scale was found with
/// it at `found_C`: > 0, too long, where it is warmer now. 10 K: 115e-6.
constexpr double off_by_warmth(double found_C, double now_C) {
  return (frame_expansion_per_K - rule_expansion_per_K) * (now_C - found_C);
}

}  // namespace ypsi
