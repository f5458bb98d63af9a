#pragma once
#include <ostream>
#include <string_view>

namespace ypsi::cli {
/// Says whether `text` is a sound machine book, and what is odd in it. Returns the exit code: 0 sound, 1 readable with
/// something to mend, 2 not readable.
int check_book(std::string_view text, std::ostream& out);
}  // namespace ypsi::cli
