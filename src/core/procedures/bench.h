#pragma once
// What a person at the machine sees and does, where the machine is a simulated one. Readings come as that person reads
// the instrument: rounded, scattered, with the instrument's own error. Lengths mm.
#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/geometry.h"
#include "core/result.h"

namespace ypsi {

/// A dimension of what was cut. Places are where the drawing has them, in the controller's machine frame; the person
/// finds the feature that lies nearest.
struct CutFeature {
  enum class Kind { inside, outside, spacing, depth, diagonal, beside, gap, between, width };
  Kind kind = Kind::inside;
  Axis along = Axis::x;  ///< X or Y, of a width across the line; of no meaning for a depth
  MachinePosition at;    ///< in the middle of the feature, or of the first gap of a spacing; Z is the level read at
  /// In the middle of the second gap of a spacing, of the second hole or cross of a diagonal; on another head's line.
  MachinePosition other;
  double nominal = 0;  ///< > 0, what the drawing says; a diagonal is measured over the holes' outer edges
};

enum class PlatePlace { away, on_stock, on_bed, on_corner, at_cutter };  ///< the last: held to it by hand
enum class RailEnd { left, right };

/// What stands and lies around the machine now, as far as hands have put it there.
struct Surroundings {
  bool clip_on = false, emergency_stop_pressed = false;
  std::array<bool, axis_count> switch_held{};  ///< by a finger
  std::array<bool, axis_count> has_far_switch{}, far_switch_held{};
  PlatePlace plate = PlatePlace::away;
  int tool = 0;                               ///< in the collet
  std::vector<std::array<double, 2>> clamps;  ///< centres, in the controller's machine frame
  std::vector<std::string> instruments;
  double speed = 1;                   ///< of the simulated clock; 0: as fast as it goes
  std::optional<double> nose_tick{};  ///< what the dial of a depth nose is turned to; none without one
  bool operator==(const Surroundings&) const = default;
};

/// A point of a line that a head cut, drew or burnt: its `back`th last, 0 the last one.
struct StrokePoint {
  enum class Where { start, middle, end };
  std::string head;
  int back = 0;
  Where where = Where::end;
};

/// A short trial cut, lifted and looked at.
struct TrialSeen {
  bool through = false;  ///< all of it; of a beam: a dot is there
  bool marked = false;   ///< what lies below
};

/// The code of the error where a reading is not there yet, as over a network: it is asked for again, in the same words.
inline constexpr const char* being_taken = "being_taken";

class Bench {
 public:
  virtual ~Bench() = default;

  // -- what the eye sees
  /// The gap in mm between the tool's tip and what is below it, to about half a millimetre: 0 where paper just drags,
  /// below 0 where the tool is in the material.
  virtual double gap_seen() const = 0;
  /// Where the stock lies beside the tool, to about a millimetre: its front left and back right corner in the
  /// controller's machine coordinates. None when there is no stock.
  struct Outline {
    double x0 = 0, y0 = 0, x1 = 0, y1 = 0;
  };
  virtual std::optional<Outline> stock_seen() const = 0;
  /// Where the tool setter stands beside the tool, to about a millimetre, in the controller's machine coordinates: X,
  /// Y. None where there is none.
  virtual std::optional<std::array<double, 2>> setter_seen() const = 0;
  /// Where the tool's tip is over the bed, from its front left corner, to about half a millimetre.
  virtual std::array<double, 3> tool_seen() const = 0;
  virtual Surroundings surroundings() const = 0;

