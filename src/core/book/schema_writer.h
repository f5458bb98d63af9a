#pragma once
// The visitor that writes the JSON Schema (2020-12) of a described struct.
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/book/description.h"
#include "core/geometry.h"

namespace ypsi {

class SchemaWriter {
 public:
  static constexpr bool fills = false;     ///< puts values where there were others
  static constexpr bool carries = false;   ///< changes places alone
  static constexpr bool shows_all = true;  ///< keys of every kind, not of the one that is there
  using json = nlohmann::ordered_json;
  template <class T, class... Axes>
  static json of(Axes... axis) {
    T usual{};
    SchemaWriter v;
    describe(v, usual, axis...);
    return std::move(v).schema();
  }
  json schema() && { return {{"type", "object"}, {"properties", std::move(properties_)}}; }

  template <class Number, class... Rest>
  void number(const char* key, Number&, NumberRange range = any_number, Rest...) {
    json of{{"type", "number"}};
    if (std::isfinite(range.least)) of[range.above ? "exclusiveMinimum" : "minimum"] = range.least;
    if (std::isfinite(range.most)) of["maximum"] = range.most;
    add(key, std::move(of));
  }
  void count(const char* key, int&, Written = Written::always) { add(key, {{"type", "integer"}}); }
  void count(const char* key, int&, int least, int most, Written = Written::always) {
    add(key, {{"type", "integer"}, {"minimum", least}, {"maximum", most}});
  }
  void count(const char* key, std::size_t&) { add(key, {{"type", "integer"}, {"minimum", 0}}); }
  void flag(const char* key, bool&, Written = Written::always) { add(key, {{"type", "boolean"}}); }
  void text(const char* key, std::string&, Written = Written::always) { add(key, {{"type", "string"}}); }
  void texts(const char* key, std::vector<std::string>&, Written = Written::always) {
    add(key, list_of({{"type", "string"}}));
  }
  void numbers(const char* key, std::vector<double>&) { add(key, list_of({{"type", "number"}})); }
  template <std::size_t N>
  void numbers(const char* key, std::array<double, N>&, Written = Written::always) {
    add(key, several({{"type", "number"}}, N));
  }
  template <std::size_t N>
  void numbers(const char* key, std::optional<std::array<double, N>>&) {
    add(key, several({{"type", "number"}}, N));
  }
  void number_lists(const char* key, std::array<std::vector<double>, axis_count>&) {
    add(key, several(list_of({{"type", "number"}}), axis_count));
  }
  template <class Number>
  void place(const char* key, Number&, Axis axis) {
    add(key, {{"type", "number"}, {"description", std::string("machine coordinate of ") + letter(axis)}});
  }
  void places(const char* key, std::vector<Coordinate>&, Axis axis) {
    add(key, list_of({{"type", "number"}, {"description", std::string("machine coordinate of ") + letter(axis)}}));
  }
  void way(const char* key, CountedLength& length, Axis, NumberRange range = any_number) {
    number(key, length.mm, range);
  }
  bool point(const char* key, MachinePosition&) {
    add(key, several({{"type", "number"}, {"description", "machine coordinate"}}, axis_count));
    return false;
  }
  template <class E, std::size_t N>
  void choice(const char* key, E&, const std::array<std::pair<E, const char*>, N>& words) {
    json all = json::array();
    for (const auto& word : words) all.push_back(word.second);
    add(key, {{"enum", std::move(all)}});
  }
  template <class T, class... Rest>
  void object(const char* key, T&, Rest...) {
    add(key, of<T>());
  }
  template <class T>
  void maybe(const char* key, std::optional<T>&) {
    add(key, of<T>());
  }
  template <class T>
  void list(const char* key, std::vector<T>&, Written = Written::always) {
    add(key, list_of(of<T>()));
  }
  template <class T>
  void list(const char* key, std::vector<T>&, Axis axis) {
    add(key, list_of(of<T>(axis)));
  }
  template <class T, class How>
  void for_each_axis(const char* key, std::array<T, axis_count>&, How how, Written = Written::always) {
    SchemaWriter axes;
    for (const Axis a : all_axes) {
      T usual{};
      SchemaWriter own;
      how(own, usual, a);
      axes.add(std::string(1, letter(a)), std::move(own).schema());
    }
    add(key, std::move(axes).schema());
  }
  template <class T>
  void list_for_each_axis(const char* key, std::array<std::vector<T>, axis_count>&) {
    SchemaWriter axes;
    for (const Axis a : all_axes) axes.add(std::string(1, letter(a)), list_of(of<T>(a)));
    add(key, std::move(axes).schema());
  }
  template <class T, std::size_t N>
  void rest_of(const char* key, std::array<T, N>&, std::size_t first) {
    json all = list_of(of<T>());
    all["maxItems"] = N - first;
    add(key, std::move(all));
  }
  template <class T>
  void keyed(const char* key, std::map<std::string, T>&) {
    json each{{"type", "string"}};
    if constexpr (!std::is_same_v<T, std::string>) each = of<T>();
    add(key, {{"type", "object"}, {"additionalProperties", std::move(each)}});
  }
  void unknown(nlohmann::json&) {}
  void refuse_item(const char*, std::size_t, const char*, const char*) {}

 private:
  static json list_of(json item) { return {{"type", "array"}, {"items", std::move(item)}}; }
  static json several(json item, std::size_t n) {
    json all = list_of(std::move(item));
    all["minItems"] = all["maxItems"] = n;
    return all;
  }
  /// A key that is described twice, as the drives' are, is of either.
  void add(const std::string& key, json schema) { properties_[key] = std::move(schema); }
  json properties_ = json::object();
};

}  // namespace ypsi
