#pragma once
// The visitor that writes a described struct as a JSON object; the struct is not changed.
#include <algorithm>
#include <array>
#include <functional>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/book/description.h"
#include "core/geometry.h"

namespace ypsi {

class JsonWriter {
 public:
  static constexpr bool fills = false;      ///< puts values where there were others
  static constexpr bool carries = false;    ///< changes places alone
  static constexpr bool shows_all = false;  ///< keys of every kind, not of the one that is there
  using json = nlohmann::json;
  /// A struct as its description says. Descriptions take what they may fill, and this visitor fills nothing.
  template <class T, class... Axes>
  static json of(const T& value, Axes... axis) {
    return written([&value, axis...](JsonWriter& v) { describe(v, const_cast<T&>(value), axis...); });
  }

  void number(const char* key, double& value, NumberRange = any_number, Written written = Written::always);
  void number(const char* key, std::optional<double>& value, NumberRange = any_number);
  void count(const char* key, int& value, Written written = Written::always);
  void count(const char* key, int& value, int, int, Written written = Written::always) { count(key, value, written); }
  void count(const char* key, std::size_t& value);
  void flag(const char* key, bool& value, Written written = Written::always);
  void text(const char* key, std::string& value, Written written = Written::always);
  void texts(const char* key, std::vector<std::string>& value, Written written = Written::always);
  void numbers(const char* key, std::vector<double>& value);
  template <std::size_t N>
  void numbers(const char* key, std::array<double, N>& value, Written written = Written::always) {
    if (written == Written::always || value != std::array<double, N>{}) put_numbers(key, value.data(), N);
  }
  template <std::size_t N>
  void numbers(const char* key, std::optional<std::array<double, N>>& value) {
    if (value) put_numbers(key, value->data(), N);
  }
  void number_lists(const char* key, std::array<std::vector<double>, axis_count>& value);
  void place(const char* key, Coordinate& value, Axis) { number(key, value.mm); }
  void place(const char* key, std::optional<Coordinate>& value, Axis) {
    if (value) number(key, value->mm);
  }
  void places(const char* key, std::vector<Coordinate>& value, Axis);
  void way(const char* key, CountedLength& value, Axis, NumberRange = any_number) { number(key, value.mm); }
  bool point(const char* key, MachinePosition& value);
  template <class E, std::size_t N>
  void choice(const char* key, E& value, const std::array<std::pair<E, const char*>, N>& words) {
    for (const auto& [each, name] : words)
      if (each == value) word(key, name);
  }
  template <class T>
  void object(const char* key, T& value, Written written = Written::always) {
    part(
        key, [&value](JsonWriter& v) { describe(v, value); }, written,
        [](JsonWriter& v) {
          T usual{};
          describe(v, usual);
        });
  }
  template <class T>
  void maybe(const char* key, std::optional<T>& value) {
    if (value) group(key, [&value](JsonWriter& v) { describe(v, *value); });
  }
  template <class T>
  void list(const char* key, std::vector<T>& value, Written written = Written::always) {
    if (value.empty() && written == Written::where_not_usual) return;
    items(key, value.size(), [&value](JsonWriter& v, std::size_t i) { describe(v, value[i]); });
  }
  template <class T>
  void list(const char* key, std::vector<T>& value, Axis axis) {
    items(key, value.size(), [&value, axis](JsonWriter& v, std::size_t i) { describe(v, value[i], axis); });
  }
  template <class T, class How>
  void for_each_axis(const char* key, std::array<T, axis_count>& value, How how, Written written = Written::always) {
    axes(
        key, [&value, how](JsonWriter& v, Axis a) { how(v, value[index(a)], a); }, written,
        [how](JsonWriter& v, Axis a) {
          T usual{};
          how(v, usual, a);
        });
  }
  template <class T>
  void list_for_each_axis(const char* key, std::array<std::vector<T>, axis_count>& value) {
    if (std::all_of(value.begin(), value.end(), [](const auto& own) { return own.empty(); })) return;
    group(key, [&value](JsonWriter& v) {
      for (const Axis a : all_axes) v.list(axis_keys[index(a)], value[index(a)], a);
    });
  }
  template <class T, std::size_t N>
  void rest_of(const char* key, std::array<T, N>& value, std::size_t first) {
    const json usual = of(T{});
    json all = json::array();
    bool any = false;
    for (std::size_t i = first; i < N; ++i) {
      all.push_back(of(value[i]));
      any = any || all.back() != usual;
    }
    if (any) out_[key] = std::move(all);
  }
  void keyed(const char* key, std::map<std::string, std::string>& value);
  template <class T>
  void keyed(const char* key, std::map<std::string, T>& value) {
    if (value.empty()) return;
    group(key, [&value](JsonWriter& v) {
      for (auto& [name, each] : value) v.group(name.c_str(), [&held = each](JsonWriter& own) { describe(own, held); });
    });
  }
  void group(const char* key, const std::function<void(JsonWriter&)>& how);
  void unknown(json& value);
  void refuse_item(const char*, std::size_t, const char*, const char*) {}

 private:
  // What makes the JSON is compiled once, in the source: of a struct, only its own fields are left to be compiled.
  static json written(const std::function<void(JsonWriter&)>& how);
  void put_numbers(const char* key, const double* numbers, std::size_t n);
  void word(const char* key, const char* word);
  void part(const char* key, const std::function<void(JsonWriter&)>& own, Written written,
            const std::function<void(JsonWriter&)>& usual);
  void items(const char* key, std::size_t n, const std::function<void(JsonWriter&, std::size_t)>& each);
  void axes(const char* key, const std::function<void(JsonWriter&, Axis)>& own, Written written,
            const std::function<void(JsonWriter&, Axis)>& usual);
  json out_ = json::object();
};

}  // namespace ypsi