  // -- what instruments say. Errors: `unknown_instrument`; `out_of_reach` where it is too short for the distance.
  /// Puts a mark, or the indicator's tip, where the axis now is; distances are read from it.
  virtual void mark(Axis axis) = 0;
  /// The distance from the mark, signed. Error: `no_mark`.
  virtual Result<double> read_distance(Axis axis, std::string_view instrument) = 0;
  /// The free way from the carriage to the stop at one end of its axis.
  virtual Result<double> read_free_way(Axis axis, bool towards_plus, std::string_view instrument) = 0;
  /// Spots a point with the tool where it stands over the bed or the stock, under a name.
  virtual Result<void> spot(std::string_view name) = 0;
  /// The distance between two spotted points. Error: `no_mark`.
  virtual Result<double> read_between(std::string_view from, std::string_view to, std::string_view instrument) = 0;
  /// Along a carpenter's square of `length` laid to X, with an indicator carried along Y: how far the machine leaves
  /// the blade towards +X. `turned`: the square lies on its other side.
  virtual Result<double> read_square(double length, bool turned, std::string_view instrument) = 0;
  /// Up the blade of a square of `height` that stands on the bed by the tool, with an indicator carried by Z: how far
  /// the travel has gone towards + of `towards` (X or Y) against the blade. `turned`: the square is turned about Z.
  virtual Result<double> read_blade(Axis towards, double height, bool turned, std::string_view instrument) = 0;
  /// An indicator on an arm of `radius` in the spindle, turned to `angle_deg` from +X towards +Y, on the bed; rises
  /// when pushed in.
  virtual Result<double> read_sweep(double radius, double angle_deg, std::string_view instrument) = 0;
  /// A dimension of what was cut. Error: `no_feature` where nothing like it was cut.
  virtual Result<double> measure(const CutFeature& feature, std::string_view instrument) = 0;

  /// Where the pointer's dot lies from a spotted point, X and Y as the eye sees it to a tenth.
  /// Errors: `no_mark`; `not_seen` where `power_percent` is too low for a dot.
  virtual Result<std::array<double, 2>> pointer_from(std::string_view spotted, double power_percent) = 0;

  // -- heads, by their names. Error in all of them: `unknown_head`.
  /// Where the head's point, or its dot, stands from a spotted point, as the eye sees it. Error: `no_mark`.
  virtual Result<std::array<double, 2>> head_from(std::string_view head, std::string_view spotted) = 0;
  /// From one point to another along X or Y, signed. Error: `no_feature` where no such line was made.
  virtual Result<double> read_strokes(const StrokePoint& from, const StrokePoint& to, Axis along,
                                      std::string_view instrument) = 0;
  /// How wide the last line of a head is. Error: `no_feature`.
  virtual Result<double> read_width(std::string_view head, std::string_view instrument) = 0;
  /// Pushes the strips together that its last lines have cut, one more than there are strips, and measures across all.
  /// Error: `no_feature` where there are fewer lines.
  virtual Result<double> read_strips(std::string_view head, int strips, std::string_view instrument) = 0;
  /// Sets the head's gauge, makes a short cut by hand and looks.
  virtual Result<TrialSeen> try_cut(std::string_view head, double level) = 0;
  /// Lays a blank against a fence, cuts it off where the first head stands, and measures the piece from the fence to
  /// the cut. Error: `unknown_fence`.
  virtual Result<double> read_from_fence(std::string_view fence, std::string_view instrument) = 0;
  /// Turns the dial of the depth nose, engraves a short groove by hand and measures how deep it is. Error: `no_nose`.
  virtual Result<double> read_groove(double tick, std::string_view instrument) = 0;
  /// Turns the dial of the depth nose, always the same way; nothing where there is none.
  virtual void turn_nose(double tick) = 0;

  // -- what hands do
  virtual void set_clip(bool on) = 0;
  virtual void hold_switch(Axis axis, bool pressed) = 0;
  /// The same at the axis's other end; nothing where there is no switch.
  virtual void hold_far_switch(Axis axis, bool pressed) = 0;
  virtual void press_emergency_stop(bool pressed) = 0;
  /// Switches on what comes first, by its name ("air", "drives", "reset"), and looks whether it is there. Nothing where
  /// the machine has none. Errors: `unknown_point`; `not_armed` where it does not come on, with what is wrong.
  virtual Result<void> arm(std::string_view point) = 0;
  virtual void lay_plate(PlatePlace place) = 0;
  /// Error: `unknown_tool`.
  virtual Result<void> put_tool(int number) = 0;
  /// Lays a clamp under the spindle's path, centred at these machine coordinates of the controller.
  virtual void lay_clamp(double x, double y) = 0;
  virtual void take_clamps_away() = 0;
  /// Takes what was cut away and lays a blank like it in its place.
  virtual void lay_fresh_stock() = 0;
  /// Adjusts the nut or the belt of an axis, so that hardly any of its slack is left.
  virtual void adjust_nut(Axis axis) = 0;
  /// Moves one end of the gantry's beam along its rail, mm towards +Y.
  virtual void move_rail_end(RailEnd end, double distance) = 0;
  /// Times real time; 0: as fast as it goes.
  virtual void set_speed(double factor) = 0;
};

}  // namespace ypsi
