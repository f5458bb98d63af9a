#pragma once
// Measure the cut: the sizes of a part, as drawn and as measured.
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/calibration/first_cut.h"
#include "core/geometry.h"

namespace ypsi {

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

/// Measure the cut.
struct CutWorksheet {
  std::string coupon;  ///< which test cut ("frame"); empty: another part
  std::string instrument = "caliper";
  std::string short_instrument;  ///< of what lies close together, as crosses side by side, or of lines; empty: the same
  int tool = 0;                  ///< that cut it
  double tool_diameter_mm = 0;   ///< that the program was made for, > 0 once there are sizes; 0: by heads
  double stock_width_mm = 0, stock_height_mm = 0;
  double depth_mm = 0;             ///< of an engraving, how deep it was meant; 0: it is none
  std::optional<double> set_to{};  ///< the nose for it, on its dial
  std::string material{};          ///< that it was tried in
  std::vector<CutSize> sizes;
  bool operator==(const CutWorksheet&) const = default;
};

/// Whether it is of an engraving.
constexpr bool is_engraved(const CutWorksheet& sheet) {
  return sheet.depth_mm > 0;
}

/// What a size is measured with: the instrument for what lies close together, where there is one and it reaches.
inline const std::string& instrument_for(const CutWorksheet& sheet, const CutSize& size) {
  constexpr double close_mm = 150;
  const bool groove = is_engraved(sheet) && (size.kind == FeatureKind::width || size.kind == FeatureKind::depth);
  const bool close = groove || (!size.head.empty() && size.nominal_mm <= close_mm);
  return close && !sheet.short_instrument.empty() ? sheet.short_instrument : sheet.instrument;
}

template <class V>
void describe(V& v, CutSize& s) {
  constexpr std::array<std::pair<FeatureKind, const char*>, 9> kinds{{{FeatureKind::inside, "inside"},
                                                                      {FeatureKind::outside, "outside"},
                                                                      {FeatureKind::spacing, "spacing"},
                                                                      {FeatureKind::depth, "depth"},
                                                                      {FeatureKind::diagonal, "diagonal"},
                                                                      {FeatureKind::beside, "beside"},
                                                                      {FeatureKind::gap, "gap"},
                                                                      {FeatureKind::between, "between"},
                                                                      {FeatureKind::width, "width"}}};
  constexpr std::array<std::pair<Axis, const char*>, 3> axes{{{Axis::x, "X"}, {Axis::y, "Y"}, {Axis::z, "Z"}}};
  v.text("name", s.name);
  v.choice("kind", s.kind, kinds);
  v.choice("axis", s.axis, axes);
  v.number("nominal_mm", s.nominal_mm, above_zero);
  v.number("measured_mm", s.measured_mm, not_below_zero);
  v.number("top_mm", s.top_mm);
  v.text("head", s.head, Written::where_not_usual);
  v.numbers("at_mm", s.at_mm);
  v.numbers("other_mm", s.other_mm);
}

template <class V>
void describe(V& v, CutWorksheet& s) {
  v.text("coupon", s.coupon);
  v.text("instrument", s.instrument);
  v.text("short_instrument", s.short_instrument, Written::where_not_usual);
  v.count("tool", s.tool);
  v.number("tool_diameter_mm", s.tool_diameter_mm);
  v.number("stock_width_mm", s.stock_width_mm);
  v.number("stock_height_mm", s.stock_height_mm);
  v.number("depth_mm", s.depth_mm, not_below_zero, Written::where_not_usual);
  v.number("set_to", s.set_to);
  v.text("material", s.material, Written::where_not_usual);
  v.list("sizes", s.sizes);
}

inline constexpr WorksheetKey<CutWorksheet> cut_worksheet{"measure_cut"};

}  // namespace ypsi
