#pragma once
// The book that a machine begins with, of what its owner can say.
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/result.h"

namespace ypsi {

/// What a workshop has to measure with, each worth what an ordinary one is until readings teach better: steel ruler
/// (under "ruler"), tape, caliper, indicator, digital scale. Source: handbook of the trade, 4.
const std::vector<Instrument>& usual_instruments();

struct FirstAnswers {
  std::string kind;                                              ///< id of one of machine_kinds()
  std::string name;                                              ///< of the machine, not empty
  std::vector<std::string> instruments;                          ///< names of usual_instruments()
  std::array<std::optional<double>, axis_count> reach{};         ///< travel of each axis, mm, > 0; none: as is usual
  std::array<std::optional<Transmission>, axis_count> drives{};  ///< what drives each axis; none: as is usual
};

/// Its kind's usual figures, the instruments with what they are worth, and a usual part that fits the travel. Errors,
/// with the answer in `where`: `unknown_kind`, `no_name`, `unknown_instrument`, `out_of_range`;
/// those of steps_per_unit().
Result<Book> first_book(const FirstAnswers& answers);

}  // namespace ypsi
