#include "core/program/stroke_digits.h"

#include <array>
#include <string>

namespace ypsi {
namespace {

// Strokes of a digit, a letter each: a top, b and c right upper and lower, d bottom, e and f left lower and upper, g
// middle; p a point, for which a short stroke stands.
constexpr std::array<const char*, 10> strokes_of{"abcdef", "bc",     "abged", "abgcd",   "fgbc",
                                                 "afgcd",  "afgedc", "abc",   "abcdefg", "abfgcd"};
constexpr double point_ratio = 0.12;

StrokeLine stroke(char which, PlanPoint at, double height) {
  const double w = height * digit_width_ratio, half = height / 2;
  const auto from_to = [&](double x0, double y0, double x1, double y1) {
    return StrokeLine{at + PlanPoint(x0, y0), at + PlanPoint(x1, y1)};
  };
  switch (which) {
    case 'a':
      return from_to(0, height, w, height);
    case 'b':
      return from_to(w, height, w, half);
    case 'c':
      return from_to(w, half, w, 0);
    case 'd':
      return from_to(w, 0, 0, 0);
    case 'e':
      return from_to(0, 0, 0, half);
    case 'f':
      return from_to(0, half, 0, height);
    case 'p':
      return from_to(w / 2, 0, w / 2, height * point_ratio);
    default:
      return from_to(0, half, w, half);
  }
}

}  // namespace

std::vector<StrokeLine> stroke_digits(std::string_view text, PlanPoint at, double height) {
  std::vector<StrokeLine> all;
  for (const char c : text) {
    const std::string_view strokes = c >= '0' && c <= '9' ? strokes_of[static_cast<std::size_t>(c - '0')]
                                     : c == '.'           ? "p"
                                     : c == '-'           ? "g"
                                                          : "";
    for (const char s : strokes) all.push_back(stroke(s, at, height));
    at += height * digit_pitch_ratio;
  }
  return all;
}

}  // namespace ypsi
