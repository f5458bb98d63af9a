#include "core/tasks/next_axis.h"

#include "core/book/worksheets/scale.h"
#include "core/tasks/standing.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {

std::optional<NextAxis> next_axis(const Book& book, std::optional<Axis> done) {
  std::optional<NextAxis> best;
  double worst = 1;  // times the tolerance
  const auto better = [&](WhyMeasure why) { return !best || why < best->why; };
  for (const Axis a : all_axes) {
    if (a == done) continue;
    const SheetStanding standing = standing_of(book, steps_per_unit_id, a);
    if (standing.standing == Standing::never_done) {
      if (better(WhyMeasure::never_done)) best = NextAxis{a, WhyMeasure::never_done};
      continue;
    }
    if (standing.standing == Standing::out_of_date) {
      if (better(WhyMeasure::out_of_date)) best = NextAxis{a, WhyMeasure::out_of_date};
      continue;
    }
    const auto& tolerance = book.worksheets[scale_worksheets][index(a)].tolerance_per_m;
    const auto U = finding_of<StepsEntry>(book.history[*standing.entry]).U_scale;
    if (!tolerance || !U) continue;
    const double U_per_m = *U * 1000;
    if (U_per_m / *tolerance <= worst || (best && best->why != WhyMeasure::too_coarse)) continue;
    worst = U_per_m / *tolerance;
    best = NextAxis{a, WhyMeasure::too_coarse, U_per_m};
  }
  return best;
}

}  // namespace ypsi
