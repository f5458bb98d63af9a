#pragma once
// What every program that we write begins with, so that it does the same at any controller: the modes that it counts
// on, the frame, a lift above everything that stands, tool and spindle. Source: handbook of the trade, 14;
// RS274/NGC 3.5.
#include <optional>
#include <string>
#include <vector>

#include "core/book/book.h"

namespace ypsi {

inline constexpr double over_clamps_mm = 3;   ///< that a program of ours keeps over the tallest
inline constexpr double usual_spin_up_s = 3;  ///< where the book does not say how long the spindle needs

struct ProgramHead {
  std::vector<std::string> remarks;    ///< for people, a line each, without brackets
  std::string zero;                    ///< where work zero is: "the stock's front left corner, on its top"
  int frame = 0;                       ///< 0: G54
  std::optional<double> lift = 5;      ///< over everything on the way, work frame, mm; none: Z stays where it is
  int tool = 0;                        ///< to change to; 0: the one that is in
  double rpm = 0;                      ///< 0: the spindle stands, or is a hand's
  double spin_up_s = usual_spin_up_s;  ///< until it turns as fast as it shall
};

/// Its lines, each with its end: remarks, "(work zero ..)", "G21 G17 G40 G49 G80 G90 G94 G54", the lift, "T1 M6" with a
/// lift of the new tool, "S12000 M3" and "G4 P3".
std::string program_head(const ProgramHead& head);

/// How long the spindle needs to its speed, s.
double spin_up_of(const Spindle& spindle);
/// How high the tallest clamp stands above the stock's top, mm; at least 0.
double tallest_clamp(const Book& book);

}  // namespace ypsi
