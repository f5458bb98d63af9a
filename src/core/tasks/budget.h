#pragma once
// What a part cut today would come out like: the measured errors of a book, taken together for the owner's usual part.
// A quantity that was never measured is unknown, not zero. Source: handbook of the trade, 17.
#include <array>
#include <functional>
#include <optional>
#include <vector>

#include "core/tasks/all_tasks.h"

namespace ypsi {

struct BudgetPart : BudgetShare {
  const Task* task = nullptr;  ///< whose measurement it is
  bool stale = false;          ///< something upstream changed since it was measured
  /// By how much less the part would be off without it, as far as that is more than its owner asks, mm; of a cutter as
  /// things are, of all else once a cut has told the cutter. See gain_without().
  double gain = 0;
  /// How much it can put a part off, mm; none where it was never measured.
  std::optional<double> worst() const;
};

struct Budget {
  std::vector<BudgetPart> parts;     ///< known ones by what they can do, largest first, then the unknown
  std::vector<BudgetPart> unlisted;  ///< never measured and no row of their own
  /// Lost motion and cutter that nobody measured count nothing in it, and are among the parts without `off`.
  PartSizes sizes;
  double tolerance = usual_part_tolerance;  ///< what the owner asks of sizes, mm
  /// Told to be so, nothing that a size needs being unknown.
  bool good_enough() const { return sizes.headline && !sizes_unknown && *sizes.headline <= tolerance; }
  /// From the least that a known part can be off by to the most, 0 between them, mm: what a drawing has to show.
  std::array<double, 2> span() const;
  bool sizes_unknown = false;  ///< something that sizes need was never measured
};

/// `tool`: the one in the spindle; 0 stands for the first of the book.
Budget error_budget(const Book& book, int tool = 0, const Tasks& tasks = all_tasks());

/// What is worth measuring or putting right next, of what `can_be` says can be: the cause that gains the part most.
/// What nobody measured counts with what such machines are off by; a cutter, which takes a cut, comes after all else.
/// Null where the part is within its owner's tolerance, or nothing more brings it nearer.
const BudgetPart* largest_cause(const Budget& budget, const std::function<bool(const BudgetPart&)>& can_be = {});

/// A finding's value and its expanded uncertainty (about 95 %), as part_sizes() takes them.
Known known_of(double value, double U);
/// The other way: of a standard uncertainty, about 95 %.
double known_U(double u);

}  // namespace ypsi
