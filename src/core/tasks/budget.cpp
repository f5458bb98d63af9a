#include "core/tasks/budget.h"

#include <algorithm>
#include <cmath>

#include "core/tasks/standing.h"

namespace ypsi {

Budget error_budget(const Book& book, int tool, const Tasks& tasks) {
  Budget budget;
  const Standings standings(book, tasks);
  for (const Task* task : tasks)
    for (const BudgetShare& share : task->budget({book, tool})) {
      BudgetPart part{share, task};
      if (part.entry) part.stale = standings.of(task->id(), part.axis).standing == Standing::out_of_date;
      budget.parts.push_back(part);
    }
  double squares = 0;
  for (const auto& part : budget.parts) {
    if (!part.mm) continue;
    budget.any_known = true;
    if (part.out_of_square) {
      budget.square_mm = part.mm;
    } else {
      squares += *part.mm * *part.mm;
      budget.worst_mm += *part.mm;
    }
  }
  budget.size_mm = std::sqrt(squares);
  std::stable_sort(budget.parts.begin(), budget.parts.end(),
                   [](const BudgetPart& a, const BudgetPart& b) { return a.mm.value_or(-1) > b.mm.value_or(-1); });
  return budget;
}

}  // namespace ypsi
