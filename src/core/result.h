#pragma once
// Errors are values. A message says what happened, why, and what to do, in one or two plain sentences.
#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace ypsi {

struct Error {
  std::string code;     ///< for programs: missing, wrong_type, not_finite, out_of_range, too_few, degenerate, ...
  std::string message;  ///< for people
  std::string where;    ///< the input it is about, as a path ("readings[2].measured_mm"), or empty
  bool operator==(const Error&) const = default;
};

template <class T>
using Result = tl::expected<T, Error>;

inline tl::unexpected<Error> fail(std::string code, std::string message, std::string where = {}) {
  return tl::make_unexpected(Error{std::move(code), std::move(message), std::move(where)});
}

}  // namespace ypsi
