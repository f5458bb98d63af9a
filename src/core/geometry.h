#pragma once
// Positions carry their frame in their type: a machine position cannot be passed where a work position is meant.
#include <array>
#include <cstddef>
#include <string>
#include <vector>

namespace ypsi {

enum class Axis : unsigned char { x, y, z };
inline constexpr std::array all_axes{Axis::x, Axis::y, Axis::z};
inline constexpr std::size_t axis_count = all_axes.size();
constexpr std::size_t index(Axis axis) {
  return static_cast<std::size_t>(axis);
}
constexpr char letter(Axis axis) {
  return "XYZ"[index(axis)];
}

/// A position in mm; the tag says in which frame.
template <class Frame>
struct Position {
  double x = 0, y = 0, z = 0;
  constexpr double& operator[](Axis a) { return a == Axis::x ? x : a == Axis::y ? y : z; }
  constexpr double operator[](Axis a) const { return a == Axis::x ? x : a == Axis::y ? y : z; }
  constexpr bool operator==(const Position&) const = default;
};

/// What one axis has as its controller counts it, mm: when steps per unit change it has another number. What the book
/// keeps of this kind is of such a type, so that its description cannot take it for a plain number (`CarryOver`).
template <class Kind>
struct Counted {
  double mm = 0;
  constexpr Counted() = default;
  constexpr Counted(double value) : mm(value) {}
  constexpr operator double() const { return mm; }
};
using Coordinate = Counted<struct CountedPlace>;    ///< a machine coordinate, counted from the home coordinate
using CountedLength = Counted<struct CountedSpan>;  ///< a length along the axis

/// What writes a double as JSON writes these, too (found by argument's namespace).
template <class Json, class Kind>
void to_json(Json& out, const Counted<Kind>& value) {
  out = value.mm;
}

/// Places as plain numbers, mm, for a calculation, and the other way round.
inline std::vector<double> plain(const std::vector<Coordinate>& places) {
  return {places.begin(), places.end()};
}
inline std::vector<Coordinate> coordinates(const std::vector<double>& mm) {
  return {mm.begin(), mm.end()};
}

struct MachineFrame {};  ///< origin where homing put it
struct WorkFrame {};     ///< origin at work zero, what a program's coordinates mean

using MachinePosition = Position<MachineFrame>;
using WorkPosition = Position<WorkFrame>;
/// The work frames G54 to G59 and G59.1 to G59.3.
inline constexpr std::size_t work_frame_count = 9;
/// "G54" for frame 0, "G59.3" for frame 8.
inline std::string frame_name(int frame) {
  return frame < 6 ? "G" + std::to_string(54 + frame) : "G59." + std::to_string(frame - 5);
}
/// Work zero: where the work frame's origin is, in the machine frame. machine = work + zero.
using WorkZero = MachinePosition;

constexpr MachinePosition to_machine(const WorkPosition& p, const WorkZero& zero) {
  return {p.x + zero.x, p.y + zero.y, p.z + zero.z};
}
constexpr WorkPosition to_work(const MachinePosition& p, const WorkZero& zero) {
  return {p.x - zero.x, p.y - zero.y, p.z - zero.z};
}

}  // namespace ypsi
