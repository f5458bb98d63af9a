#pragma once
// Test cuts as G-code, each with the dimensions that are to be measured on it: two sizes of pocket and of tenon along X
// and Y, spacings between like edges, steps of depth, diagonals, circles, lines, as reading a first cut needs them.
// Every contour is gone round counter-clockwise, so that lost motion is taken up alike. Source: handbook of the
// trade, 16.
#include <optional>
#include <string>
#include <vector>

#include "core/calibration/first_cut.h"
#include "core/program/program.h"
#include "core/program/program_head.h"

namespace ypsi {

enum class CouponKind {
  frame,   ///< pockets, tenons, spacings and steps of depth
  depths,  ///< the steps of depth alone
  square,  ///< four holes whose diagonals tell the lean
  circle,  ///< round pocket and discs
  lines,   ///< rows of engraved lines along X and Y
  heads,   ///< of a table: see head_coupon.h
  plate,   ///< of an engraver: see engraved_coupon.h
};
inline constexpr int coupon_kind_count = 7;
const char* name(CouponKind kind);  ///< "frame"

enum class CutMaterial { wood, plastic, foam, aluminium, brass };
inline constexpr int cut_material_count = 5;
const char* name(CutMaterial material);  ///< "wood"

/// What the last pass round a wall must have for itself, mm: what an axis loses on turning round, what is not known of
/// it (U) and a tenth, or clearing spoils the wall; 0.6 where it was never measured. Source: handbook of the trade, 16.
double last_pass_rest(std::optional<double> lost_motion, double U);

struct CouponSetting {
  double stock_width = 0, stock_height = 0, thickness = 0;  ///< mm, > 0
  double corner_x = 0, corner_y = 0;                        ///< its front left corner, work frame
  bool zero_on_bed = false;                                 ///< else on the stock's top
  double sheet = 0;                                         ///< between the stock and what it lies on, mm, >= 0
  int frame = 0;                                            ///< that it is cut in, 0: G54
  int tool = 0;                                             ///< changed to at the start; 0: the one that is in
  bool takes_tools = true;                                  ///< the controller has a word for that
  double spin_up_s = usual_spin_up_s;
  double tool_diameter = 0;                      ///< nominal, mm, > 0
  double depth = 2;                              ///< of pockets and grooves, mm, above 0 and below the thickness
  double feed = 800, plunge = 200, rpm = 12000;  ///< mm/min and 1/min, > 0
  double pass = 0;                               ///< deepest cut at once, mm; 0: the cutter's radius
  double safe = 8;                               ///< above the stock's top, mm, > 0
  double rest = last_pass_rest({}, 0);           ///< left round each wall for its last pass, mm, >= 0
};

/// Feed, plunge and depth of a pass for a two-flute cutter in that material: careful figures of the trade, from the
/// cutter's diameter and the spindle's speed that the setting has. Source: chip thickness of about 0.4 to 2 % of the
/// cutter's diameter.
void set_for(CutMaterial material, CouponSetting& setting);

/// A dimension of the coupon: where it is measured, in the work frame.
struct CouponFeature {
  std::string name;  ///< "A" and so on, as on the drawing
  FeatureKind kind{};
  Axis axis = Axis::x;
  double nominal = 0;
  WorkPosition at;       ///< in its middle, at the level it is measured at; of a spacing the middle of the first gap
  WorkPosition other{};  ///< of a spacing: the middle of the second gap; of a diagonal: the other hole or cross
  std::string head{};    ///< whose line it is, beside one of the first's
};

struct Coupon {
  std::string text;
  std::vector<CouponFeature> features;
  Program program;  ///< the text, read back
};

/// Of any kind but `heads` and `plate`. Errors: `out_of_range` for what must be above zero; `no_room` with the size of
/// stock that it needs.
Result<Coupon> make_coupon(CouponKind kind, const CouponSetting& setting);

}  // namespace ypsi
