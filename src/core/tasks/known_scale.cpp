#include "core/tasks/known_scale.h"

#include <cmath>

#include "core/book/record.h"
#include "core/tasks/budget.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {

std::optional<KnownScale> known_scale(const Entry& entry, double steps_now) {
  const auto found = finding_of<StepsEntry>(entry);
  if (!found.scale || !found.U_scale || !(*found.scale > 0)) return std::nullopt;
  KnownScale known{*found.U_scale / *found.scale, std::nullopt};
  if (found.new_steps && *found.new_steps > 0) known.left = steps_now / *found.new_steps - 1;
  return known;
}

std::optional<double> relative_scale_U(const Book& book, Axis axis) {
  const auto at = newest(book, steps_per_unit_id, std::string(1, letter(axis)));
  const auto known = at ? known_scale(book.history[*at], book.machine.axis(axis).steps_per_mm) : std::nullopt;
  if (!known) return std::nullopt;
  // What is known and left stands beside what is not known: JCGM 100:2008, F.2.4.5.
  return known->U + std::fabs(known->left.value_or(0));
}

double U_with_scale(const Book& book, Axis axis, double length, double U) {
  // Two places: two phases of what the screw repeats, a standard uncertainty of its amplitude.
  const double repeats = known_U(periodic_error_of(book, axis).amplitude.value_or(0));
  return std::hypot(std::hypot(U, repeats), relative_scale_U(book, axis).value_or(0) * length);
}

}  // namespace ypsi
