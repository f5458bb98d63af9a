#include "standin/head_marks.h"

#include <cmath>

namespace ypsi::standin {
namespace {
constexpr double finest_mm = 0.01;  // shorter ways are waited for
constexpr double askew = 0.05;      // rad
}  // namespace

void HeadMarks::go_to(const Point3& pivot) {
  const bool castor = head_->trailing > 0;
  const auto point = [&](const Point3& of) -> Point3 {
    const double forward = castor ? -head_->trailing : head_->blade_forward, left = castor ? 0 : head_->blade_left;
    return {of[0] + forward * along_x_ - left * along_y_, of[1] + forward * along_y_ + left * along_x_, of[2]};
  };
  if (!down_) {
    down_ = true;
    // Never quite along the way that it will be drawn: straight against it, it swings round.
    const double x = along_x_;
    along_x_ = x * std::cos(askew) - along_y_ * std::sin(askew);
    along_y_ = along_y_ * std::cos(askew) + x * std::sin(askew);
    pivot_ = pivot;
    strokes_.push_back({{point(pivot)}});
    return;
  }
  const double dx = pivot[0] - pivot_[0], dy = pivot[1] - pivot_[1], way = std::hypot(dx, dy);
  if (way < finest_mm) return;
  Stroke& line = strokes_.back();
  const Point3 before = line.points.back();
  if (castor) {
    // It is drawn by its pivot, always as far behind.
    const double bx = pivot[0] - before[0], by = pivot[1] - before[1], away = std::hypot(bx, by);
    if (away > 0) {
      along_x_ = bx / away;
      along_y_ = by / away;
    }
  } else {
    along_x_ = dx / way;
    along_y_ = dy / way;
    if (line.points.size() == 1) line.points.front() = point(pivot_);  // turned before it was lowered
  }
  pivot_ = pivot;
  line.points.push_back(point(pivot));
  cut_mm_ += way;
}

}  // namespace ypsi::standin
