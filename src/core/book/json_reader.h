#pragma once
// The visitor that fills a described struct from a JSON object: what is missing or null keeps its value, what is of
// another kind or out of its range is refused with its place, what is not described is kept as unknown.
#include <algorithm>
#include <array>
#include <functional>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/book/description.h"
#include "core/geometry.h"
#include "core/result.h"

namespace ypsi {

/// What stops the reading of a file; thrown by the reader and caught by whoever reads that kind of file.
struct Refused {
  Error error;
  bool damage = false;  ///< the message says what is wrong, and not yet with what: "“axes.X” must be above zero."
  /// The whole sentence; `with`: "The book is damaged: ".
  Error in_words(std::string_view with) const;
};
[[noreturn]] void refuse(std::string code, std::string message, std::string where);
[[noreturn]] void refuse_damage(std::string code, std::string message, std::string where);

class JsonReader {
 public:
  static constexpr bool fills = true;       ///< puts values where there were others
  static constexpr bool carries = false;    ///< changes places alone
  static constexpr bool shows_all = false;  ///< keys of every kind, not of the one that is there
  using json = nlohmann::json;
  JsonReader(json from, std::string path);

  void number(const char* key, double& into, NumberRange range = any_number, Written = Written::always);
  void number(const char* key, std::optional<double>& into, NumberRange range = any_number);
  void count(const char* key, int& into, Written = Written::always);
  void count(const char* key, int& into, int least, int most, Written = Written::always);
  void count(const char* key, std::size_t& into);
  void flag(const char* key, bool& into, Written = Written::always);
  void text(const char* key, std::string& into, Written = Written::always);
  void texts(const char* key, std::vector<std::string>& into, Written = Written::always);
  void numbers(const char* key, std::vector<double>& into);
  template <std::size_t N>
  void numbers(const char* key, std::array<double, N>& into, Written = Written::always) {
    if (const auto all = exactly(key, N); !all.empty()) std::copy_n(all.begin(), N, into.begin());
  }
  template <std::size_t N>
  void numbers(const char* key, std::optional<std::array<double, N>>& into) {
    if (const auto all = exactly(key, N); !all.empty()) std::copy_n(all.begin(), N, into.emplace().begin());
  }
  void number_lists(const char* key, std::array<std::vector<double>, axis_count>& into);
  void place(const char* key, Coordinate& into, Axis) { number(key, into.mm); }
  void place(const char* key, std::optional<Coordinate>& into, Axis);
  void places(const char* key, std::vector<Coordinate>& into, Axis);
  void way(const char* key, CountedLength& into, Axis, NumberRange range = any_number) { number(key, into.mm, range); }
  bool point(const char* key, MachinePosition& into);
  template <class E, std::size_t N>
  void choice(const char* key, E& into, const std::array<std::pair<E, const char*>, N>& words) {
    std::string word;
    text(key, word);
    if (word.empty()) return;
    for (const auto& [value, name] : words)
      if (word == name) {
        into = value;
        return;
      }
    no_such_word(key, word);
  }
  template <class T>
  void object(const char* key, T& into, Written = Written::always) {
    group(key, [&into](JsonReader& of) { describe(of, into); });
  }
  template <class T>
  void maybe(const char* key, std::optional<T>& into) {
    group_unless_empty(key, [&into](JsonReader& of) { describe(of, into.emplace()); });
  }
  template <class T>
  void list(const char* key, std::vector<T>& into, Written = Written::always) {
    items(
        key, [&into](std::size_t n) { into.resize(n); },
        [&into](JsonReader& of, std::size_t i) { describe(of, into[i]); });
  }
  template <class T>
  void list(const char* key, std::vector<T>& into, Axis axis) {
    items(
        key, [&into](std::size_t n) { into.resize(n); },
        [&into, axis](JsonReader& of, std::size_t i) { describe(of, into[i], axis); });
  }
  template <class T, class How>
  void for_each_axis(const char* key, std::array<T, axis_count>& into, How how, Written = Written::always) {
    axes(key, [&into, how](JsonReader& of, Axis a) { how(of, into[index(a)], a); });
  }
  template <class T>
  void list_for_each_axis(const char* key, std::array<std::vector<T>, axis_count>& into) {
    group(key, [&into](JsonReader& of) {
      for (const Axis a : all_axes) of.list(axis_keys[index(a)], into[index(a)], a);
    });
  }
  template <class T, std::size_t N>
  void rest_of(const char* key, std::array<T, N>& into, std::size_t first) {
    std::vector<T> others;
    list(key, others);
    for (std::size_t i = 0; i < others.size() && first + i < N; ++i) into[first + i] = std::move(others[i]);
  }
  void keyed(const char* key, std::map<std::string, std::string>& into);
  template <class T>
  void keyed(const char* key, std::map<std::string, T>& into) {
    members(key, [&into](JsonReader& of, const std::string& name) { describe(of, into[name]); });
  }
  void group(const char* key, const std::function<void(JsonReader&)>& how);
  void unknown(json& into) { into = std::move(left_); }
  [[noreturn]] void refuse_item(const char* list, std::size_t i, const char* key, const char* words) const;

 private:
  // What needs the JSON is compiled once, in the source: of a struct, only its own fields are left to be compiled.
  void group_unless_empty(const char* key, const std::function<void(JsonReader&)>& how);
  void items(const char* key, const std::function<void(std::size_t)>& resize,
             const std::function<void(JsonReader&, std::size_t)>& each);
  void axes(const char* key, const std::function<void(JsonReader&, Axis)>& each);
  void members(const char* key, const std::function<void(JsonReader&, const std::string&)>& each);
  std::vector<double> exactly(const char* key, std::size_t n);  ///< so many numbers; none where there is no such key
  [[noreturn]] void no_such_word(const char* key, const std::string& word) const;
  /// The value under a key, taken out of what is left; none where it is missing or null.
  std::optional<json> take(const char* key);
  std::string where(const char* key) const;
  std::string item(const char* key, std::size_t i) const;
  [[noreturn]] static void wrong_type(const std::string& at);
  double checked(const json& value, const char* key, NumberRange range) const;
  long long whole(const json& value, const char* key, long long least, long long most) const;
  const json& list_of(const json& value, const char* key) const;
  std::vector<double> numbers_of(const json& list, const char* key) const;
  json left_;
  std::string path_;
};

}  // namespace ypsi
