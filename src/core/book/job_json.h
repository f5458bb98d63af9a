#pragma once
// The job's part of the book's file, and the plain structs in it under their names.
#include "core/book/job.h"
#include "core/book/optional_json.h"
#include "core/book/taker.h"

namespace ypsi {

NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(FrameZero, name, x_mm, y_mm, z_mm, on_bed, z_tool)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(ZeroSpot, x_mm, y_mm, height_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Clamp, name, x_mm, y_mm, width_mm, depth_mm, height_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(ToolRack, first_x_mm, first_y_mm, last_x_mm, last_y_mm, slot_count,
                                                grip_z_mm, clear_z_mm, height_mm)

/// Throws Refused, which read_book() catches.
Job read_job(Taker in);
nlohmann::json write_job(const Job& job);

}  // namespace ypsi
