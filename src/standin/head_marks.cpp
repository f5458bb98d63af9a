#include "standin/head_marks.h"

#include <cmath>

namespace ypsi::standin {
namespace {
constexpr double finest_mm = 0.01;  // shorter ways are waited for
constexpr double askew = 0.05;      // rad
}  // namespace

double Stroke::length() const {
  double all = 0;
  for (std::size_t i = 1; i < points.size(); ++i)
    all += std::hypot(points[i][0] - points[i - 1][0], points[i][1] - points[i - 1][1]);
  return all;
}

void HeadMarks::go_to(const Point3& pivot) {
  const bool castor = head_->trailing > 0;
  const auto point = [&]() -> Point3 {
    if (castor) return {pivot[0] - head_->trailing * along_x_, pivot[1] - head_->trailing * along_y_, pivot[2]};
    return {pivot[0] + head_->blade_forward * along_x_ - head_->blade_left * along_y_,
            pivot[1] + head_->blade_forward * along_y_ + head_->blade_left * along_x_, pivot[2]};
  };
  if (!down_) {
    down_ = true;
    // Never quite along the way that it will be drawn: straight against it, it swings round.
    const double x = along_x_;
    along_x_ = x * std::cos(askew) - along_y_ * std::sin(askew);
    along_y_ = along_y_ * std::cos(askew) + x * std::sin(askew);
    pivot_ = pivot;
    strokes_.push_back({{point()}});
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
    if (line.points.size() == 1)
      line.points.front() = [&]() -> Point3 {  // turned before it was lowered
        return {pivot_[0] + head_->blade_forward * along_x_ - head_->blade_left * along_y_,
                pivot_[1] + head_->blade_forward * along_y_ + head_->blade_left * along_x_, pivot_[2]};
      }();
  }
  pivot_ = pivot;
  line.points.push_back(point());
  cut_mm_ += way;
}

}  // namespace ypsi::standin
