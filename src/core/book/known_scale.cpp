#include "core/book/known_scale.h"

#include <cmath>

#include "core/book/json_number.h"
#include "core/book/standing.h"

namespace ypsi {

std::optional<KnownScale> known_scale(const Entry& entry, double steps_now) {
  const auto scale = number_in(entry.result, "scale"), U = number_in(entry.result, "U_scale"),
             steps = number_in(entry.result, "new_steps_per_mm");
  if (!scale || !U || !(*scale > 0)) return std::nullopt;
  KnownScale known{*U / *scale, std::nullopt};
  if (steps && *steps > 0) known.left = std::fabs(steps_now / *steps - 1);
  return known;
}

std::optional<double> relative_scale_U(const Book& book, Axis axis) {
  const auto at = newest(book, "steps_per_unit", std::string(1, letter(axis)));
  const auto known = at ? known_scale(book.history[*at], book.machine.axis(axis).steps_per_mm) : std::nullopt;
  if (!known) return std::nullopt;
  return std::hypot(known->U, known->left.value_or(0));
}

double U_with_scale(const Book& book, Axis axis, double length, double U) {
  return std::hypot(U, relative_scale_U(book, axis).value_or(0) * length);
}

}  // namespace ypsi
