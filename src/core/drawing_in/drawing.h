#pragma once
// A drawing as it was read: contours by layer, in mm, and what stands in it that is no contour.
#include <algorithm>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/heads/plan_point.h"
#include "core/result.h"

namespace ypsi {

struct DrawnContour {
  std::size_t layer = 0;          ///< of the drawing's
  std::vector<PlanPoint> points;  ///< two at least; the last of a closed one is its first
  bool closed = false;
  std::uint32_t source = 0;  ///< its line in a DXF file; which element of an SVG file, from 1
};

struct DrawnText {
  std::size_t layer = 0;
  std::string words;
  PlanPoint at;
  std::uint32_t source = 0;
};

struct DrawnLayer {
  std::string name;  ///< with the colour where a layer of the file has several
  std::string colour{};
};

/// What was met and is not read: "hatch", 12 times, first at a line.
struct PassedBy {
  std::string what;
  std::uint32_t source = 0;
  std::size_t times = 0;
};

/// What a file's unit rests on.
enum class UnitFrom {
  file,   ///< it says so
  usual,  ///< it says nothing: as is usual for its kind; to be asked
  owner   ///< as its owner said
};

struct Drawing {
  std::string format;  ///< "DXF", "SVG"
  double unit_mm = 1;  ///< what one of the file's units is
  UnitFrom unit_from = UnitFrom::file;
  std::string unit_words;  ///< "$INSUNITS says millimetres"
  std::vector<DrawnLayer> layers;
  std::vector<DrawnContour> contours;
  std::vector<DrawnText> texts;
  std::vector<PassedBy> passed_by;
  std::string sum{};  ///< checksum() of the file's bytes

  struct Box {
    PlanPoint low, high;
    void take(PlanPoint p) {
      low = {std::min(low.real(), p.real()), std::min(low.imag(), p.imag())};
      high = {std::max(high.real(), p.real()), std::max(high.imag(), p.imag())};
    }
  };
  std::optional<Box> extents() const;  ///< none where nothing is drawn
};

struct DrawingSetting {
  double tolerance_mm = 0.002;    ///< by which a curve is left at most, > 0
  std::optional<double> unit_mm;  ///< as its owner says, > 0; none: as the file says
};

inline constexpr std::size_t most_drawn_points = 20'000'000;

/// The length of a contour, mm.
double length_of(const DrawnContour& contour);

/// A DXF file (ASCII, R12 to 2018) or an SVG file, told by how it begins. A bad one is refused whole, with the line or
/// the element at fault in `where`. Errors: `not_a_drawing`, `binary`, `empty`, `too_large`, `damaged`, `not_finite`.
Result<Drawing> read_drawing(std::string_view bytes, const DrawingSetting& setting = {});
Result<Drawing> read_dxf(std::string_view bytes, const DrawingSetting& setting = {});
Result<Drawing> read_svg(std::string_view bytes, const DrawingSetting& setting = {});

}  // namespace ypsi
