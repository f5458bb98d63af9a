#pragma once
// What a DXF file is made of: pairs of a group code and its value, a line each. They are looked through before anything
// is read, so that a damaged file is refused with its line, and what is read later cannot be led astray by wrong
// counts. Source: DXF reference, "ASCII DXF files".
#include <string>
#include <string_view>
#include <vector>

#include "core/drawing_in/drawing.h"

namespace ypsi {

struct DxfGroups {
  /// The sections and entities that are read, their counts put right; each entity's handle (group 5) is its line.
  std::string text;
  std::vector<PassedBy> passed_by;  ///< kinds of entities that are not read
};

/// Errors: `binary`, `empty`, `damaged` and `not_finite`, with the line in `where`.
Result<DxfGroups> look_through_dxf(std::string_view bytes);

}  // namespace ypsi
