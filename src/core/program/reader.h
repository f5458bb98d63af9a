#pragma once
// One line of G-code into words. Source: NIST RS274/NGC version 3 (NISTIR 6556), 3.3; ISO 6983-1.
#include <array>
#include <cstdint>
#include <span>
#include <string_view>
#include <vector>

#include "core/program/expression.h"
#include "core/result.h"

namespace ypsi {

struct Word {
  char letter = 0;  ///< upper case
  double value = 0;
  std::uint32_t column = 1;  ///< where the word starts, from 1
};

inline constexpr std::size_t longest_line = 1024;  ///< characters; RS274/NGC allows 256, some CAM output needs more
inline constexpr std::size_t most_words = 32;

/// What a line puts into a parameter, once all its values were read (RS274/NGC 3.3.3).
struct Assignment {
  ValueReader::Name to;
  double value = 0;
};

/// Splits lines into words. Blanks, a leading block-delete stroke and lines of a lone percent sign (tape marks) are
/// passed over; comments in brackets or after a semicolon are kept beside.
class LineReader {
 public:
  /// Words of `line` (without its line end), valid until the next call.
  /// Errors: `syntax` with message "Line L, column C: ..." and where "L:C"; `expression`; `o_word` for subroutines and
  /// loops, which are not understood.
  Result<std::span<const Word>> read(std::string_view line, std::uint32_t line_number,
                                     const Parameters& parameters = none());
  /// Of the line read last; the comments' text without its brackets.
  const std::vector<Assignment>& assignments() const { return assignments_; }
  const std::vector<std::string_view>& comments() const { return comments_; }

 private:
  static const Parameters& none();
  std::array<Word, most_words> words_;
  std::vector<Assignment> assignments_;
  std::vector<std::string_view> comments_;
};

/// "Line 12, column 5: sentence" with code `syntax` unless another is given.
tl::unexpected<Error> program_error(std::uint32_t line, std::uint32_t column, const std::string& sentence,
                                    const char* code = "syntax");

}  // namespace ypsi
