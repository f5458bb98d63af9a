#pragma once
// An optional value is null in JSON where it is not known. For the sources that write plain structs, nowhere else.
#include <nlohmann/json.hpp>
#include <optional>

namespace nlohmann {

template <class T>
struct adl_serializer<std::optional<T>> {
  static void to_json(json& out, const std::optional<T>& value) {
    if (value)
      out = *value;
    else
      out = nullptr;
  }
  static void from_json(const json& in, std::optional<T>& value) {
    value = in.is_null() ? std::nullopt : std::optional<T>(in.get<T>());
  }
};

}  // namespace nlohmann
