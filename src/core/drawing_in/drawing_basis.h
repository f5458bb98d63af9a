#pragma once
// What a program that is made of the book's drawing now would rest on.
#include "core/book/book.h"
#include "core/program/rests_on.h"

namespace ypsi {

/// By the drawing's name, unit, zero and copies, what is done with each layer, and the blocks, places, offsets and
/// diameters of the heads and tools that do it. `drawing_sum`: checksum() of its bytes; empty: not known.
RestsOn basis_of(const Book& book, const DrawingJob& job, std::string drawing_sum);

}  // namespace ypsi
