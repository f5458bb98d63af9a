#pragma once
// What a program takes for Z zero: the stock's top or the bed. Source: handbook of the trade, 13.
#include <vector>

#include "core/program/program.h"
#include "core/program/tip.h"

namespace ypsi {

enum class ZReference { stock_top, bed, unclear };

/// `thickness` of the stock, > 0; `skin`: how far a cut may go into the bed, >= 0; mm. Weighs cutting moves by the way
/// they make in X and Y, at the height of the tip; where there are none, holes by their depth.
/// `left_out`: motions, by their place, whose height says nothing; may be empty.
ZReference expected_z_reference(const Program& program, const TipDrop& drop, double thickness, double skin,
                                const std::vector<bool>& left_out = {});

}  // namespace ypsi
