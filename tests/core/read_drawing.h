#pragma once
// What is read from a drawing's text, and where its points are.
#include <gtest/gtest.h>

#include <complex>

#include "core/drawing_in/drawing_report.h"
#include "core/drawing_in/mend.h"
#include "core/drawing_text.h"

namespace ypsi::drawing_test {

constexpr double within = 0.005;  // mm, of a curve

inline Drawing read(const std::string& text, const DrawingSetting& setting = {}) {
  auto drawing = read_drawing(text, setting);
  EXPECT_TRUE(drawing) << (drawing ? "" : drawing.error().message);
  return drawing ? *drawing : Drawing{};
}
/// Read and mended.
inline Drawing drawn(const std::string& text) {
  Drawing drawing = read(text);
  (void)mend(drawing);
  return drawing;
}
inline DrawnContour one(const std::string& text, const DrawingSetting& setting = {}) {
  const Drawing d = read(text, setting);
  EXPECT_EQ(d.contours.size(), 1u) << text;
  return d.contours.empty() ? DrawnContour{0, {{}, {}}, false, 0} : d.contours.front();
}
inline Error refused(const std::string& text) {
  const auto drawing = read_drawing(text);
  EXPECT_FALSE(drawing) << text;
  return drawing ? Error{} : drawing.error();
}
inline void near(PlanPoint is, PlanPoint wanted, double tolerance = 1e-9) {
  EXPECT_NEAR(is.real(), wanted.real(), tolerance);
  EXPECT_NEAR(is.imag(), wanted.imag(), tolerance);
}
/// Whether all of a contour, its chords too, is as far from a middle as is said.
inline void is_round(const DrawnContour& c, PlanPoint middle, double radius) {
  for (std::size_t i = 0; i + 1 < c.points.size(); ++i)
    for (const double part : {0.0, 0.5})
      ASSERT_NEAR(std::abs(c.points[i] + part * (c.points[i + 1] - c.points[i]) - middle), radius, within);
}

}  // namespace ypsi::drawing_test
