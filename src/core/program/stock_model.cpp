#include "core/program/stock_model.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {

constexpr double tile_mm = 16, least_cell_mm = 0.1, widest_cell_mm = 2;
constexpr double cells_a_radius = 4, most_cells = 8e6;
constexpr double step_mm = 0.05;  // of Z: a slope is taken in steps
constexpr int most_steps = 4000;

/// The straight way from `from` to `to` in pieces that are nearly level.
template <class Visit>
void level_pieces(const WorkPosition& from, const WorkPosition& to, Visit visit) {
  const bool upright = from.x == to.x && from.y == to.y;
  const int n = upright ? 1
                        : static_cast<int>(std::clamp(std::ceil(std::fabs(to.z - from.z) / step_mm), 1.0,
                                                      static_cast<double>(most_steps)));
  WorkPosition a = from;
  for (int k = 1; k <= n; ++k) {
    const double t = static_cast<double>(k) / n;
    const WorkPosition b =
        k == n ? to
               : WorkPosition{from.x + t * (to.x - from.x), from.y + t * (to.y - from.y), from.z + t * (to.z - from.z)};
    visit(a, b);
    a = b;
  }
}

}  // namespace

StockModel::StockModel(double x, double y, double width, double height, double top)
    : x_(x), y_(y), width_(width), height_(height), top_(top) {
  columns_ = static_cast<int>(std::ceil(width / tile_mm));
  rows_ = static_cast<int>(std::ceil(height / tile_mm));
  tiles_.resize(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_));
}

bool StockModel::over(double x, double y, double radius) const {
  const double dx = std::max({x_ - x, 0.0, x - x_ - width_}), dy = std::max({y_ - y, 0.0, y - y_ - height_});
  return dx * dx + dy * dy < radius * radius;
}

StockModel::Band StockModel::tiles_under(const WorkPosition& from, const WorkPosition& to, double radius) const {
  const auto tile_of = [](double along, int count) {
    return static_cast<int>(std::clamp(std::floor(along / tile_mm), -1.0, static_cast<double>(count)));
  };
  return {std::max(0, tile_of(std::min(from.x, to.x) - radius - x_, columns_)),
          std::min(columns_ - 1, tile_of(std::max(from.x, to.x) + radius - x_, columns_)),
          std::max(0, tile_of(std::min(from.y, to.y) - radius - y_, rows_)),
          std::min(rows_ - 1, tile_of(std::max(from.y, to.y) + radius - y_, rows_))};
}

void StockModel::will_ask(const WorkPosition& from, const WorkPosition& to, double radius) {
  const Band band = tiles_under(from, to, radius);
  for (int r = band.r0; r <= band.r1; ++r)
    for (int c = band.c0; c <= band.c1; ++c) {
      tile(c, r).asked = true;
      tile(c, r).finest = std::min(tile(c, r).finest, static_cast<float>(radius));
    }
}

void StockModel::will_cut(const WorkPosition& from, const WorkPosition& to, double radius) {
  const Band band = tiles_under(from, to, radius);
  for (int r = band.r0; r <= band.r1; ++r)
    for (int c = band.c0; c <= band.c1; ++c)
      tile(c, r).finest = std::min(tile(c, r).finest, static_cast<float>(radius));
}

bool StockModel::matters(const Extents& reach, double radius) const {
  if (reach.low.z >= top_) return false;
  const Band band = tiles_under(reach.low, reach.high, radius + widest_cell_mm);
  for (int r = band.r0; r <= band.r1; ++r)
    for (int c = band.c0; c <= band.c1; ++c)
      if (tiles_[index_of(c, r)].asked) return true;
  return false;
}

/// Cells of the tile, standing as they were; what all asked tiles take together is bounded.
void StockModel::begin(Tile& t) {
  const auto cell_of = [&](const Tile& of) {
    return std::clamp(static_cast<double>(of.finest) / cells_a_radius, finest_cell_, widest_cell_mm);
  };
  if (finest_cell_ == 0) {
    double all = 0;
    for (finest_cell_ = least_cell_mm;; finest_cell_ *= 1.5) {
      all = 0;
      for (const Tile& of : tiles_)
        if (of.asked) all += std::pow(std::ceil(tile_mm / cell_of(of)), 2);
      if (all <= most_cells || finest_cell_ > widest_cell_mm) break;
    }
    finest_cell_ = std::min(finest_cell_, widest_cell_mm);
  }
  t.cells = static_cast<int>(std::ceil(tile_mm / cell_of(t)));
  t.standing.assign(static_cast<std::size_t>(t.cells) * static_cast<std::size_t>(t.cells), static_cast<float>(top_));
}

