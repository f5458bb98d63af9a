#include "core/book/known_scale.h"

#include <cmath>

#include "core/book/json_number.h"
#include "core/book/standing.h"

namespace ypsi {

std::optional<double> relative_scale_U(const Book& book, Axis axis) {
  const auto at = newest(book, "steps_per_unit", std::string(1, letter(axis)));
  if (!at) return std::nullopt;
  const auto& result = book.history[*at].result.get();
  const auto scale = number_in(result, "scale"), U = number_in(result, "U_scale");
  if (!scale || !U || !(*scale > 0)) return std::nullopt;
  const auto steps = number_in(result, "new_steps_per_mm");
  const double left = steps && *steps > 0 ? book.machine.axis(axis).steps_per_mm / *steps - 1 : 0;
  return std::hypot(*U / *scale, left);
}

}  // namespace ypsi
