#pragma once
#include <ostream>
#include <string>
#include <string_view>

namespace ypsi::cli {
/// `ypsilo check`: what stands against cutting a program on the machine of a book. Returns the exit code: 0 nothing
/// that stops or warns, 1 findings, 2 program or book not readable. The file's name may say what the tool is.
int check(std::string_view program, const std::string& file_name, std::string_view book, bool as_json,
          std::ostream& out);
}  // namespace ypsi::cli
