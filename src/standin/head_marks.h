#pragma once
// What heads leave: the lines that each has cut, drawn or burnt, as its point went over what lies on the bed. A castor
// trails its pivot, a turned blade stands beside its axis. Physical frame, mm.
#include <vector>

#include "standin/cut_stock.h"
#include "standin/scenario.h"

namespace ypsi::standin {

/// One line without a lift.
struct Stroke {
  std::vector<Point3> points;  ///< Z of the nose
};

class HeadMarks {
 public:
  explicit HeadMarks(const PhysicalHead& head) : head_(&head) {}
  /// Its pivot is here, lowered; successive calls make a line.
  void go_to(const Point3& pivot);
  void lift() { down_ = false; }
  bool is_down() const { return down_; }
  void clear() {  ///< what lay there is taken away
    lift();
    strokes_.clear();
  }
  const std::vector<Stroke>& strokes() const { return strokes_; }
  double cut_m() const { return cut_mm_ / 1000; }
  void has_cut(double mm) { cut_mm_ += mm; }

 private:
  const PhysicalHead* head_;
  bool down_ = false;
  Point3 pivot_{};
  double along_x_ = 1, along_y_ = 0;  ///< the way that the blade points
  double cut_mm_ = 0;
  std::vector<Stroke> strokes_;
};

}  // namespace ypsi::standin
