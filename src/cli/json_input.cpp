#include "cli/json_input.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <cmath>

namespace ypsi::cli {
namespace {
const nlohmann::json empty_object = nlohmann::json::object();
}

JsonInput::JsonInput(const nlohmann::json& value, std::string path, std::optional<Error>& first_error)
    : value_(&value), path_(std::move(path)), error_(&first_error) {
  if (!value.is_object()) {
    note("wrong_type", "An object in braces is expected here.", path_);
    value_ = &empty_object;
  }
}

void JsonInput::note(std::string code, std::string message, std::string where_) {
  if (!*error_) *error_ = Error{std::move(code), std::move(message), std::move(where_)};
}

std::string JsonInput::where(const std::string& key) const {
  return path_.empty() ? key : path_ + "." + key;
}

const nlohmann::json* JsonInput::find(const char* key) const {
  const auto it = value_->find(key);
  return it == value_->end() || it->is_null() ? nullptr : &*it;
}

bool JsonInput::has(const char* key) const {
  return find(key) != nullptr;
}

const nlohmann::json* JsonInput::demand(const char* key) {
  const auto* found = find(key);
  if (!found) note("missing", fmt::format("The key “{}” is missing; add it.", key), where(key));
  return found;
}

double JsonInput::checked(const nlohmann::json& value, const std::string& at, Range range) {
  const double harmless = 1;
  if (!value.is_number()) {
    note("wrong_type", "A number is expected here.", at);
    return harmless;
  }
  const double number = value.get<double>();
  if (!std::isfinite(number)) {
    note("not_finite", "The number is too large to be worked with.", at);
    return harmless;
  }
  if (range == Range::positive && !(number > 0)) {
    note("out_of_range", "The number must be above zero.", at);
    return harmless;
  }
  if (range == Range::not_negative && number < 0) {
    note("out_of_range", "The number must not be below zero.", at);
    return harmless;
  }
  return number;
}

double JsonInput::number(const char* key, Range range) {
  const auto* value = demand(key);
  return value ? checked(*value, where(key), range) : 1;
}

double JsonInput::number_or(const char* key, double otherwise, Range range) {
  return optional_number(key, range).value_or(otherwise);
}

std::optional<double> JsonInput::optional_number(const char* key, Range range) {
  const auto* value = find(key);
  if (!value) return std::nullopt;
  return checked(*value, where(key), range);
}

int JsonInput::whole_or(const char* key, int otherwise, int least) {
  const auto value = optional_number(key);
  if (!value) return otherwise;
  if (*value != std::floor(*value) || *value < least || *value > 1e6) {
    note("out_of_range", fmt::format("A whole number from {} on is expected here.", least), where(key));
    return otherwise;
  }
  return static_cast<int>(*value);
}

std::string JsonInput::text(const char* key) {
  const auto* value = demand(key);
  if (!value) return {};
  if (!value->is_string()) {
    note("wrong_type", "A text in quotes is expected here.", where(key));
    return {};
  }
  return value->get<std::string>();
}

int JsonInput::choice(const char* key, const std::vector<std::string>& allowed, int otherwise) {
  if (otherwise >= 0 && !has(key)) return otherwise;
  const std::string word = text(key);
  if (*error_) return std::max(0, otherwise);
  for (std::size_t i = 0; i < allowed.size(); ++i)
    if (allowed[i] == word) return static_cast<int>(i);
  note("out_of_range", fmt::format("Only these words are known here: {}.", fmt::join(allowed, ", ")), where(key));
  return std::max(0, otherwise);
}

JsonInput JsonInput::object(const char* key) {
  const auto* value = demand(key);
  return JsonInput(value ? *value : empty_object, where(key), *error_);
}

const nlohmann::json* JsonInput::array(const char* key, std::size_t least) {
  const auto* value = demand(key);
  if (!value) return nullptr;
  if (!value->is_array()) {
    note("wrong_type", "A list in square brackets is expected here.", where(key));
    return nullptr;
  }
  if (value->size() < least) {
    note("too_few",
         fmt::format("At least {} {} needed here, and there {} {}.", least, least == 1 ? "is" : "are",
                     value->size() == 1 ? "is" : "are", value->size()),
         where(key));
    return nullptr;
  }
  return value;
}

std::vector<double> JsonInput::numbers(const char* key, std::size_t least, Range range) {
  std::vector<double> all;
  if (const auto* list = array(key, least))
    for (std::size_t i = 0; i < list->size(); ++i)
      all.push_back(checked((*list)[i], fmt::format("{}[{}]", where(key), i), range));
  return all;
}

std::pair<double, double> JsonInput::pair(const nlohmann::json& value, const std::string& at) {
  if (!value.is_array() || value.size() != 2) {
    note("wrong_type", "A point [x, y] is expected here.", at);
    return {0, 0};
  }
  return {checked(value[0], at + "[0]", Range::any), checked(value[1], at + "[1]", Range::any)};
}

std::pair<double, double> JsonInput::point(const char* key) {
  const auto* value = demand(key);
  return value ? pair(*value, where(key)) : std::pair<double, double>{0, 0};
}

std::vector<std::pair<double, double>> JsonInput::points(const char* key, std::size_t least) {
  std::vector<std::pair<double, double>> all;
  if (const auto* list = array(key, least))
    for (std::size_t i = 0; i < list->size(); ++i)
      all.push_back(pair((*list)[i], fmt::format("{}[{}]", where(key), i)));
  return all;
}

std::vector<JsonInput> JsonInput::objects(const char* key, std::size_t least) {
  std::vector<JsonInput> all;
  if (const auto* list = array(key, least))
    for (std::size_t i = 0; i < list->size(); ++i)
      all.emplace_back((*list)[i], fmt::format("{}[{}]", where(key), i), *error_);
  return all;
}

Instrument JsonInput::instrument(const char* key) {
  JsonInput in = object(key);
  Instrument instrument;
  instrument.resolution_mm = in.number("resolution_mm", Range::positive);
  instrument.ends = in.whole_or("ends", 1, 1);
  instrument.s_mm = in.optional_number("s_mm", Range::not_negative);
  instrument.u_cal_mm = in.number_or("u_cal_mm", 0, Range::not_negative);
  instrument.u_rel = in.number_or("u_rel", 0, Range::not_negative);
  return instrument;
}

}  // namespace ypsi::cli
