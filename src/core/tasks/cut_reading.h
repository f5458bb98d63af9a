#pragma once
// What the sizes typed on the sheet Measure the cut say about the machine that cut them, and what each is worth putting
// right. Lengths mm, angles rad. Source: handbook of the trade, 16.
//
// What can go wrong with the question first: one size cannot tell a wrong scale from a wrong cutter. What cannot be
// told has no number and no correction here; `sizes->missing` says which further feature would settle it.
#include <optional>
#include <vector>

#include "core/book/book.h"
#include "core/book/worksheets/cut.h"
#include "core/calibration/first_cut.h"
#include "core/procedures/bench.h"

namespace ypsi {

enum class CutCauseKind {
  steps,
  cutter,
  lost_motion,
  z_zero,
  lean,
  blade,       ///< it stands so far to the left of its way, where heads cut and no cutter's width is in the sizes
  head_place,  ///< of another head: its lines lie off_x, off_y beside where they were meant
  trailing,    ///< of a drag knife: more than the book has
  nose,        ///< an engraving is so much deeper than what was set to make it
  plate_lie,   ///< it is off_x deeper at the plate's right edge than at its left, off_y at the back than at the front
  tip,         ///< of a pointed tool: wider than the book has it
};

struct CutCause {
  CutCauseKind kind{};
  std::optional<Axis> axis{};  ///< of steps and lost motion
  double value = 0;            ///< scale error (ratio), cutter's deviation, lost motion, too deep, lean, of a head mm
  double u = 0, U = 0;
  bool significant = false;
  double effect = 0;            ///< on the owner's usual part, mm
  std::string head{};           ///< of which head, where it is a head's
  double off_x = 0, off_y = 0;  ///< mm, see head_place
};

struct CutReading {
  std::optional<FirstCutResult> sizes;  ///< none where only diagonals were measured
  std::vector<CutCause> causes;         ///< significant ones first, each lot by its effect, largest first
  /// Measured less drawn, and measured less what the causes explain, of each size of the worksheet; none where it is
  /// not measured. A diagonal has no residual.
  std::vector<std::optional<double>> deviations, residuals;
};

/// Whether heads cut the part, none of which has a width, and no cutter.
bool cut_by_heads(const CutWorksheet& sheet);
/// A size as it is laid an instrument to, by work zero; none where nobody knows where it is.
std::optional<CutFeature> as_laid(const CutSize& size, const WorkZero& zero);

/// Of the book's worksheet, with the lost motion that the record knows. Errors: `too_few` where nothing is measured;
/// `no_instrument` where the book does not have the one that is named; those of read_first_cut().
Result<CutReading> read_cut(const Book& book);

/// The lost motion of an axis as the record has it, where that still holds.
std::optional<Known> known_lost_motion(const Book& book, Axis axis);

/// The sizes that were measured, for the record: those of one cut are alike, and so tell whether a correction was made
/// from them already.
RecordJson cut_readings(const CutWorksheet& sheet);
/// What was found, for the record: tool_diameter_mm, scale_x_percent and so on, each with its U.
nlohmann::json cut_result(const Book& book, const CutReading& reading);
/// Whether the newest change where this cause belongs was made from the readings of the worksheet.
bool already_applied(const Book& book, const CutCause& cause);
/// The tool's diameter as the cut shows it, with its reason and `entry` added to the record; a cut of a tool that the
/// book does not have changes nothing.
void correct_cutter(Book& book, const CutCause& cause, Entry entry, const CutReading& reading);
inline constexpr const char* first_cut_note = "first cut";

/// Steps per mm that make a scale error of `e` vanish.
inline double corrected_steps(double steps_per_mm, double e) {
  return steps_per_mm / (1 + e);
}

}  // namespace ypsi
