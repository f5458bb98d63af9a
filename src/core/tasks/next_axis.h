#pragma once
// Which axis's steps per unit want measuring next.
#include <optional>

#include "core/book/book.h"

namespace ypsi {

enum class WhyMeasure { never_done, out_of_date, too_coarse };

struct NextAxis {
  Axis axis{};
  WhyMeasure why{};
  double U_per_m = 0;  ///< with `too_coarse`: what is known now, mm per m
};

/// The axis to measure next, `done` left out: one never measured before one out of date before the one that is furthest
/// from its wanted tolerance. None where all are known as well as wanted.
std::optional<NextAxis> next_axis(const Book& book, std::optional<Axis> done = std::nullopt);

}  // namespace ypsi
