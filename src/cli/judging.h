#pragma once
// What the commands about programs and drawings have in common.
#include <ostream>
#include <string>

#include "core/program/checks.h"

namespace ypsi::cli {

/// With what a program is judged beside its book: when each move ends, its file's name, and what was tried.
CheckSetting judging(const Book& book, decltype(CheckSetting::end_s) end_s, const std::string& file_name);

/// Says why nothing can be done, as a sentence or as JSON; the exit code for it.
int refuse(const Error& error, bool as_json, std::ostream& out);

}  // namespace ypsi::cli
