#pragma once
#include <optional>
#include <ostream>
#include <string>
#include <string_view>

namespace ypsi::cli {

/// What `ypsilo drawing` is asked.
struct DrawingQuestion {
  std::string_view file, book;
  std::string_view file_name{};
  std::optional<double> unit_mm{};         ///< what one of the file's units is, where its owner knows better
  std::optional<std::string_view> acts{};  ///< JSON, as `job.drawing` of a book; none: the book's
  bool as_json = false;
};

/// What is found in a drawing, for the machine of a book; where acts are said, what is made of it is written to
/// `program`. Exit code: 0 clean, 1 findings, 2 unreadable.
int drawing(const DrawingQuestion& question, std::ostream& out, std::string* program = nullptr);

}  // namespace ypsi::cli
