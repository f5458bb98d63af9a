#pragma once
// What was found in a drawing, in words: by layer, and what is to be looked at before it is cut.
#include "core/book/book.h"
#include "core/drawing_in/mend.h"

namespace ypsi {

struct LayerSum {
  std::string name, colour;
  std::size_t closed = 0, open = 0;
  double length_mm = 0;
};

struct DrawingFinding {
  /// empty, unit_not_said, size_absurd, larger_than_bed, joined, open_end, more (of these two), doubled, text,
  /// passed_by
  std::string code;
  std::string message;
  std::optional<PlanPoint> at;
  std::optional<std::uint32_t> source;  ///< its line in a DXF file, or its element of an SVG file
};

std::vector<LayerSum> layer_sums(const Drawing& drawing);

/// Of a drawing that was mended, for the bed of `machine`.
std::vector<DrawingFinding> look_over(const Drawing& drawing, const Mended& mended, const MachineSetup& machine);

}  // namespace ypsi
