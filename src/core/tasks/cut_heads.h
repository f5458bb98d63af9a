#pragma once
// What a table's test cut shows of its heads: where the others stand beside where the book has them, and what a drag
// knife trails too much. Source: handbook of the trade, 16, 18 and 20.
#include <optional>
#include <vector>

#include "core/book/worksheets/cut.h"
#include "core/tasks/cut_reading.h"

namespace ypsi {

/// Causes of kind `head_place` and `trailing`, from the crosses and gaps of the worksheet that are measured; `sizes`
/// has scale and lost motion as far as the cut tells them. Axes whose scale is not told count as right to half a
/// percent. A head whose cross is measured along one axis alone is not told.
std::vector<CutCause> head_causes(const Book& book, const std::optional<FirstCutResult>& sizes);

/// Measured less drawn of another head's line, less what `causes` explain; nothing where that is not told. A gap is one
/// reading for one cause: it leaves nothing over.
std::optional<double> head_residual(const CutSize& size, const std::optional<FirstCutResult>& sizes,
                                    const std::vector<CutCause>& causes);

/// Puts the head of the cause right in the book; `entry` brings time and readings. Precondition: the cause
/// is of a head.
void correct_head(Book& book, const CutCause& cause, Entry entry);

}  // namespace ypsi
