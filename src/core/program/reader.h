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
  std::uint32_t column = 1;   ///< where the word starts, from 1
  std::uint8_t decimals = 0;  ///< that were written
};

inline constexpr std::size_t longest_line = 65536;  ///< characters; RS274/NGC allows 256, comments of CAM need more
inline constexpr std::size_t most_words = 64;

/// What a line puts into a parameter, once all its values were read (RS274/NGC 3.3.3).
struct Assignment {
  ValueReader::Name to;
  double value = 0;
};

/// Splits lines into words. Blanks, a leading block-delete stroke, program numbers, a byte-order mark and tape marks
/// are passed over; comments in brackets (nested too) or after a semicolon are kept beside.
class LineReader {
 public:
  /// Words of `line` (without its line end), valid until the next call.
  /// Errors: `syntax` with message "Line L, column C: ..." and where "L:C"; `expression`; `sub_program` for an O-word
  /// that begins, ends or calls one, or a loop: unroll() writes those out.
  Result<std::span<const Word>> read(std::string_view line, std::uint32_t line_number,
                                     const Parameters& parameters = none());
  /// Of the line read last; the comments' text without its brackets.
  std::span<const Word> words() const { return {words_.data(), count_}; }
  const std::vector<Assignment>& assignments() const { return assignments_; }
  const std::vector<std::string_view>& comments() const { return comments_; }
  /// What was passed over and is no word: "program number", "byte-order mark", "blank inside a number".
  const std::vector<const char*>& passed_over() const { return passed_over_; }
  bool block_delete() const { return block_delete_; }  ///< a stroke begins it, alone, numbered or behind N
  bool tape_mark() const { return tape_mark_; }        ///< the line is a percent sign: the text begins or ends here
  bool text_ends() const { return text_ends_; }        ///< by the control character for it (Ctrl-Z)

 private:
  Result<void> take_program_number(const char*& at, std::string_view line, std::uint32_t number);
  Result<void> take_comment(const char*& at, std::string_view line, std::uint32_t number);
  static const Parameters& none();
  std::array<Word, most_words> words_;
  std::size_t count_ = 0;
  std::vector<Assignment> assignments_;
  std::vector<std::string_view> comments_;
  std::vector<const char*> passed_over_;
  bool block_delete_ = false, tape_mark_ = false, text_ends_ = false;
};

/// "Line 12, column 5: sentence" with code `syntax` unless another is given.
tl::unexpected<Error> program_error(std::uint32_t line, std::uint32_t column, const std::string& sentence,
                                    const char* code = "syntax");

}  // namespace ypsi
