#pragma once
// One line of G-code into words. Source: NIST RS274/NGC version 3 (NISTIR 6556), 3.3; ISO 6983-1.
#include <array>
#include <cstdint>
#include <span>
#include <string_view>

#include "core/result.h"

namespace ypsi {

struct Word {
  char letter = 0;  ///< upper case
  double value = 0;
  std::uint32_t column = 1;  ///< where the word starts, from 1
};

inline constexpr std::size_t longest_line = 1024;  ///< characters; RS274/NGC allows 256, some CAM output needs more
inline constexpr std::size_t most_words = 32;

/// Splits lines into words. Comments in brackets or after a semicolon, blanks, a leading block-delete stroke and lines
/// of a lone percent sign (tape marks) are passed over.
class LineReader {
 public:
  /// Words of `line` (without its line end), valid until the next call.
  /// Errors: `syntax` with message "Line L, column C: ..." and where "L:C".
  Result<std::span<const Word>> read(std::string_view line, std::uint32_t line_number);

 private:
  std::array<Word, most_words> words_;
};

/// "Line 12, column 5: sentence" with code `syntax` unless another is given.
tl::unexpected<Error> program_error(std::uint32_t line, std::uint32_t column, const std::string& sentence,
                                    const char* code = "syntax");

}  // namespace ypsi
