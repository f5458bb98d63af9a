#pragma once
// `ypsilo rehearse`: the whole order of work against the stand-in machine, without a window.
#include <string>
#include <string_view>

#include "core/result.h"

namespace ypsi::cli {

struct RehearsalReport {
  std::string json;  ///< as docs/handbook.md describes it
  std::string text;  ///< the same for a person
  bool completed = false;
};

/// `book`: text of a machine book, or none; `by_part`: only what the owner's part needs, the largest cause first.
/// Errors: those of the scenario and of the book; nothing was moved then.
Result<RehearsalReport> rehearse(std::string_view scenario, const std::string* book, bool by_part = false);

}  // namespace ypsi::cli
