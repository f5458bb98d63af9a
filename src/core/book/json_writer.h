#pragma once
// The visitor that writes a described struct as a JSON object; the struct is not changed.
#include <algorithm>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
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
    JsonWriter v;
    describe(v, const_cast<T&>(value), axis...);
    return std::move(v.out_);
  }

  void number(const char* key, double& value, NumberRange = any_number, Written written = Written::always) {
    put(key, value, written, 0.0);
  }
  void number(const char* key, std::optional<double>& value, NumberRange = any_number) {
    if (value) out_[key] = *value;
  }
  void count(const char* key, int& value, Written written = Written::always) { put(key, value, written, 0); }
  void count(const char* key, int& value, int, int, Written written = Written::always) { put(key, value, written, 0); }
  void count(const char* key, std::size_t& value) { out_[key] = value; }
  void flag(const char* key, bool& value, Written written = Written::always) { put(key, value, written, false); }
  void text(const char* key, std::string& value, Written written = Written::always) {
    put(key, value, written, std::string());
  }
  void texts(const char* key, std::vector<std::string>& value, Written written = Written::always) {
    put(key, value, written, std::vector<std::string>());
  }
  void numbers(const char* key, std::vector<double>& value) { out_[key] = value; }
  template <std::size_t N>
  void numbers(const char* key, std::array<double, N>& value, Written written = Written::always) {
    put(key, value, written, std::array<double, N>{});
  }
  template <std::size_t N>
  void numbers(const char* key, std::optional<std::array<double, N>>& value) {
    if (value) out_[key] = *value;
  }
  void number_lists(const char* key, std::array<std::vector<double>, axis_count>& value) { out_[key] = value; }
  void place(const char* key, Coordinate& value, Axis) { out_[key] = value.mm; }
  void place(const char* key, std::optional<Coordinate>& value, Axis) {
    if (value) out_[key] = value->mm;
  }
  void places(const char* key, std::vector<Coordinate>& value, Axis) { out_[key] = plain(value); }
  void way(const char* key, CountedLength& value, Axis, NumberRange = any_number) { out_[key] = value.mm; }
  bool point(const char* key, MachinePosition& value) {
    out_[key] = {value.x, value.y, value.z};
    return false;
  }
  template <class E, std::size_t N>
  void choice(const char* key, E& value, const std::array<std::pair<E, const char*>, N>& words) {
    for (const auto& [each, name] : words)
      if (each == value) out_[key] = name;
  }
  template <class T>
  void object(const char* key, T& value, Written written = Written::always) {
    T usual{};
    json own = of(value);
    if (written == Written::always || own != of(usual)) out_[key] = std::move(own);
  }
  template <class T>
  void maybe(const char* key, std::optional<T>& value) {
    if (value) out_[key] = of(*value);
  }
  template <class T>
  void list(const char* key, std::vector<T>& value, Written written = Written::always) {
    if (value.empty() && written == Written::where_not_usual) return;
    json& all = out_[key] = json::array();
    for (T& each : value) all.push_back(of(each));
  }
  template <class T>
  void list(const char* key, std::vector<T>& value, Axis axis) {
    json& all = out_[key] = json::array();
    for (T& each : value) all.push_back(of(each, axis));
  }
  template <class T, class How>
  void for_each_axis(const char* key, std::array<T, axis_count>& value, How how, Written written = Written::always) {
    for (const Axis a : all_axes) {
      T usual{};
      JsonWriter own, plain;
      how(own, value[index(a)], a);
      how(plain, usual, a);
      if (written == Written::always || own.out_ != plain.out_)
        out_[key][std::string(1, letter(a))] = std::move(own.out_);
    }
  }
  template <class T>
  void list_for_each_axis(const char* key, std::array<std::vector<T>, axis_count>& value) {
    if (std::all_of(value.begin(), value.end(), [](const auto& own) { return own.empty(); })) return;
    JsonWriter axes;
    for (const Axis a : all_axes) axes.list(std::string(1, letter(a)).c_str(), value[index(a)], a);
    out_[key] = std::move(axes.out_);
  }
  template <class T, std::size_t N>
  void rest_of(const char* key, std::array<T, N>& value, std::size_t first) {
    json all = json::array();
    bool any = false;
    T usual{};
    for (std::size_t i = first; i < N; ++i) {
      all.push_back(of(value[i]));
      any = any || all.back() != of(usual);
    }
    if (any) out_[key] = std::move(all);
  }
  template <class T>
  void keyed(const char* key, std::map<std::string, T>& value) {
    if (value.empty()) return;
    json& all = out_[key] = json::object();
    for (auto& [name, each] : value)
      if constexpr (std::is_same_v<T, std::string>)
        all[name] = each;
      else
        all[name] = of(each);
  }
  template <class How>
  void group(const char* key, How how) {
    JsonWriter own;
    how(own);
    out_[key] = std::move(own.out_);
  }
  void unknown(json& value) {
    if (!value.is_object()) return;
    for (const auto& [key, each] : value.items())
      if (!out_.contains(key)) out_[key] = each;
  }
  void refuse_item(const char*, std::size_t, const char*, const char*) {}

 private:
  template <class T>
  void put(const char* key, const T& value, Written written, const T& usual) {
    if (written == Written::always || value != usual) out_[key] = value;
  }
  json out_ = json::object();
};

}  // namespace ypsi
