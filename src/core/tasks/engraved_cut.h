#pragma once
// What an engraver's first engraving shows beside its sizes: how deep it came out by its lines' widths, how the plate
// lies under them, and whether the tip is as wide as the book has it. Source: handbook of the trade, 16 and 23.
#include <optional>
#include <vector>

#include "core/book/worksheets/cut.h"
#include "core/tasks/cut_reading.h"

namespace ypsi {

struct EngravedReading {
  std::vector<CutCause> causes;                  ///< of kind `nose` or `z_zero`, `plate_lie` and `tip`
  std::vector<std::optional<double>> residuals;  ///< of widths and depths, by size of the worksheet, mm
};

/// Of the widths and depths that are measured; empty where none is. Errors: `no_shape` where widths are and the tool
/// has no point any more; `no_instrument`.
Result<EngravedReading> read_engraving(const Book& book);

/// Tip of the tool as the engraving shows it, with `entry` added to the record; nothing for a tool that is not there.
void correct_tip(Book& book, const CutCause& cause, Entry entry);
/// What the nose is set to for that depth, in the material and with the tool of the engraving; nothing without one.
void correct_depth_setting(Book& book, const CutCause& cause, Entry entry);
/// The newest entry that correct_tip() or correct_depth_setting() may have made, of that cause.
std::optional<std::size_t> newest_correction(const Book& book, const CutCause& cause);

}  // namespace ypsi
