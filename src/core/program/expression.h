#pragma once
// Parameters and expressions of G-code: #31, #<depth>, [2 * #31 + SIN[30]]. Angles in degrees. Source: NIST RS274/NGC
// version 3 (NISTIR 6556), 3.2.1 and 3.3.2.
#include <cstdint>
#include <map>
#include <string>
#include <string_view>

#include "core/result.h"

namespace ypsi {

inline constexpr int most_parameters = 5999;  ///< #1 to #5999

/// What a program has put into its parameters; what was never set is 0, as the standard has it.
class Parameters {
 public:
  double get(int number) const;
  bool has(const std::string& name) const { return named_.contains(name); }
  double get(const std::string& name) const;
  const std::map<int, double>& numbered() const { return numbered_; }
  const std::map<std::string, double>& named() const { return named_; }
  void set(int number, double value) { numbered_[number] = value; }
  void set(const std::string& name, double value) { named_[name] = value; }

 private:
  std::map<int, double> numbered_;
  std::map<std::string, double> named_;  ///< lower case, without blanks
};

/// Reads one value: a number, a parameter, a function or an expression in square brackets.
class ValueReader {
 public:
  /// `line` is the whole line, for the columns of errors.
  ValueReader(std::string_view line, std::uint32_t number, const Parameters& parameters)
      : begin_(line.data()), end_(line.data() + line.size()), line_(number), parameters_(parameters) {}
  /// Value that starts at `at`, which is moved behind it. Errors: `syntax`; `expression` where it has no value, as a
  /// division by zero.
  Result<double> value(const char*& at);
  /// Whether a function's name starts at `at`, as SIN.
  static bool function_at(const char* at, const char* end);
  /// What `#` at `at` names: a number, else a name (lower case).
  struct Name {
    int number = 0;
    std::string text;
  };
  Result<Name> name(const char*& at);

 private:
  Result<double> expression(const char*& at, char close);
  Result<double> function(const char*& at);
  tl::unexpected<Error> error(const char* at, const std::string& sentence, const char* code = "syntax") const;
  const char *begin_, *end_;
  std::uint32_t line_;
  const Parameters& parameters_;
  int depth_ = 0;
};

/// Decimal number in RS274/NGC form: optional sign, digits, optional point, no exponent; behind it, or null where none
/// stands at `at`.
const char* read_number(const char* at, const char* end, double& value, int* decimals = nullptr);

/// The same where blanks may stand within it, as RS274/NGC 3.3.1 allows ("- 1 2.5" is -12.5).
const char* read_spaced_number(const char* at, const char* end, double& value, int* decimals = nullptr);

}  // namespace ypsi
