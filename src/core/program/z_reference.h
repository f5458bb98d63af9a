#pragma once
// What a program takes for Z zero: the stock's top or the bed. Source: handbook of the trade, 13.
#include "core/program/program.h"

namespace ypsi {

enum class ZReference { stock_top, bed, unclear };

/// `thickness` of the stock, > 0; `skin`: how far a cut may go into the bed, >= 0; mm. Weighs cutting moves by the way
/// they make in X and Y, a plunge by its own length.
ZReference expected_z_reference(const Program& program, double thickness, double skin);

}  // namespace ypsi
