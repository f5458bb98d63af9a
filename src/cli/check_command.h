#pragma once
#include <ostream>
#include <string_view>

namespace ypsi::cli {
/// `ypsilo check`: what stands against cutting a program on the machine of a book. Returns the exit code: 0 nothing
/// that stops or warns, 1 findings, 2 program or book not readable.
int check(std::string_view program, std::string_view book, bool as_json, std::ostream& out);
}  // namespace ypsi::cli
