#pragma once
// How far +Y leans towards +X.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* squareness_id = "squareness";

/// The lean, and the scales where the distances told them.
struct SquarenessEntry {
  std::optional<double> skew_mrad{};
  std::optional<double> U_skew_mrad{};
  std::optional<double> k{};
  std::optional<double> scale_x{};
  std::optional<double> scale_y{};
  std::optional<double> U_scale_x{};
  std::optional<double> U_scale_y{};
  std::optional<double> square_mrad{};  ///< of the square that was turned over, where one told it
};
template <class V>
void describe(V& v, SquarenessEntry& f) {
  v.number("skew_mrad", f.skew_mrad);
  v.number("U_skew_mrad", f.U_skew_mrad);
  v.number("k", f.k);
  v.number("scale_x", f.scale_x);
  v.number("scale_y", f.scale_y);
  v.number("U_scale_x", f.U_scale_x);
  v.number("U_scale_y", f.U_scale_y);
  v.number("square_mrad", f.square_mrad);
}

const Task& squareness_task();

}  // namespace ypsi
