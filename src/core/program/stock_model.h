#pragma once
// How high the stock still stands everywhere while a program cuts it: a grid, coarse enough to be quick, that never
// takes for standing what was cut.
#include <vector>

#include "core/program/program.h"

namespace ypsi {

class StockModel {
 public:
  /// Work frame, mm: front left corner, size along X and Y, height of its top; `finest` tool radius that matters.
  StockModel(double x, double y, double width, double height, double top, double finest);
  /// A straight cut of a tool of `radius`.
  void cut(const WorkPosition& from, const WorkPosition& to, double radius);
  /// How far a tool on the straight way from `from` to `to` is in standing stock: the deepest, and where the tip is
  /// then; 0 where it is not. The rim of the tool, within a cell and a half, is left out: there the grid cannot tell.
  double in_stock(const WorkPosition& from, const WorkPosition& to, double radius, WorkPosition& where) const;
  bool over(double x, double y, double radius) const;  ///< whether a disc overlaps the stock

 private:
  template <class Visit>
  void stamp(double x, double y, double radius, Visit visit) const;
  double x_, y_, width_, height_, top_, cell_;
  int columns_, rows_;
  std::vector<float> standing_;
};

}  // namespace ypsi
