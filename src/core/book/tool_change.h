#pragma once
// Z zero after a tool change: X and Y stay, Z is told by the tools' lengths, by the zero spot, or touched anew. Lengths
// mm. Source: handbook of the trade, 11.
#include "core/book/book.h"

namespace ypsi {

/// How much longer than the reference tool one is; 0 for the reference tool itself, none where it was not measured.
std::optional<double> length_against_reference(const Book& book, int tool);

enum class ZeroAfterChange {
  not_set,    ///< there is no Z zero to carry over
  holds,      ///< it was set with this tool, or nobody knows with which
  by_length,  ///< both tools were measured on the setter
  by_spot,    ///< the zero spot is marked: touch it
  by_touch    ///< touch the stock's top, or the bed, again
};
ZeroAfterChange zero_after_change(const Book& book, int tool);

/// Z zero of the frame in use for `tool`, machine coordinate. Precondition: zero_after_change() == by_length.
double zero_by_length(const Book& book, int tool);

/// Height of a surface above work zero, for a spot to come back to. All machine Z but `thickness` of the plate.
inline double spot_height(double trigger_z, double thickness, double zero_z) {
  return trigger_z - thickness - zero_z;
}
/// Z zero for the tool that touched the plate on the spot.
inline double zero_by_spot(double trigger_z, double thickness, const ZeroSpot& spot) {
  return trigger_z - thickness - spot.height_mm;
}

}  // namespace ypsi
