#include "core/program/stock_model.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {
constexpr int most_cells = 900;  // along one side
constexpr double finest_cell_mm = 0.25;
}  // namespace

StockModel::StockModel(double x, double y, double width, double height, double top, double finest)
    : x_(x), y_(y), width_(width), height_(height), top_(top) {
  cell_ = std::max({finest_cell_mm, finest / 4, std::max(width, height) / most_cells});
  columns_ = static_cast<int>(std::ceil(width / cell_));
  rows_ = static_cast<int>(std::ceil(height / cell_));
  standing_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_), static_cast<float>(top));
}

bool StockModel::over(double x, double y, double radius) const {
  const double dx = std::max({x_ - x, 0.0, x - x_ - width_}), dy = std::max({y_ - y, 0.0, y - y_ - height_});
  return dx * dx + dy * dy < radius * radius;
}

/// Cells whose middle lies within `radius`; the one under it where there is none.
template <class Visit>
void StockModel::stamp(double x, double y, double radius, Visit visit) const {
  const auto cell_of = [&](double along, int cells) {
    return std::clamp(static_cast<int>(std::floor(along / cell_)), -1, cells);
  };
  const int c0 = std::max(0, cell_of(x - radius - x_, columns_)),
            c1 = std::min(columns_ - 1, cell_of(x + radius - x_, columns_));
  const int r0 = std::max(0, cell_of(y - radius - y_, rows_)),
            r1 = std::min(rows_ - 1, cell_of(y + radius - y_, rows_));
  bool any = false;
  for (int r = r0; r <= r1; ++r)
    for (int c = c0; c <= c1; ++c) {
      const double dx = x_ + (c + 0.5) * cell_ - x, dy = y_ + (r + 0.5) * cell_ - y;
      if (dx * dx + dy * dy > radius * radius) continue;
      any = true;
      visit(static_cast<std::size_t>(r) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(c));
    }
  if (any) return;
  const int c = cell_of(x - x_, columns_), r = cell_of(y - y_, rows_);
  if (c >= 0 && c < columns_ && r >= 0 && r < rows_)
    visit(static_cast<std::size_t>(r) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(c));
}

void StockModel::cut(const WorkPosition& from, const WorkPosition& to, double radius) {
  if (std::min(from.z, to.z) >= top_) return;
  const double length = std::hypot(to.x - from.x, to.y - from.y);
  const int steps = std::clamp(static_cast<int>(std::ceil(length / (cell_ / 2))), 1, 1'000'000);
  for (int i = 0; i <= steps; ++i) {
    const double t = static_cast<double>(i) / steps, z = from.z + t * (to.z - from.z);
    if (z >= top_) continue;
    // A little wider than the tool, so that its rim is not left standing.
    stamp(from.x + t * (to.x - from.x), from.y + t * (to.y - from.y), radius + cell_,
          [&](std::size_t at) { standing_[at] = std::min(standing_[at], static_cast<float>(z)); });
  }
}

double StockModel::in_stock(const WorkPosition& from, const WorkPosition& to, double radius,
                            WorkPosition& where) const {
  if (std::min(from.z, to.z) >= top_) return 0;
  const double length = std::hypot(to.x - from.x, to.y - from.y);
  const int steps = std::clamp(static_cast<int>(std::ceil(length / cell_)), 1, 1'000'000);
  double deepest = 0;
  for (int i = 0; i <= steps; ++i) {
    const double t = static_cast<double>(i) / steps;
    const WorkPosition at{from.x + t * (to.x - from.x), from.y + t * (to.y - from.y), from.z + t * (to.z - from.z)};
    if (at.z >= top_) continue;
    stamp(at.x, at.y, std::max(0.0, radius - 1.5 * cell_), [&](std::size_t cell) {
      const double depth = static_cast<double>(standing_[cell]) - at.z;
      if (depth > deepest) {
        deepest = depth;
        where = at;
      }
    });
  }
  return deepest;
}

}  // namespace ypsi
