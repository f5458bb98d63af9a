#pragma once
// A regular expression of a controller's description. RE2's, whose time is bounded by the length of what it reads, so
// that no line and no description can make the program run away.
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "core/result.h"

namespace ypsi::link {

class LinePattern {
 public:
  LinePattern();  ///< none: it is found nowhere
  /// Error: `bad_pattern`, with what RE2 says of it. Example: LinePattern::from("^stands at (?P<mx>-?[0-9.]+)$").
  static Result<LinePattern> from(const std::string& text);
  /// The same for a text that is known to be one: none where it is not.
  static LinePattern of(const std::string& text) { return from(text).value_or(LinePattern()); }
  bool none() const { return !compiled_; }

  struct Found {
    std::size_t begin = 0, end = 0;             ///< where in the line
    std::map<std::string, std::string> groups;  ///< what its named groups took; those that took no part are left out
  };
  /// The first place where it is found, anywhere in the line unless it says ^ and $.
  std::optional<Found> find(std::string_view line) const;
  bool has_group(const std::string& name) const;

 private:
  struct Compiled;
  std::shared_ptr<const Compiled> compiled_;
};

}  // namespace ypsi::link
