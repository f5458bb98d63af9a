#pragma once
// How a struct of the book is described, once, for all that is done with it: read, written, shown as a JSON schema,
// carried over when steps per unit change, filled at random by a test. For each struct there is one
//   template <class V> void describe(V& v, Clamp& c) {
//     v.text("name", c.name);
//     v.place("x_mm", c.x_mm, Axis::x);
//     v.number("width_mm", c.width_mm, above_zero);
//   }
// and a visitor V offers:
//   number, count, flag, text, numbers, texts      plain values; a number that is not one of the next two
//   place(key, Coordinate, axis)   a machine coordinate of an axis: the same place has another number after a change of
//   steps way(key, CountedLength, axis)  a length along an axis as the controller counts it; it changes with its steps
//   point(key, MachinePosition)
//   choice(key, value, words)
//   object, maybe, list      structs with a description, one, perhaps one, any number
//   keyed(key, map)          texts, or structs with a description, by their names
//   for_each_axis(key, array, how)
//   fills, carries, shows_all  what the few descriptions that must know ask of it
//   unknown(json)            keys that this version does not know, kept and written back; last in a description
#include <limits>
#include <string_view>

namespace ypsi {

/// What a number may be. `above`: greater than `least`, else not less.
struct NumberRange {
  double least = -std::numeric_limits<double>::infinity(), most = std::numeric_limits<double>::infinity();
  bool above = false;
  constexpr bool holds(double value) const { return (above ? value > least : value >= least) && value <= most; }
};
inline constexpr NumberRange any_number{};
inline constexpr NumberRange above_zero{0, std::numeric_limits<double>::infinity(), true};
inline constexpr NumberRange not_below_zero{0};

/// Whether a value that is as a fresh struct has it is written.
enum class Written : bool { always, where_not_usual };
inline constexpr auto sparse = Written::where_not_usual;

/// The keys of what there is one of for each axis, in their order.
inline constexpr const char* axis_keys[] = {"X", "Y", "Z"};

}  // namespace ypsi
