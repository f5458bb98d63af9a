#pragma once
// The visitor that carries every machine coordinate and every counted length of one axis over a change of its steps
// per unit. Source: handbook of the trade, 2.
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/book/description.h"
#include "core/geometry.h"

namespace ypsi {

class CarryOver {
 public:
  static constexpr bool fills = false;      ///< puts values where there were others
  static constexpr bool carries = true;     ///< changes places alone
  static constexpr bool shows_all = false;  ///< keys of every kind, not of the one that is there
  /// `ratio`: old steps over new; `home`: the home coordinate of the axis, which stays, mm.
  CarryOver(Axis axis, double ratio, double home) : axis_(axis), ratio_(ratio), home_(home) {}

  template <class... Rest>
  void number(const char*, Rest&&...) {}
  template <class... Rest>
  void count(const char*, Rest&&...) {}
  template <class... Rest>
  void flag(const char*, Rest&&...) {}
  template <class... Rest>
  void text(const char*, Rest&&...) {}
  template <class... Rest>
  void texts(const char*, Rest&&...) {}
  template <class... Rest>
  void numbers(const char*, Rest&&...) {}
  template <class... Rest>
  void number_lists(const char*, Rest&&...) {}
  template <class... Rest>
  void choice(const char*, Rest&&...) {}
  void unknown(nlohmann::json&) {}
  void refuse_item(const char*, std::size_t, const char*, const char*) {}

  void place(const char*, Coordinate& at, Axis axis) {
    if (axis == axis_) at = carried(at);
  }
  void place(const char* key, std::optional<Coordinate>& at, Axis axis) {
    if (at) place(key, *at, axis);
  }
  void places(const char* key, std::vector<Coordinate>& all, Axis axis) {
    for (Coordinate& at : all) place(key, at, axis);
  }
  void way(const char*, CountedLength& length, Axis axis, NumberRange = any_number) {
    if (axis == axis_) length.mm *= ratio_;
  }
  bool point(const char*, MachinePosition& at) {
    at[axis_] = carried(at[axis_]);
    return true;
  }
  template <class T>
  void object(const char*, T& value, Written = Written::always) {
    describe(*this, value);
  }
  template <class T>
  void maybe(const char*, std::optional<T>& value) {
    if (value) describe(*this, *value);
  }
  template <class T>
  void list(const char*, std::vector<T>& all, Written = Written::always) {
    for (T& each : all) describe(*this, each);
  }
  template <class T>
  void list(const char*, std::vector<T>& all, Axis axis) {
    for (T& each : all) describe(*this, each, axis);
  }
  template <class T, class How>
  void for_each_axis(const char*, std::array<T, axis_count>& all, How how, Written = Written::always) {
    for (const Axis a : all_axes) how(*this, all[index(a)], a);
  }
  template <class T>
  void list_for_each_axis(const char* key, std::array<std::vector<T>, axis_count>& all) {
    for (const Axis a : all_axes) list(key, all[index(a)], a);
  }
  template <class T, std::size_t N>
  void rest_of(const char*, std::array<T, N>& all, std::size_t first) {
    for (std::size_t i = first; i < N; ++i) describe(*this, all[i]);
  }

 private:
  double carried(double mm) const { return home_ + (mm - home_) * ratio_; }
  Axis axis_;
  double ratio_, home_;
};

}  // namespace ypsi
