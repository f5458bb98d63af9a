#pragma once
// Sub-programs written out where they are called: M98 and M99 with program numbers (ISO 6983-1), O-words sub, endsub
// and call. Loops and conditions are not followed.
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/result.h"

namespace ypsi {

struct Unrolled {
  std::string text;                  ///< without sub-programs and calls; comments kept
  std::vector<std::uint32_t> lines;  ///< of the file, for each line of the text
};

inline constexpr std::size_t most_unrolled_lines = 2'000'000;
inline constexpr int deepest_call = 10;

/// The main program is the first part of the file that does not end with M99. "M98 P100 L3" writes the part numbered
/// 100 three times; "O100 call [5]" its own with #1 set to 5, where #1 to #30 serve nothing else. Errors, with line and
/// column: `sub_program` for a loop, a condition, a sub-program that is missing, unfinished or calls itself, and past
/// the bounds above.
Result<Unrolled> unroll(std::string_view text);

}  // namespace ypsi
