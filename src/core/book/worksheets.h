#pragma once
// What was typed or taken on a sheet and is not settled yet, so that a crash loses at most the field being typed. The
// book holds it without knowing what it is: each kind has its header under worksheets/, with its structs, their
// descriptions and the key by which it is found,
//   inline constexpr WorksheetKey<TrialsWorksheet> trials_worksheet{"trials"};
//   book.worksheets[trials_worksheet].low = 2;
// and its line in worksheets/all.h.
#include <any>
#include <functional>
#include <map>
#include <nlohmann/json.hpp>
#include <string_view>

namespace ypsi {

template <class T>
struct WorksheetKey {
  const char* name;  ///< in the book's file
};

class Worksheets {
 public:
  /// Made fresh where there is none.
  template <class T>
  T& operator[](WorksheetKey<T> key) {
    std::any& held = held_[key.name];
    if (!held.has_value()) held = T{};
    return *std::any_cast<T>(&held);
  }
  /// A fresh one where there is none.
  template <class T>
  const T& operator[](WorksheetKey<T> key) const {
    static const T fresh{};
    const auto held = held_.find(key.name);
    return held == held_.end() ? fresh : *std::any_cast<T>(&held->second);
  }
  template <class T>
  bool holds(WorksheetKey<T> key) const {
    return held_.contains(key.name);
  }

  nlohmann::json unknown;  ///< of kinds that this version does not know, written back

 private:
  std::map<std::string_view, std::any, std::less<>> held_;  // keys are constants
};

}  // namespace ypsi
