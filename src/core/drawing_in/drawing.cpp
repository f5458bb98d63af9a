#include "core/drawing_in/drawing.h"

#include <algorithm>
#include <cmath>

#include "core/checksum.h"

namespace ypsi {

std::optional<Drawing::Box> Drawing::extents() const {
  std::optional<Box> box;
  for (const DrawnContour& c : contours)
    for (const PlanPoint& p : c.points) {
      if (!box) box = Box{p, p};
      box->take(p);
    }
  return box;
}

double length_of(const DrawnContour& contour) {
  double length = 0;
  for (std::size_t i = 1; i < contour.points.size(); ++i) length += std::abs(contour.points[i] - contour.points[i - 1]);
  return length;
}

namespace {

Result<Drawing> read_either(std::string_view bytes, const DrawingSetting& setting) {
  if (!(setting.tolerance_mm > 0) || (setting.unit_mm && !(*setting.unit_mm > 0 && *setting.unit_mm < 1e6)))
    return fail("out_of_range", "The tolerance and the unit must be above zero.", "unit");
  const std::size_t from = bytes.starts_with("\xEF\xBB\xBF") ? 3 : 0;
  bytes.remove_prefix(from);
  const auto first = bytes.find_first_not_of(" \t\r\n");
  if (first == std::string_view::npos) return fail("empty", "This file is empty.");
  if (bytes[first] == '<') return read_svg(bytes, setting);
  const bool digit = bytes[first] >= '0' && bytes[first] <= '9';
  if (digit || bytes.starts_with("AutoCAD Binary DXF")) return read_dxf(bytes, setting);
  return fail("not_a_drawing", "This is no drawing that can be read here: DXF (as text) and SVG are.");
}

}  // namespace

Result<Drawing> read_drawing(std::string_view bytes, const DrawingSetting& setting) {
  auto drawing = read_either(bytes, setting);
  if (drawing) drawing->sum = checksum(bytes);
  return drawing;
}

}  // namespace ypsi
