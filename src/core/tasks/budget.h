#pragma once
// What a part cut today would come out like: the measured errors of a book, taken together for the owner's usual part.
// A quantity that was never measured is unknown, not zero. Source: handbook of the trade, 17.
#include <array>
#include <optional>
#include <vector>

#include "core/tasks/all_tasks.h"

namespace ypsi {

struct BudgetPart : BudgetShare {
  const Task* task = nullptr;  ///< whose measurement it is
  bool stale = false;          ///< something upstream changed since it was measured
  /// How much it can put a part off, mm; none where it was never measured.
  std::optional<double> worst() const;
};

struct Budget {
  std::vector<BudgetPart> parts;  ///< known ones by what they can do, largest first, then the unknown
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

/// The cause that alone makes more than half of what the worst size is off by, where that is more than the owner's
/// tolerance: it is worth more than the next stop of the order of work. Null where there is none.
const BudgetPart* largest_cause(const Budget& budget);

/// A finding's value and its expanded uncertainty (about 95 %), as part_sizes() takes them.
Known known_of(double value, double U);
/// The other way: of a standard uncertainty, about 95 %.
double known_U(double u);

}  // namespace ypsi
