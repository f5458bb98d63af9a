#include "core/book/json_reader.h"

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
  const auto value = take(key);
  if (!value) return;
  into.clear();
  for (const auto& each : list_of(*value, key)) {
    if (!each.is_number()) wrong_type(item(key, into.size()));
    into.push_back(each.get<double>());
  }
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

bool JsonReader::point(const char* key, MachinePosition& into) {
  std::array<double, axis_count> at{into.x, into.y, into.z};
  numbers(key, at);
  into = {at[0], at[1], at[2]};
  return false;
}

void JsonReader::refuse_item(const char* list, std::size_t i, const char* key, const char* words) const {
  const std::string at = item(list, i) + "." + key;
  refuse_damage("out_of_range", "“" + at + "” " + words, at);
}

}  // namespace ypsi
