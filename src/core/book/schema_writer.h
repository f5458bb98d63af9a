#pragma once
// The visitor that writes the JSON Schema (2020-12) of a described struct.
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

class SchemaWriter {
 public:
  static constexpr bool fills = false;     ///< puts values where there were others
  static constexpr bool carries = false;   ///< changes places alone
  static constexpr bool shows_all = true;  ///< keys of every kind, not of the one that is there
  using json = nlohmann::ordered_json;
  template <class T, class... Axes>
  static json of(Axes... axis) {
    return written([axis...](SchemaWriter& v) {
      T usual{};
      describe(v, usual, axis...);
    });
  }

  void number(const char* key, double&, NumberRange range = any_number, Written = Written::always);
  void number(const char* key, std::optional<double>&, NumberRange range = any_number);
  void count(const char* key, int&, Written = Written::always);
  void count(const char* key, int&, int least, int most, Written = Written::always);
  void count(const char* key, std::size_t&);
  void flag(const char* key, bool&, Written = Written::always);
  void text(const char* key, std::string&, Written = Written::always);
  void texts(const char* key, std::vector<std::string>&, Written = Written::always);
  void numbers(const char* key, std::vector<double>&);
  template <std::size_t N>
  void numbers(const char* key, std::array<double, N>&, Written = Written::always) {
    several(key, N);
  }
  template <std::size_t N>
  void numbers(const char* key, std::optional<std::array<double, N>>&) {
    several(key, N);
  }
  void number_lists(const char* key, std::array<std::vector<double>, axis_count>&);
  void place(const char* key, Coordinate&, Axis axis);
  void place(const char* key, std::optional<Coordinate>&, Axis axis);
  void places(const char* key, std::vector<Coordinate>&, Axis axis);
  void way(const char* key, CountedLength& length, Axis, NumberRange range = any_number) {
    number(key, length.mm, range);
  }
  bool point(const char* key, MachinePosition&);
  template <class E, std::size_t N>
  void choice(const char* key, E&, const std::array<std::pair<E, const char*>, N>& words) {
    std::vector<const char*> all;
    all.reserve(N);
    for (const auto& each : words) all.push_back(each.second);
    one_of(key, all);
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
    items(key, of<T>());
  }
  template <class T>
  void list(const char* key, std::vector<T>&, Axis axis) {
    items(key, of<T>(axis));
  }
  template <class T, class How>
  void for_each_axis(const char* key, std::array<T, axis_count>& all, How how, Written = Written::always) {
    add(key, written([&all, how](SchemaWriter& axes) {
          for (const Axis a : all_axes)
            axes.add(axis_keys[index(a)], written([&all, how, a](SchemaWriter& v) { how(v, all[index(a)], a); }));
        }));
  }
  template <class T>
  void list_for_each_axis(const char* key, std::array<std::vector<T>, axis_count>& all) {
    add(key, written([&all](SchemaWriter& axes) {
          for (const Axis a : all_axes) axes.list(axis_keys[index(a)], all[index(a)], a);
        }));
  }
  template <class T, std::size_t N>
  void rest_of(const char* key, std::array<T, N>&, std::size_t first) {
    items(key, of<T>(), N - first);
  }
  void keyed(const char* key, std::map<std::string, std::string>&);
  template <class T>
  void keyed(const char* key, std::map<std::string, T>&) {
    members(key, of<T>());
  }
  void unknown(nlohmann::json&) {}
  void refuse_item(const char*, std::size_t, const char*, const char*) {}

 private:
  // What makes the schema is compiled once, in the source: of a struct, only its own fields are left to be compiled.
  static json written(const std::function<void(SchemaWriter&)>& how);
  void several(const char* key, std::size_t n);
  void one_of(const char* key, const std::vector<const char*>& words);
  /// A list; `most`: how many it may hold, 0 for any number.
  void items(const char* key, json item, std::size_t most = 0);
  void members(const char* key, json each);
  /// A key that is described twice, as the drives' are, is of either.
  void add(const char* key, json schema);
  json properties_ = json::object();
};

}  // namespace ypsi
