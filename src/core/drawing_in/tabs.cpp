#include "core/drawing_in/tabs.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {

constexpr double corner_rad = 0.26, same_way_mm = 1e-9;  // a curve's chords turn less

/// Way along the line to each of its points.
std::vector<double> ways(const Outline& line) {
  std::vector<double> all(line.size(), 0);
  for (std::size_t i = 1; i < line.size(); ++i) all[i] = all[i - 1] + std::abs(line[i] - line[i - 1]);
  return all;
}

std::vector<double> corners(const Outline& line, const std::vector<double>& way) {
  std::vector<double> all;
  const std::size_t n = line.size() - 1;
  for (std::size_t i = 0; i < n; ++i) {
    if (turns_by_more(line[i == 0 ? n - 1 : i - 1], line[i], line[i + 1], corner_rad)) all.push_back(way[i]);
  }
  return all;
}

/// The middle nearest to `wanted` where no corner lies within a tab.
double off_corners(double wanted, double reach, double half, double whole, const std::vector<double>& corners) {
  constexpr int tries = 24;
  const auto clear = [&](double middle) {
    return middle - half > 0 && middle + half < whole &&
           std::none_of(corners.begin(), corners.end(), [&](double c) { return std::fabs(c - middle) <= half; });
  };
  for (int i = 0; i <= tries; ++i)
    for (const double side : {1.0, -1.0})
      if (const double middle = wanted + side * reach * i / tries; clear(middle)) return middle;
  return wanted;
}

}  // namespace

bool takes_tabs(const Outline& line, int count, double length) {
  return count > 0 && length > 0 && length_along(line) >= 2 * count * length;
}

std::vector<bool> with_tabs(Outline& line, int count, double length) {
  const auto way = ways(line);
  const double whole = way.back();
  if (!takes_tabs(line, count, length)) return {};
  const auto sharp = corners(line, way);
  std::vector<double> cuts;  // begins and ends of tabs, along the line
  for (int k = 0; k < count; ++k) {
    const double pitch = whole / count;
    const double middle = off_corners((k + 0.5) * pitch, 0.4 * pitch - length / 2, length / 2, whole, sharp);
    cuts.push_back(middle - length / 2);
    cuts.push_back(middle + length / 2);
  }
  Outline divided{line.front()};
  std::vector<bool> over{false};
  std::size_t cut = 0;
  for (std::size_t i = 1; i < line.size(); ++i) {
    for (; cut < cuts.size() && cuts[cut] < way[i] - same_way_mm; ++cut) {
      const double part = (cuts[cut] - way[i - 1]) / (way[i] - way[i - 1]);
      divided.push_back(line[i - 1] + part * (line[i] - line[i - 1]));
      over.push_back(cut % 2 == 1);
    }
    divided.push_back(line[i]);
    over.push_back(cut % 2 == 1);
  }
  line = std::move(divided);
  return over;
}

std::vector<Outline> between_tabs(const Outline& line, const std::vector<bool>& over_tab) {
  std::vector<Outline> parts(1);
  for (std::size_t i = 0; i < line.size(); ++i) {
    if (i < over_tab.size() && over_tab[i] && !parts.back().empty()) parts.emplace_back();
    if (!(i + 1 < over_tab.size() && over_tab[i + 1] && i < over_tab.size() && over_tab[i]))
      parts.back().push_back(line[i]);
  }
  std::erase_if(parts, [](const Outline& part) { return part.size() < 2; });
  return parts;
}

}  // namespace ypsi
