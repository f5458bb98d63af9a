#pragma once
// A pattern made from one line that the controller said, and from what its owner says that its words and numbers mean.
#include <string>
#include <string_view>
#include <vector>

namespace ypsi::link {

/// A word or a number of a line: what can be given a meaning.
struct Token {
  std::size_t begin = 0, end = 0;
  bool number = false;
  bool operator==(const Token&) const = default;
};

/// From left to right. A number that hangs on a word ("V100") is part of it; "-3.250" is one number.
/// Example: "XS=80.25" has the word XS and the number 80.25.
std::vector<Token> tokens_of(std::string_view line);

/// What a token means: the name of a pattern's group, as docs/controllers.md lists them ("mx", "state", "why").
struct Mark {
  Token token;
  std::string group;
};

/// The regular expression that finds this line, with any other numbers in place of its numbers and with what is marked
/// as groups. `why` at a word goes on to the line's end; `contact` is only met where the word is the same.
/// `whole`: nothing else is in the line. Marks are of tokens_of(line), each group once, else the later one is passed
/// over. Example: "XS=80.25" with 80.25 as `value` makes "^XS=(?P<value>-?[0-9.]+)$".
std::string pattern_of(std::string_view line, const std::vector<Mark>& marks, bool whole);

}  // namespace ypsi::link