/// Runs of cells whose middles lie within `radius` of the straight way.
template <class Visit>
void StockModel::rows_under(int column, int row, const Tile& t, const WorkPosition& from, const WorkPosition& to,
                            double radius, Visit visit) const {
  const double cell = tile_mm / t.cells, left = x_ + column * tile_mm, front = y_ + row * tile_mm;
  const double dx = to.x - from.x, dy = to.y - from.y, length = std::sqrt(dx * dx + dy * dy);
  const double side_x = length > 0 ? -dy / length * radius : 0, side_y = length > 0 ? dx / length * radius : 0;
  // Beyond the stock's own edge nothing stands.
  const double right = std::min(left + tile_mm, x_ + width_), back = std::min(front + tile_mm, y_ + height_);
  const double low = std::max(std::min(from.y, to.y) - radius, front),
               high = std::min(std::max(from.y, to.y) + radius, back);
  const int r0 = std::max(0, static_cast<int>(std::ceil((low - front) / cell - 0.5))),
            r1 = std::min(t.cells - 1, static_cast<int>(std::floor((high - front) / cell - 0.5)));
  for (int r = r0; r <= r1; ++r) {
    const double y = front + (r + 0.5) * cell;
    double x0 = 1e300, x1 = -1e300;
    const auto join = [&](double x) {
      x0 = std::min(x0, x);
      x1 = std::max(x1, x);
    };
    for (const WorkPosition* end : {&from, &to}) {
      const double off = y - end->y, half = radius * radius - off * off;
      if (half < 0) continue;
      const double reach = std::sqrt(half);
      join(end->x - reach);
      join(end->x + reach);
    }
    if (dy != 0)
      for (const double side : {1.0, -1.0}) {
        const double part = (y - from.y - side * side_y) / dy;
        if (part >= 0 && part <= 1) join(from.x + side * side_x + part * dx);
      }
    if (x0 > x1) continue;
    const int c0 = std::max(0, static_cast<int>(std::ceil((std::max(x0, left) - left) / cell - 0.5))),
              c1 = std::min(t.cells - 1, static_cast<int>(std::floor((std::min(x1, right) - left) / cell - 0.5)));
    if (c0 <= c1) visit(r * t.cells + c0, r * t.cells + c1);
  }
}

void StockModel::cut(const WorkPosition& from, const WorkPosition& to, const std::vector<ToolRing>& tool) {
  if (std::min(from.z, to.z) >= top_) return;
  const double widest = tool.back().radius;
  const Band all = tiles_under(from, to, widest + widest_cell_mm);
  for (int r = all.r0; r <= all.r1; ++r)
    for (int c = all.c0; c <= all.c1; ++c) {
      Tile& t = tile(c, r);
      if (!t.asked) continue;
      if (t.cells == 0) begin(t);
      const double cell = tile_mm / t.cells;
      level_pieces(from, to, [&](const WorkPosition& a, const WorkPosition& b) {
        const double z = std::min(a.z, b.z);
        for (const ToolRing& ring : tool) {
          if (z + ring.low >= top_) break;
          const auto level = static_cast<float>(z + ring.low);
          // A little wider than the tool, so that its rim is not left standing.
          rows_under(c, r, t, a, b, ring.radius + cell, [&](int first, int last) {
            float* const standing = t.standing.data();
            for (int i = first; i <= last; ++i) standing[i] = standing[i] < level ? standing[i] : level;
          });
        }
      });
    }
}

double StockModel::in_stock(const WorkPosition& from, const WorkPosition& to, const std::vector<ToolRing>& tool,
                            WorkPosition& where) {
  if (std::min(from.z, to.z) >= top_) return 0;
  double deepest = 0;
  const Band all = tiles_under(from, to, tool.back().radius);
  for (int r = all.r0; r <= all.r1; ++r)
    for (int c = all.c0; c <= all.c1; ++c) {
      Tile& t = tile(c, r);
      t.asked = true;
      if (t.cells == 0) begin(t);
      const double cell = tile_mm / t.cells;
      level_pieces(from, to, [&](const WorkPosition& a, const WorkPosition& b) {
        // An upright way is judged by its lowest place, a slope's piece by its highest.
        const double z = a.x == b.x && a.y == b.y ? std::min(a.z, b.z) : std::max(a.z, b.z);
        for (const ToolRing& ring : tool) {
          if (z + ring.high >= top_) break;
          const auto level = static_cast<float>(z + ring.high);
          rows_under(c, r, t, a, b, std::max(0.75 * cell, ring.radius - 1.5 * cell), [&](int first, int last) {
            float highest = level;
            for (int i = first; i <= last; ++i) highest = std::max(highest, t.standing[static_cast<std::size_t>(i)]);
            const double depth = static_cast<double>(highest) - static_cast<double>(level);
            if (depth > deepest) {
              deepest = depth;
              where = a.z < b.z ? a : b;
            }
          });
        }
      });
    }
  return deepest;
}

}  // namespace ypsi
