#pragma once
// Reads the keys of one JSON object, remembers the first thing that is wrong and where. Readers go on with harmless
// values after that, so a calculation's parser reads top to bottom and asks once, at its end, whether all was well.
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi::cli {

enum class Range { any, positive, not_negative };

class JsonInput {
 public:
  /// `value` must be an object and outlive this; `path` is how errors name it ("" at the top).
  JsonInput(const nlohmann::json& value, std::string path, std::optional<Error>& first_error);

  double number(const char* key, Range range = Range::any);
  double number_or(const char* key, double otherwise, Range range = Range::any);
  std::optional<double> optional_number(const char* key, Range range = Range::any);
  /// A whole number, >= least.
  int whole_or(const char* key, int otherwise, int least);
  std::string text(const char* key);
  /// One of `allowed`; its index. `otherwise` < 0: the key must be there.
  int choice(const char* key, const std::vector<std::string>& allowed, int otherwise = -1);
  bool has(const char* key) const;
  /// The object or, for an absent key, an empty one (an error is noted).
  JsonInput object(const char* key);
  std::vector<double> numbers(const char* key, std::size_t least, Range range = Range::any);
  /// [x, y]
  std::pair<double, double> point(const char* key);
  std::vector<std::pair<double, double>> points(const char* key, std::size_t least);
  /// Every element must be an object; `least` of them.
  std::vector<JsonInput> objects(const char* key, std::size_t least);
  /// {resolution_mm, ends, s_mm, u_cal_mm, u_rel} under `key`.
  Instrument instrument(const char* key);

  const nlohmann::json& json() const { return *value_; }
  std::string where(const std::string& key) const;
  void note(std::string code, std::string message, std::string where_);

 private:
  const nlohmann::json* find(const char* key) const;
  const nlohmann::json* demand(const char* key);
  double checked(const nlohmann::json& value, const std::string& where, Range range);
  const nlohmann::json* array(const char* key, std::size_t least);
  std::pair<double, double> pair(const nlohmann::json& value, const std::string& where);

  const nlohmann::json* value_;
  std::string path_;
  std::optional<Error>* error_;
};

}  // namespace ypsi::cli
