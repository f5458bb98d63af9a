#pragma once
// What comes loose when a drawing is cut.
#include "core/book/book.h"
#include "core/drawing_in/drawing.h"
#include "core/outline/hold_down.h"

namespace ypsi {

/// Closed outlines of layers that are cut through, each without those that lie in it, copies taken in; work frame, mm,
/// the drawing's zero on work zero. A head that goes down by Z cuts through where it goes as deep as the stock is
/// thick, or where that is not known. What is left on tabs is not among them. Of more than
/// 400 outlines, or 2000 with all copies, none.
std::vector<FreedPiece> freed_pieces(const Book& book, const Drawing& drawing, const DrawingJob& job);

/// What the bed holds of the stock and of these pieces, by work zero and as the stock lies turned. Errors: those of
/// hold_down(); `no_zero` where work zero is not set in X and Y.
Result<HoldDown> held_on_bed(const Book& book, std::vector<FreedPiece> in_work, double turn_rad);

}  // namespace ypsi
