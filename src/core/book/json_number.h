#pragma once
#include <nlohmann/json.hpp>
#include <optional>
#include <string>

namespace ypsi {

/// The number under a key of a result; none where there is no such key, or something else is there.
inline std::optional<double> number_in(const nlohmann::json& object, const std::string& key) {
  if (!object.is_object()) return std::nullopt;
  const auto it = object.find(key);
  return it != object.end() && it->is_number() ? std::optional(it->get<double>()) : std::nullopt;
}

/// The only number of an as_found or as_left; none where it holds none, or several values.
inline std::optional<double> only_number(const nlohmann::json& values) {
  if (!values.is_object() || values.size() != 1 || !values.begin()->is_number()) return std::nullopt;
  return values.begin()->get<double>();
}

}  // namespace ypsi
