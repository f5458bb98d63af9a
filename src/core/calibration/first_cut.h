#pragma once
// What a first cut says: which of scale, cutter, lost motion and Z zero its sizes show.
//
// What can go wrong with the question first: one size cannot tell a wrong scale from a wrong cutter. Whatever the
// features cannot tell apart is named in `undetermined` and given no number; `missing` says which features would settle
// it. Source: handbook of the trade, 16; JCGM 100:2008, 5.2.
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/geometry.h"
#include "core/metrology/coverage.h"
#include "core/metrology/instrument.h"
#include "core/metrology/known.h"
#include "core/result.h"

namespace ypsi {

/// `between` is from the middle of a line to that of the one across, gone round as one contour: no width is in it, lost
/// motion is. Some tell no size and are read by themselves: a diagonal the lean, another head's line beside one of the
/// first's its place, the gap of two lines that face each other what a knife trails, a line's width how deep it is.
enum class FeatureKind { inside, outside, spacing, depth, diagonal, beside, gap, between, width };
constexpr bool tells_a_size(FeatureKind kind) {
  return kind != FeatureKind::diagonal && kind != FeatureKind::beside && kind != FeatureKind::gap &&
         kind != FeatureKind::width;
}
/// Whether it is measured across its place, from one side to the other.
constexpr bool is_across(FeatureKind kind) {
  return kind == FeatureKind::inside || kind == FeatureKind::outside || kind == FeatureKind::between;
}

/// Whether it is measured from one place to another, not across one.
constexpr bool has_other(FeatureKind kind) {
  return kind == FeatureKind::spacing || kind == FeatureKind::diagonal || kind == FeatureKind::beside;
}

struct Feature {
  FeatureKind kind = FeatureKind::inside;
  Axis axis = Axis::x;  ///< x or y; z for a depth
  double nominal = 0;   ///< mm, > 0
  double measured = 0;  ///< mm, > 0; of a depth 0 too: the cutter did not reach
  double top = 0;       ///< of a depth: how high the top beside it stands above Z zero, mm; it is cut that much deeper
};

struct FirstCutInput {
  double tool_diameter = 0;  ///< nominal, mm, > 0
  Instrument instrument;
  std::vector<Feature> features;                    ///< at least 1
  std::array<std::optional<Known>, 2> lost_motion;  ///< of X and Y, measured before, mm, u > 0
  /// Scale error of Z, measured before over longer ways, relative, u > 0: an observation like those, unless the depths
  /// contradict it.
  std::optional<Known> scale_z{};
  std::array<double, axis_count> periodic{};  ///< amplitude of each axis, mm; 0 where it is not known
};

enum class CutQuantity { scale_x, scale_y, tool_diameter, lost_motion_x, lost_motion_y, scale_z, z_zero };
inline constexpr int cut_quantity_count = 7;

struct CutEstimate {
  CutQuantity quantity{};
  double value = 0;  ///< scale error (ratio), cutter's deviation from nominal mm, lost motion mm, too deep mm
  double u = 0, U = 0;
  bool significant = false;  ///< |value| > U
};

struct MissingFeature {
  FeatureKind kind{};
  Axis axis{};
  std::vector<CutQuantity> settles;
};

struct FirstCutResult {
  std::vector<CutEstimate> estimates;  ///< of what can be told
  std::vector<CutQuantity> undetermined;
  std::vector<MissingFeature> missing;  ///< one after the other, until all can be told
  std::vector<double> residuals;        ///< measured - nominal - fitted, mm, in the order given
  Coverage coverage;
};

/// Errors: `too_few` without features; `out_of_range` for sizes not above zero, a depth not along Z, another size along
/// it.
Result<FirstCutResult> read_first_cut(const FirstCutInput& input);

const char* name(CutQuantity quantity);
const char* name(FeatureKind kind);

}  // namespace ypsi
