#include "core/book/json_reader.h"

#include <fmt/format.h>

#include <cmath>
#include <limits>

namespace ypsi {

void refuse(std::string code, std::string message, std::string where) {
  throw Refused{Error{std::move(code), std::move(message), std::move(where)}};
}

void refuse_damage(std::string code, std::string message, std::string where) {
  throw Refused{Error{std::move(code), std::move(message), std::move(where)}, true};
}

Error Refused::in_words(std::string_view with) const {
  Error whole = error;
  if (damage) whole.message.insert(0, with);
  return whole;
}

void JsonReader::wrong_type(const std::string& at) {
  refuse_damage("wrong_type", "“" + at + "” holds something of another kind.", at);
}

JsonReader::JsonReader(json from, std::string path) : left_(std::move(from)), path_(std::move(path)) {
  if (left_.is_null()) left_ = json::object();
  if (!left_.is_object()) refuse_damage("wrong_type", "an object is expected at “" + path_ + "”.", path_);
}

std::string JsonReader::where(const char* key) const {
  return path_.empty() ? key : path_ + "." + key;
}

std::string JsonReader::item(const char* key, std::size_t i) const {
  return fmt::format("{}[{}]", where(key), i);
}

std::optional<nlohmann::json> JsonReader::take(const char* key) {
  const auto it = left_.find(key);
  if (it == left_.end()) return std::nullopt;
  std::optional<json> value;
  if (!it->is_null()) value = std::move(*it);
  left_.erase(it);
  return value;
}

double JsonReader::checked(const json& value, const char* key, NumberRange range) const {
  if (!value.is_number()) wrong_type(where(key));
  const auto number = value.get<double>();
  if (range.holds(number)) return number;
  const std::string must = std::isfinite(range.most) ? fmt::format("be from {:g} to {:g}", range.least, range.most)
                           : range.above             ? "be above zero"
                                                     : "not be below zero";
  refuse_damage("out_of_range", fmt::format("“{}” must {}.", where(key), must), where(key));
}

long long JsonReader::whole(const json& value, const char* key, long long least, long long most) const {
  if (!value.is_number()) wrong_type(where(key));
  const auto number = value.get<double>();
  if (number != std::floor(number)) wrong_type(where(key));
  if (number >= static_cast<double>(least) && number <= static_cast<double>(most))
    return static_cast<long long>(number);
  refuse_damage("out_of_range", fmt::format("“{}” must be from {} to {}.", where(key), least, most), where(key));
}

const nlohmann::json& JsonReader::list_of(const json& value, const char* key) const {
  if (!value.is_array()) refuse_damage("wrong_type", "a list is expected at “" + where(key) + "”.", where(key));
  return value;
}

void JsonReader::number(const char* key, double& into, NumberRange range, Written) {
  if (const auto value = take(key)) into = checked(*value, key, range);
}

void JsonReader::number(const char* key, std::optional<double>& into, NumberRange range) {
  if (const auto value = take(key)) into = checked(*value, key, range);
}

void JsonReader::count(const char* key, int& into, Written) {
  count(key, into, std::numeric_limits<int>::min(), std::numeric_limits<int>::max());
}

void JsonReader::count(const char* key, int& into, int least, int most, Written) {
  if (const auto value = take(key)) into = static_cast<int>(whole(*value, key, least, most));
}

void JsonReader::count(const char* key, std::size_t& into) {
  if (const auto value = take(key))
    into = static_cast<std::size_t>(whole(*value, key, 0, std::numeric_limits<int>::max()));
}

std::vector<double> JsonReader::numbers_of(const json& list, const char* key) const {
  std::vector<double> all;
  all.reserve(list.size());
  for (const auto& each : list) {
    if (!each.is_number()) wrong_type(item(key, all.size()));
    all.push_back(each.get<double>());
  }
  return all;
}

void JsonReader::flag(const char* key, bool& into, Written) {
  const auto value = take(key);
  if (!value) return;
  if (!value->is_boolean()) wrong_type(where(key));
  into = value->get<bool>();
}

void JsonReader::text(const char* key, std::string& into, Written) {
  const auto value = take(key);
  if (!value) return;
  if (!value->is_string()) wrong_type(where(key));
  into = value->get<std::string>();
}

void JsonReader::texts(const char* key, std::vector<std::string>& into, Written) {
  const auto value = take(key);
  if (!value) return;
  into.clear();
  for (const auto& each : list_of(*value, key)) {
    if (!each.is_string()) wrong_type(item(key, into.size()));
    into.push_back(each.get<std::string>());
  }
}

void JsonReader::numbers(const char* key, std::vector<double>& into) {
  if (const auto value = take(key)) into = numbers_of(list_of(*value, key), key);
}

std::vector<double> JsonReader::exactly(const char* key, std::size_t n) {
  const auto value = take(key);
  if (!value) return {};
  const json& all = list_of(*value, key);
  if (all.size() != n) wrong_type(where(key));
  return numbers_of(all, key);
}

void JsonReader::number_lists(const char* key, std::array<std::vector<double>, axis_count>& into) {
  const auto value = take(key);
  if (!value) return;
  if (list_of(*value, key).size() != axis_count) wrong_type(where(key));
  for (std::size_t i = 0; i < axis_count; ++i) {
    into[i].clear();
    for (const auto& each : list_of((*value)[i], key)) {
      if (!each.is_number()) wrong_type(item(key, i));
      into[i].push_back(each.get<double>());
    }
  }
}

void JsonReader::place(const char* key, std::optional<Coordinate>& into, Axis) {
  std::optional<double> mm = into;
  number(key, mm);
  into = mm;
}

void JsonReader::places(const char* key, std::vector<Coordinate>& into, Axis) {
  std::vector<double> mm = plain(into);
  numbers(key, mm);
  into = coordinates(mm);
}

bool JsonReader::point(const char* key, MachinePosition& into) {
  std::array<double, axis_count> at{into.x, into.y, into.z};
  numbers(key, at);
  into = {at[0], at[1], at[2]};
  return false;
}

void JsonReader::group(const char* key, const std::function<void(JsonReader&)>& how) {
  auto value = take(key);
  if (!value) return;
  JsonReader of(std::move(*value), where(key));
  how(of);
}

void JsonReader::group_unless_empty(const char* key, const std::function<void(JsonReader&)>& how) {
  auto value = take(key);
  if (!value || value->empty()) return;
  JsonReader of(std::move(*value), where(key));
  how(of);
}

void JsonReader::items(const char* key, const std::function<void(std::size_t)>& resize,
                       const std::function<void(JsonReader&, std::size_t)>& each) {
  auto value = take(key);
  if (!value) return;
  const std::size_t n = list_of(*value, key).size();
  resize(n);
  for (std::size_t i = 0; i < n; ++i) {
    JsonReader of(std::move((*value)[i]), item(key, i));
    each(of, i);
  }
}

void JsonReader::axes(const char* key, const std::function<void(JsonReader&, Axis)>& each) {
  group(key, [&each](JsonReader& own) {
    for (const Axis a : all_axes) own.group(axis_keys[index(a)], [&each, a](JsonReader& of) { each(of, a); });
  });
}

void JsonReader::members(const char* key, const std::function<void(JsonReader&, const std::string&)>& each) {
  auto value = take(key);
  if (!value) return;
  if (!value->is_object()) wrong_type(where(key));
  for (auto& [name, held] : value->items()) {
    JsonReader of(std::move(held), where(key) + "." + name);
    each(of, name);
  }
}

void JsonReader::keyed(const char* key, std::map<std::string, std::string>& into) {
  const auto value = take(key);
  if (!value) return;
  if (!value->is_object()) wrong_type(where(key));
  for (const auto& [name, each] : value->items()) {
    if (!each.is_string()) wrong_type(where(key) + "." + name);
    into[name] = each.get<std::string>();
  }
}

void JsonReader::no_such_word(const char* key, const std::string& word) const {
  refuse_damage("out_of_range", "“" + where(key) + "” says “" + word + "”, which is none of its words.", where(key));
}

void JsonReader::refuse_item(const char* list, std::size_t i, const char* key, const char* words) const {
  const std::string at = item(list, i) + "." + key;
  refuse_damage("out_of_range", "“" + at + "” " + words, at);
}

}  // namespace ypsi
