#pragma once
// What core has to tell, for whoever puts it into words: a code, and what goes into the sentence.
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace ypsi {

/// A length in mm, shown in the reader's unit.
struct SaidLength {
  double mm = 0;
  int decimals = 2;
  bool with_unit = true;
};
/// A number that has no unit, or always the same.
struct SaidNumber {
  double value = 0;
  int decimals = 2;
};
using SaidArgument = std::variant<SaidLength, SaidNumber, int, std::string>;

struct Said {
  std::string_view code;  ///< of a phrase; see as_it_is
  std::vector<SaidArgument> arguments;
};
/// Phrases that follow each other without anything between.
using Words = std::vector<Said>;

/// The code of a phrase that is its only argument.
inline constexpr std::string_view as_it_is = "as_it_is";

}  // namespace ypsi
