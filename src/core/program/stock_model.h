#pragma once
// How high the stock still stands while a program cuts it, where that will be asked: tiles, each with cells as fine as
// the finest tool in it needs. It never takes for standing what was cut.
#include <cstdint>
#include <vector>

#include "core/program/program.h"
#include "core/program/tool_shape.h"

namespace ypsi {

class StockModel {
 public:
  /// Work frame, mm: front left corner, size along X and Y, height of its top.
  StockModel(double x, double y, double width, double height, double top);

  /// First tell where will be asked, then what will cut, both with the tool's radius; then cut and ask in order.
  void will_ask(const WorkPosition& from, const WorkPosition& to, double radius);
  void will_cut(const WorkPosition& from, const WorkPosition& to, double radius);

  /// Whether a tool on a way within `reach` comes where will be asked.
  bool matters(const Extents& reach, double radius) const;
  /// A straight cut of a tool.
  void cut(const WorkPosition& from, const WorkPosition& to, const std::vector<ToolRing>& tool);
  /// How far a tool on the straight way from `from` to `to` is in standing stock: the deepest, and where the tip is
  /// then; 0 where it is not. The rim of the tool, within a cell and a half, is left out: there the grid cannot tell.
  double in_stock(const WorkPosition& from, const WorkPosition& to, const std::vector<ToolRing>& tool,
                  WorkPosition& where);
  bool over(double x, double y, double radius) const;  ///< whether a disc overlaps the stock

 private:
  struct Tile {
    bool asked = false;
    float finest = 1e9F;  ///< radius
    int cells = 0;        ///< along one side; 0: not cut or asked yet
    std::vector<float> standing;
  };
  struct Band {
    int c0, c1, r0, r1;
    bool empty() const { return c0 > c1 || r0 > r1; }
  };
  Band tiles_under(const WorkPosition& from, const WorkPosition& to, double radius) const;
  std::size_t index_of(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(column);
  }
  Tile& tile(int column, int row) { return tiles_[index_of(column, row)]; }
  void begin(Tile& t);
  template <class Visit>
  void rows_under(int column, int row, const Tile& t, const WorkPosition& from, const WorkPosition& to, double radius,
                  Visit visit) const;

  double x_, y_, width_, height_, top_, finest_cell_ = 0;
  int columns_, rows_;
  std::vector<Tile> tiles_;
};

}  // namespace ypsi
