#pragma once
// The build as it is being changed, not kept yet.
#include <optional>

#include "core/book/book.h"
#include "core/book/description.h"
#include "core/book/worksheets.h"

namespace ypsi {

inline constexpr WorksheetKey<std::optional<MachineSetup>> build_worksheet{"build"};

}  // namespace ypsi
