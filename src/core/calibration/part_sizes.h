#pragma once
// What a part cut today will be off by: signed, per axis and kind of size, bias and uncertainty apart. Source: handbook
// of the trade, 17; JCGM 100:2008, F.2.4.5 (a known bias that is left uncorrected).
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/calibration/temperature.h"
#include "core/metrology/known.h"

namespace ypsi {

/// What is not there is unknown, and in no figure.
struct PartAxis {
  std::optional<double> length;      ///< of the part along it, > 0, mm
  std::optional<Known> scale;        ///< scale - 1 as left
  std::optional<Known> lost_motion;  ///< as left, mm
  std::optional<double> periodic;    ///< amplitude, mm; left out it counts nothing and is named
};

struct PartInput {
  std::array<PartAxis, 2> axes;  ///< X, Y
  std::optional<Known> tool;     ///< cutter's effective diameter less its nominal, mm
  std::optional<Known> skew;     ///< rad
  double expansion_per_K = frame_expansion_per_K;
  double u_temperature_K = u_temperature_unsaid_K;  ///< in a shed
};

/// What is known of an error and left as it is, and what is not known of it; mm, U for about 95 %.
struct OffBy {
  double bias = 0, U = 0;
};

struct PartSize : OffBy {
  double u = 0;  ///< U for one size is k = 1.96 times it
};

enum class SizeKind { inside, outside, spacing };
inline constexpr std::array all_size_kinds{SizeKind::inside, SizeKind::outside, SizeKind::spacing};

struct PartSizes {
  struct Kinds {
    std::optional<PartSize> inside, outside, spacing;  ///< none where something it needs is unknown
    const std::optional<PartSize>& of(SizeKind kind) const {
      return kind == SizeKind::inside ? inside : kind == SizeKind::outside ? outside : spacing;
    }
  };
  std::array<Kinds, 2> axes;
  /// |bias| + U at its largest of that axis's sizes, U with the k for both axes at once (2.24).
  std::optional<double> worst_of(std::size_t axis) const;
  std::optional<double> headline;  ///< |bias| + U at its largest, U with the k for both axes at once (2.24)
  std::size_t worst_axis = 0;      ///< which size the headline is of
  SizeKind worst_kind = SizeKind::spacing;
  std::optional<PartSize> square;    ///< over Y's length
  std::vector<std::string> unknown;  ///< "length_x", "lost_motion_y", "tool", ...
};

PartSizes part_sizes(const PartInput& input);

}  // namespace ypsi
