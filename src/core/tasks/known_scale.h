#pragma once
// How well the record knows the scale of an axis, for lengths that are measured by moving along it.
#include "core/book/book.h"

namespace ypsi {

/// What a finding of steps per unit tells of every length along its axis, relative.
struct KnownScale {
  double U = 0;                ///< about 95 %, what the fit could not tell
  std::optional<double> left;  ///< scale - 1 as the machine is left, signed; none where the entry names no steps
};
/// None where the entry tells no scale. `steps_now` as the machine is set, steps/mm.
std::optional<KnownScale> known_scale(const Entry& entry, double steps_now);

/// Expanded relative uncertainty (about 95 %) of a length along the axis, from the newest finding of steps per unit
/// that holds, with what it found and was not taken over; none where it was never measured.
std::optional<double> relative_scale_U(const Book& book, Axis axis);

/// `U` of a length that was told by moving along the axis, mm, with the axis's scale and periodic error where the
/// record knows them.
double U_with_scale(const Book& book, Axis axis, double length, double U);

}  // namespace ypsi
