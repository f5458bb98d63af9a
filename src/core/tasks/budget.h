#pragma once
// What a part cut today would come out like: the measured errors of a book, added up for the owner's usual part.
// A quantity that was never measured is unknown, not zero. Source: JCGM 100:2008, 5.1.2 (independent parts add in
// squares).
#include <optional>
#include <string>
#include <vector>

#include "core/tasks/all_tasks.h"

namespace ypsi {

struct BudgetPart : BudgetShare {
  const Task* task = nullptr;  ///< whose measurement it is
  bool stale = false;          ///< something upstream changed since it was measured
};

struct Budget {
  std::vector<BudgetPart> parts;    ///< known ones by size, largest first, then the unknown
  double size_mm = 0;               ///< root of the sum of squares of all but squareness, about 95 %
  double worst_mm = 0;              ///< their plain sum
  std::optional<double> square_mm;  ///< out of square over the part's height
  bool any_known = false;
};

/// `tool`: the one in the spindle; 0 stands for the first of the book.
Budget error_budget(const Book& book, int tool = 0, const Tasks& tasks = all_tasks());

}  // namespace ypsi
