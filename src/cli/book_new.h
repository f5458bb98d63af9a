#pragma once
#include <ostream>
#include <string>

#include "core/book/first_book.h"

namespace ypsi::cli {

/// Writes a first book to `file`, which must not be there yet; 0, or 2 with the error as JSON on `out`. Errors: those
/// of first_book(); `exists`, `not_written`.
int new_book(const FirstAnswers& answers, const std::string& file, std::ostream& out);

}  // namespace ypsi::cli
