#pragma once
// What was typed or taken on a sheet and is not settled yet, so that a crash loses at most the field being typed. Plain
// values under the names that the book's file has for them.
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/calibration/blanks.h"
#include "core/calibration/first_cut.h"
#include "core/geometry.h"

namespace ypsi {

/// Travel and limits of one axis.
struct LimitsWorksheet {
  std::optional<Coordinate> far_end_mm;                       ///< machine coordinate at the far end, taken or measured
  std::optional<double> overtravel_mm;                        ///< room behind the home switch, >= 0
  std::optional<double> clearance_home_mm, clearance_far_mm;  ///< >= 0
  bool operator==(const LimitsWorksheet&) const = default;
};

/// Homing repeated: places by trial for each axis, against the first.
struct HomingWorksheet {
  int trials = 10;
  double tolerance_mm = 0.05;
  std::string instrument;  ///< empty: the switches' own places
  std::array<std::vector<double>, axis_count> readings_mm;
  bool operator==(const HomingWorksheet&) const = default;
};

/// Squareness by a carpenter's square, as it is and turned over.
struct ReversalWorksheet {
  double length_mm = 300;  ///< along the blade
  std::string instrument = "indicator";
  std::optional<double> first_mm, turned_mm;
  bool operator==(const ReversalWorksheet&) const = default;
};

struct SweepPoint {
  double angle_deg = 0, reading_mm = 0;
  bool operator==(const SweepPoint&) const = default;
};
struct EdgePoint {
  double position_mm = 0, reading_mm = 0;
  bool operator==(const EdgePoint&) const = default;
};
struct MapPoint {
  Coordinate x_mm, y_mm, z_mm;
  bool operator==(const MapPoint&) const = default;
};

/// An ordinary square's blade, as far as Z carries an indicator up it.
inline const ReversalWorksheet usual_blade{100, "indicator", {}, {}};

/// Bed and spindle.
struct BedWorksheet {
  double sweep_radius_mm = 100, bolt_spacing_x_mm = 80, bolt_spacing_y_mm = 100;
  std::vector<SweepPoint> sweep;
  bool edge_along_y = false;
  std::vector<EdgePoint> edge;
  int map_columns = 5, map_rows = 4;
  std::vector<MapPoint> map;
  bool blade_along_y = false;
  std::array<ReversalWorksheet, 2> blade = {usual_blade, usual_blade};  ///< along X and Y
  double cutter_mm = 25, stepover_mm = 18, depth_mm = 0.5, layer_mm = 0.5, feed_mm_min = 2000, rpm = 16000;
  double area_x_mm = 0, area_y_mm = 0, area_width_mm = 0, area_height_mm = 0;  ///< work frame; 0 wide: not chosen yet
  bool along_y = false, one_way = false;
  bool operator==(const BedWorksheet&) const = default;
};

/// The stock's top touched on a grid, from which a program's depths are counted.
struct SurfaceWorksheet {
  int columns = 4, rows = 3;     ///< 2 to 50 each
  double plate_mm = 0;           ///< what lay between tool and top at each touch
  std::vector<MapPoint> points;  ///< Z as it was touched
  bool operator==(const SurfaceWorksheet&) const = default;
};

/// A size of a part that was cut: as it was drawn, and as it was measured.
struct CutSize {
  std::string name;  ///< "A", as on the drawing
  FeatureKind kind = FeatureKind::inside;
  Axis axis = Axis::x;
  double nominal_mm = 0;                                 ///< > 0
  std::optional<double> measured_mm;                     ///< > 0; of a depth 0 too: it was not reached
  std::optional<std::array<double, 3>> at_mm, other_mm;  ///< where it is, work frame; see CouponFeature
  std::string head{};                                    ///< whose line it is, beside one of the first's
  std::optional<double> top_mm{};                        ///< of a depth: where the top beside it stands, work frame
  bool operator==(const CutSize&) const = default;
};

/// Where the machine stood with a head over a mark.
struct OverMark {
  Coordinate x_mm, y_mm;
  bool operator==(const OverMark&) const = default;
};
/// A mark that both heads are brought over.
struct HeadMark {
  std::optional<OverMark> first, other;
  bool operator==(const HeadMark&) const = default;
};
/// A cross cut by both heads: how far the other's lies from the first's.
struct HeadCross {
  double x_mm = 0, y_mm = 0;  ///< where it was meant, work frame
  std::optional<double> dx_mm, dy_mm;
  bool operator==(const HeadCross&) const = default;
};
/// A mark that is printed or cut on what lies there, and where it was found.
struct PrintedMark {
  double x_mm = 0, y_mm = 0;  ///< as drawn
  std::optional<OverMark> found;
  bool operator==(const PrintedMark&) const = default;
};
/// Work zero by marks.
struct MarksWorksheet {
  std::vector<PrintedMark> marks;
  bool operator==(const MarksWorksheet&) const = default;
};
/// A line burnt at a height of the head.
struct FocusLine {
  Coordinate z_mm;
  double width_mm = 0;  ///< > 0
  bool operator==(const FocusLine&) const = default;
};

/// Heads.
struct HeadsWorksheet {
  std::string head;  ///< by name; empty: the second
  std::vector<HeadMark> marks;
  std::vector<HeadCross> crosses;
  std::string instrument = "caliper";   ///< of the gap, the strips and the widths
  std::optional<double> gap_mm;         ///< between the two lines of a drag knife
  std::array<double, 4> blade_mm{};     ///< of a turned knife: y of the line +X and -X, x of their ends
  std::array<double, 4> angle_width{};  ///< two angles, deg, each with its kerf, mm
  double chord_mm = 0;
  std::vector<FocusLine> focus;
  double u_width_mm = 0.02;
  int strips = 10;
  double pitch_mm = 10;
  std::optional<double> total_mm;  ///< of the strips pushed together
  bool operator==(const HeadsWorksheet&) const = default;
};

enum class Backing : std::uint8_t { not_looked, spared, marked };
/// One short cut at a level, looked at.
struct TrialLook {
  double level = 0;
  bool through = false;
  Backing backing = Backing::not_looked;
  bool operator==(const TrialLook&) const = default;
};

/// A square of a grid of powers and speeds.
struct BeamSetting {
  double power = 0;  ///< on the beam's gauge
  double feed_mm_min = 0;
  bool operator==(const BeamSetting&) const = default;
};
/// Power and speed of a beam.
struct BeamGridSheet {
  double power_low = 0, power_high = 0;              ///< 0: not said yet
  double feed_low_mm_min = 0, feed_high_mm_min = 0;  ///< 0: not said yet
  int powers = 5, feeds = 5;
  std::vector<BeamSetting> wanted;  ///< squares that came out as wanted
  bool operator==(const BeamGridSheet&) const = default;
};

/// A groove at a known tick, or commanded depth.
struct TickGroove {
  double tick = 0;         ///< of the nose's dial; where Z goes down by itself: the depth that it was sent to, mm
  double measured_mm = 0;  ///< its depth, or its width where that is what is measured, >= 0
  bool operator==(const TickGroove&) const = default;
};
/// Depth by ticks.
struct DepthSheet {
  bool by_z = false;      ///< Z alone sets the depth although the head has a nose
  bool by_width = false;  ///< of a pointed tool: widths are measured, and its shape tells how deep that is
  std::string instrument = "caliper";
  double wanted_mm = 0;                               ///< 0: not said yet
  double cap_mm = 0, total_mm = 0, core_left_mm = 0;  ///< of the plate; 0: of one piece, not said, nothing
  std::string cap_colour, core_colour;                ///< "#b8533a"; empty: not said
  std::vector<TickGroove> grooves;
  bool operator==(const DepthSheet&) const = default;
};

/// Trials.
struct TrialsWorksheet {
  std::string material, head;
  int tool = 0;
  double low = 0, high = 0;  ///< levels to look between; equal: not said yet
  double step = 0;           ///< finest that can be set; 0: any
  std::vector<TrialLook> looks;
  BeamGridSheet grid;
  DepthSheet depth;
  bool operator==(const TrialsWorksheet&) const = default;
};

/// One test beside a fence: how the offset stood, and what the pieces measured.
struct FenceTry {
  double offset_mm = 0;
  std::vector<double> measured_mm;
  bool operator==(const FenceTry&) const = default;
};

/// Fences and stops.
struct FencesWorksheet {
  std::string fence, instrument = "caliper";
  double expected_mm = 0, tolerance_mm = 0.1;  ///< expected 0: not said yet
  bool adds = true;                            ///< a larger offset makes a larger piece
  std::vector<FenceTry> tests;
  int blanks = 0;  ///< cut on one zero since the count was begun
  int every = 10;  ///< one of so many is measured
  std::vector<BlankSize> sizes;
  bool operator==(const FencesWorksheet&) const = default;
};

/// Measure the cut.
struct CutWorksheet {
  std::string coupon;  ///< which test cut ("frame"); empty: another part
  std::string instrument = "caliper";
  std::string short_instrument;  ///< of what lies close together, as crosses beside each other; empty: the same
  int tool = 0;                  ///< that cut it
  double tool_diameter_mm = 0;   ///< that the program was made for, > 0 once there are sizes; 0: by heads
  double stock_width_mm = 0, stock_height_mm = 0;
  std::vector<CutSize> sizes;
  bool operator==(const CutWorksheet&) const = default;
};

/// What a size is measured with: the instrument for what lies close together, where there is one and it reaches.
inline const std::string& instrument_for(const CutWorksheet& sheet, const CutSize& size) {
  constexpr double close_mm = 150;
  const bool close = !size.head.empty() && size.nominal_mm <= close_mm;
  return close && !sheet.short_instrument.empty() ? sheet.short_instrument : sheet.instrument;
}

}  // namespace ypsi
