#pragma once
// How well the record knows the scale of an axis, for lengths that are measured by moving along it.
#include "core/book/book.h"

namespace ypsi {

/// Expanded relative uncertainty (about 95 %) of a length along the axis, from the newest finding of steps per unit
/// that holds, with what it found and was not taken over; none where it was never measured.
std::optional<double> relative_scale_U(const Book& book, Axis axis);

}  // namespace ypsi
