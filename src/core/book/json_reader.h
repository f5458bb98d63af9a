#pragma once
// The visitor that fills a described struct from a JSON object: what is missing or null keeps its value, what is of
// another kind or out of its range is refused with its place, what is not described is kept as unknown.
#include <fmt/format.h>

#include <cmath>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>
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

  void number(const char* key, double& into, NumberRange range = any_number, Written = Written::always) {
    if (const auto value = take(key)) into = checked(*value, key, range);
  }
  void number(const char* key, std::optional<double>& into, NumberRange range = any_number) {
    if (const auto value = take(key)) into = checked(*value, key, range);
  }
  void count(const char* key, int& into, Written = Written::always) { count(key, into, least_int, most_int); }
  void count(const char* key, int& into, int least, int most, Written = Written::always) {
    if (const auto value = take(key)) into = static_cast<int>(whole(*value, key, least, most));
  }
  void count(const char* key, std::size_t& into) {
    if (const auto value = take(key)) into = static_cast<std::size_t>(whole(*value, key, 0, most_int));
  }
  void flag(const char* key, bool& into, Written = Written::always);
  void text(const char* key, std::string& into, Written = Written::always);
  void texts(const char* key, std::vector<std::string>& into, Written = Written::always);
  void numbers(const char* key, std::vector<double>& into);
  template <std::size_t N>
  void numbers(const char* key, std::array<double, N>& into, Written = Written::always) {
    if (const auto value = take(key)) fill(*value, key, into);
  }
  template <std::size_t N>
  void numbers(const char* key, std::optional<std::array<double, N>>& into) {
    if (const auto value = take(key)) fill(*value, key, into.emplace());
  }
  void number_lists(const char* key, std::array<std::vector<double>, axis_count>& into);
  void place(const char* key, Coordinate& into, Axis) { number(key, into.mm); }
  void place(const char* key, std::optional<Coordinate>& into, Axis) {
    std::optional<double> mm = into;
    number(key, mm);
    into = mm;
  }
  void places(const char* key, std::vector<Coordinate>& into, Axis) {
    std::vector<double> mm = plain(into);
    numbers(key, mm);
    into = coordinates(mm);
  }
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
    refuse_damage("out_of_range", "“" + where(key) + "” says “" + word + "”, which is none of its words.", where(key));
  }
  template <class T>
  void object(const char* key, T& into, Written = Written::always) {
    if (auto value = take(key)) {
      JsonReader of(std::move(*value), where(key));
      describe(of, into);
    }
  }
  template <class T>
  void maybe(const char* key, std::optional<T>& into) {
    auto value = take(key);
    if (!value || value->empty()) return;
    JsonReader of(std::move(*value), where(key));
    describe(of, into.emplace());
  }
  template <class T, class... Axes>
  void list(const char* key, std::vector<T>& into, Axes... axis) {
    auto value = take(key);
    if (!value) return;
    const std::size_t n = list_of(*value, key).size();
    into.resize(n);
    for (std::size_t i = 0; i < n; ++i) {
      JsonReader of(std::move((*value)[i]), item(key, i));
      if constexpr ((std::is_same_v<Axes, Axis> && ...))
        describe(of, into[i], axis...);
      else
        describe(of, into[i]);
    }
  }
  template <class T, class How>
  void for_each_axis(const char* key, std::array<T, axis_count>& into, How how, Written = Written::always) {
    auto value = take(key);
    if (!value) return;
    JsonReader axes(std::move(*value), where(key));
    for (const Axis a : all_axes)
      if (auto own = axes.take(letters[index(a)])) {
        JsonReader of(std::move(*own), axes.where(letters[index(a)]));
        how(of, into[index(a)], a);
      }
  }
  template <class T>
  void list_for_each_axis(const char* key, std::array<std::vector<T>, axis_count>& into) {
    auto value = take(key);
    if (!value) return;
    JsonReader axes(std::move(*value), where(key));
    for (const Axis a : all_axes) axes.list(letters[index(a)], into[index(a)], a);
  }
  template <class T, std::size_t N>
  void rest_of(const char* key, std::array<T, N>& into, std::size_t first) {
    std::vector<T> others;
    list(key, others);
    for (std::size_t i = 0; i < others.size() && first + i < N; ++i) into[first + i] = std::move(others[i]);
  }
  template <class T>
  void keyed(const char* key, std::map<std::string, T>& into) {
    auto value = take(key);
    if (!value) return;
    if (!value->is_object()) wrong_type(where(key));
    for (auto& [name, each] : value->items()) {
      const std::string at = where(key) + "." + name;
      if constexpr (std::is_same_v<T, std::string>) {
        if (!each.is_string()) wrong_type(at);
        into[name] = each.template get<std::string>();
      } else {
        JsonReader of(std::move(each), at);
        describe(of, into[name]);
      }
    }
  }
  template <class How>
  void group(const char* key, How how) {
    if (auto value = take(key)) {
      JsonReader of(std::move(*value), where(key));
      how(of);
    }
  }
  void unknown(json& into) { into = std::move(left_); }
  [[noreturn]] void refuse_item(const char* list, std::size_t i, const char* key, const char* words) const;

 private:
  static constexpr const char* letters[] = {"X", "Y", "Z"};
  static constexpr int least_int = std::numeric_limits<int>::min(), most_int = std::numeric_limits<int>::max();
  /// The value under a key, taken out of what is left; none where it is missing or null.
  std::optional<json> take(const char* key);
  std::string where(const char* key) const { return path_.empty() ? key : path_ + "." + key; }
  std::string item(const char* key, std::size_t i) const { return fmt::format("{}[{}]", where(key), i); }
  [[noreturn]] static void wrong_type(const std::string& at);
  double checked(const json& value, const char* key, NumberRange range) const;
  long long whole(const json& value, const char* key, long long least, long long most) const;
  const json& list_of(const json& value, const char* key) const;
  template <std::size_t N>
  void fill(const json& value, const char* key, std::array<double, N>& into) const {
    const json& all = list_of(value, key);
    if (all.size() != N) wrong_type(where(key));
    for (std::size_t i = 0; i < N; ++i) {
      if (!all[i].is_number()) wrong_type(item(key, i));
      into[i] = all[i].template get<double>();
    }
  }
  json left_;
  std::string path_;
};

}  // namespace ypsi
