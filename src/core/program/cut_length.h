#pragma once
// How far each tool cuts in a stretch of a program: what blades wear by. Metres.
#include <map>

#include "core/program/program.h"

namespace ypsi {

/// Ways of cutting moves on the lines from `first` to `last`, both counted, by tool number; `tool` is the one that is
/// in at the start. Source: handbook of the trade, 20.
///   cut_metres(read("G1 X100 F500"), 1, 1, 2) -> {{2, 0.1}}
std::map<int, double> cut_metres(const Program& program, std::uint32_t first, std::uint32_t last, int tool);

}  // namespace ypsi
