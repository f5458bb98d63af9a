#pragma once
// Changes to a book that touch more than one of its numbers.
#include "core/book/book.h"

namespace ypsi {

/// Sets the steps per mm of an axis and carries every stored machine coordinate of that axis over, the home coordinate
/// as origin: same place, new number (p - h)·s0/s1 + h. Soft limits, travel, places, work zero and the told
/// lengths of readings not settled yet are carried over; the height to lift to only upwards, within the limits; places
/// are marked so that their owner is asked for a check. `steps` > 0. Returns false and changes nothing where `steps` is
/// not a finite number above zero.
bool change_steps_per_mm(Book& book, Axis axis, double steps);

/// The book, which has no soft limits of an axis yet, takes those of a controller that runs it at `steps` per mm (> 0):
/// the same places, in the book's numbers.
void take_limits(Book& book, Axis axis, double low, double high, double steps);

}  // namespace ypsi
