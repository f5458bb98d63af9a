// SVG: every kind of shape against its closed form, transforms, groups, sizes, and what is damaged.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/drawing_in/svg_text.h"
#include "core/read_drawing.h"

namespace ypsi {
namespace drawing_test {

using namespace drawing_text;
using std::numbers::pi;

// SVG

TEST(Svg, ShapesAreWhereTheyAreDrawnWithYUp) {
  const auto l = one(svg("<line x1='1' y1='2' x2='4' y2='6' stroke='red'/>"));
  near(l.points.front(), {1, 78});
  near(l.points.back(), {4, 74});
  const auto r = one(svg("<rect x='10' y='20' width='30' height='15'/>"));
  EXPECT_TRUE(r.closed);
  EXPECT_NEAR(length_of(r), 90, 1e-9);
  const Drawing rect = read(svg("<rect x='10' y='20' width='30' height='15'/>"));
  near(rect.extents()->low, {10, 45});
  near(rect.extents()->high, {40, 60});
  const auto rounded = one(svg("<rect x='10' y='20' width='30' height='15' rx='3'/>"));
  EXPECT_NEAR(length_of(rounded), 90 - 24 + 6 * pi, 0.01);
  is_round(one(svg("<circle cx='50' cy='40' r='12'/>")), {50, 40}, 12);
  const auto e = one(svg("<ellipse cx='50' cy='40' rx='20' ry='5'/>"));
  for (const PlanPoint& p : e.points) EXPECT_NEAR(std::hypot((p.real() - 50) / 20, (p.imag() - 40) / 5), 1, 1e-9);
  const auto polygon = one(svg("<polygon points='0,0 3,0 3,4'/>"));
  EXPECT_TRUE(polygon.closed);
  EXPECT_NEAR(length_of(polygon), 12, 1e-9);
  EXPECT_NEAR(length_of(one(svg("<polyline points='0 0,3 0 3 4'/>"))), 7, 1e-9);
}

TEST(Svg, EveryCommandOfAPathIsTaken) {
  const auto points = [](const std::string& d) {
    const auto path = svg_path(d, {}, 0.001);
    EXPECT_TRUE(path) << d;
    return path && !path->empty() ? path->front().points : std::vector<PlanPoint>{};
  };
  const std::vector<PlanPoint> l{{1, 1}, {4, 1}, {4, 5}};
  for (const char* same : {"M1 1L4 1L4 5", "m1,1l3,0l0,4", "M1 1H4V5", "M1 1h3v4", "M1 1 4 1 4 5", "m1 1 3 0 0 4",
                           " M 1e0 1.0 L +4,1 4 .5e1", "M1 1L4 1 4 5"})
    EXPECT_EQ(points(same), l) << same;
  // A quarter of a circle by its usual cubic: within 0.03 % of one; and smooth on, mirrored.
  const double k = 0.5522847498;
  const auto quarter = points(fmt::format("M10 0C10 {} {} 10 0 10", 10 * k, 10 * k));
  for (const PlanPoint& p : quarter) EXPECT_NEAR(std::abs(p), 10, 0.003);
  const auto smooth = points(fmt::format("M10 0C10 {0} {0} 10 0 10S-10 {0} -10 0", 10 * k));
  for (const PlanPoint& p : smooth) EXPECT_NEAR(std::abs(p), 10, 0.003);
  near(smooth.back(), {-10, 0});
  // A parabola, twice: the second mirrors the first's control point.
  const auto parabola = points("M-2 4Q0 -4 2 4");
  for (const PlanPoint& p : parabola) EXPECT_NEAR(p.imag(), p.real() * p.real(), 1e-9);
  EXPECT_EQ(points("M0 0Q1 2 2 0T4 0"), points("M0 0Q1 2 2 0Q3 -2 4 0"));
  EXPECT_EQ(points("M0 0T2 2"), points("M0 0Q0 0 2 2"));
  // Arcs: flags may stand together; all four of one circle.
  for (const auto& [flags, middle] : {std::pair{"0 0", PlanPoint(0, 10)},
                                      {"1 1", PlanPoint(0, 10)},
                                      {"0 1", PlanPoint(10, 0)},
                                      {"1 0", PlanPoint(10, 0)}}) {
    const auto a = points(fmt::format("M10 10A10 10 0 {} 0 0", flags));
    near(a.back(), {0, 0});
    for (const PlanPoint& p : a) EXPECT_NEAR(std::abs(p - middle), 10, 1e-6) << flags;
    const double turned = flags[0] == '1' ? 1.5 : 0.5;
    double length = 0;
    for (std::size_t i = 1; i < a.size(); ++i) length += std::abs(a[i] - a[i - 1]);
    EXPECT_NEAR(length, 10 * pi * turned, 0.01) << flags;
  }
  EXPECT_EQ(points("M10 10a10 10 0 01-10-10"), points("M10 10A10,10,0,0,1,0,0"));
  EXPECT_EQ(points("M0 0A1 1 0 0 0 20 0").front(), PlanPoint(0, 0)) << "radii too small are made to reach";
  near(points("M0 0A1 1 0 0 0 20 0")[points("M0 0A1 1 0 0 0 20 0").size() / 2], {10, 10}, 0.1);
  EXPECT_EQ(points("M0 0A0 5 0 0 0 3 4"), (std::vector<PlanPoint>{{0, 0}, {3, 4}}));
  const auto two = svg_path("M0 0h1v1zm5 5h1", {}, 0.01);
  ASSERT_TRUE(two);
  ASSERT_EQ(two->size(), 2u);
  EXPECT_TRUE((*two)[0].closed);
  EXPECT_EQ((*two)[1].points.front(), PlanPoint(5, 5)) << "from where the first began";
  for (const char* bad :
       {"L0 0", "M0", "M0 0L1", "M0 0X", "M0 0A1 1 0 2 0 3 3", "M0 0 z 5", "M1e400 0", "M0 0C1 1 2 2", "M0 0L1 1 2"})
    EXPECT_FALSE(svg_path(bad, {}, 0.01)) << bad;
}

TEST(Svg, TransformsAreThoseOfTheStandard) {
  const auto moved = [](const char* text, PlanPoint p) {
    const auto map = svg_transform(text);
    EXPECT_TRUE(map) << text;
    return map ? (*map)(p) : PlanPoint(1e9);
  };
  near(moved("translate(3)", {1, 1}), {4, 1});
  near(moved("translate(3,4)", {1, 1}), {4, 5});
  near(moved("scale(2)", {1, 3}), {2, 6});
  near(moved("scale(2 -1)", {1, 3}), {2, -3});
  near(moved("rotate(90)", {1, 0}), {0, 1});
  near(moved("rotate(90, 5, 5)", {6, 5}), {5, 6});
  near(moved("skewX(45)", {1, 2}), {3, 2});
  near(moved("skewY(45)", {1, 2}), {1, 3});
  near(moved("matrix(1 2 3 4 5 6)", {1, 1}), {9, 12}, 1e-9);
  near(moved("translate(10,0) rotate(90) scale(2)", {1, 0}), {10, 2});
  for (const char* bad : {"rotate()", "rotate(1 2)", "turn(3)", "scale(1", "matrix(1 2 3)", "translate(a)"})
    EXPECT_FALSE(svg_transform(bad)) << bad;
  const auto nested =
      one(svg("<g transform='translate(10,0)'><g transform='rotate(90)'><line x1='0' y1='0' x2='5' y2='0' stroke='red' "
              "transform='scale(2)'/></g></g>"));
  near(nested.points.front(), {10, 80});
  near(nested.points.back(), {10, 70});
}

TEST(Svg, SizeComesFromThePage) {
  const std::string l = "<line x1='0' y1='0' x2='30' y2='40' stroke='red'/>";
  const struct {
    const char* page;
    double length;
    UnitFrom from;
  } pages[] = {{"width='100mm' height='80mm' viewBox='0 0 100 80'", 50, UnitFrom::file},
               {"width='10cm' height='8cm' viewBox='0 0 1000 800'", 5, UnitFrom::file},
               {"width='1in' height='1in' viewBox='0 0 100 100'", 12.7, UnitFrom::file},
               {"width='72pt' height='6pc' viewBox='0 0 100 100'", 12.7, UnitFrom::file},
               {"width='200mm' height='100mm' viewBox='0 0 100 100'", 50, UnitFrom::file},
               {"width='96' height='96'", 50 * 25.4 / 96, UnitFrom::usual},
               {"viewBox='0 0 100 100'", 50 * 25.4 / 96, UnitFrom::usual},
               {"width='100%' height='100%' viewBox='0 0 100 100'", 50 * 25.4 / 96, UnitFrom::usual}};
  for (const auto& p : pages) {
    const Drawing d = read(svg(l, p.page));
    EXPECT_NEAR(length_of(d.contours.at(0)), p.length, 1e-9) << p.page;
    EXPECT_EQ(d.unit_from, p.from) << p.page;
  }
  DrawingSetting owner;
  owner.unit_mm = 2;
  EXPECT_NEAR(length_of(one(svg(l, "width='96' height='96'"), owner)), 100, 1e-9);
  EXPECT_EQ(refused(svg(l, "width='0' height='10' viewBox='0 0 5 5'")).code, "damaged");
  EXPECT_EQ(refused(svg(l, "viewBox='0 0 5'")).code, "damaged");
  const auto stretched = one(svg(l, "width='200mm' height='100mm' viewBox='0 0 100 100' preserveAspectRatio='none'"));
  EXPECT_NEAR(length_of(stretched), std::hypot(60, 40), 1e-9);
}

TEST(Svg, LayersAreGroupsAndColours) {
  const Drawing d = read(svg(
      "<g inkscape:groupmode='layer' inkscape:label='cuts' xmlns:inkscape='i'>"
      "<path d='M0 0h5' style='stroke:#F00;fill:none'/><g id='deeper'><path d='M0 1h5' stroke='red' fill='none'/></g>"
      "<path d='M0 2h5' stroke='rgb(0,0,255)' fill='none'/></g>"
      "<g id='names'><path d='M0 3h5' stroke='black'/></g><path d='M0 4h5'/>"));
  std::vector<std::string> names;
  for (const DrawnContour& c : d.contours) names.push_back(d.layers[c.layer].name);
  EXPECT_EQ(names, (std::vector<std::string>{"cuts, #ff0000", "cuts, #ff0000", "cuts, #0000ff", "names", "black"}));
}

TEST(Svg, WhatIsNotSeenIsNotCut) {
  const Drawing d =
      read(svg("<style>.off{display:none} path.cut{stroke:green; fill:none} #x{visibility:hidden}</style>"
               "<defs><path d='M0 0h5' stroke='red'/></defs>"
               "<g display='none'><path d='M0 0h5' stroke='red'/></g><path class='off' d='M0 0h5' stroke='red'/>"
               "<path d='M0 0h5' fill='none'/><path id='x' d='M0 0h5' stroke='red'/>"
               "<path class='big cut' d='M0 0h5'/><text x='3' y='4'>  Quill<tspan>feather</tspan> </text><image/>"));
  ASSERT_EQ(d.contours.size(), 1u);
  EXPECT_EQ(d.layers[d.contours[0].layer].colour, "#008000");
  ASSERT_EQ(d.texts.size(), 1u);
  EXPECT_EQ(d.texts[0].words, "Quillfeather");
  near(d.texts[0].at, {3, 76});
  EXPECT_EQ(d.passed_by.size(), 3u) << "hidden, without line or fill, image";
}

TEST(Svg, WhatIsUsedStandsWhereItIsUsed) {
  const Drawing d =
      read(svg("<defs><g id='star'><path d='M0 0h5' stroke='red'/></g><symbol id='s'><path d='M0 0v5' "
               "stroke='red'/></symbol></defs>"
               "<use href='#star' x='10' y='20'/><use xlink:href='#s' transform='translate(1,2)' xmlns:xlink='x'/><use "
               "href='#gone'/>"));
  ASSERT_EQ(d.contours.size(), 2u);
  near(d.contours[0].points.front(), {10, 60});
  near(d.contours[1].points.back(), {1, 73});
  EXPECT_EQ(refused(svg("<g id='a'><use href='#a'/></g>")).code, "damaged") << "within itself";
  const Drawing inner =
      read(svg("<svg x='10' y='10' width='20' height='20' viewBox='0 0 10 10'><path d='M0 0h10' stroke='red'/></svg>"));
  near(inner.contours.at(0).points.front(), {10, 70});
  near(inner.contours.at(0).points.back(), {30, 70});
}

TEST(Svg, WhatIsDamagedIsRefusedWithItsElement) {
  const auto path = refused(svg("<path d='M0 0h5' stroke='red'/><path id='ring' d='M0 0Q1' stroke='red'/>"));
  EXPECT_EQ(path.code, "damaged");
  EXPECT_EQ(path.where, "path 3 (ring)");
  EXPECT_EQ(refused(svg("<g transform='roll(3)'><path d='M0 0h5'/></g>")).where, "g 2");
  EXPECT_EQ(refused(svg("<circle r='-1'/>")).code, "damaged");
  EXPECT_EQ(refused(svg("<rect width='4' height='x'/>")).code, "damaged");
  EXPECT_EQ(refused("<svg>\n<g>\n<path d='M0 0h5'>\n</g></svg>").where, "line 4");
  EXPECT_EQ(refused("<html><p/></html>").code, "not_a_drawing");
  std::string deep;
  for (int i = 0; i < 400; ++i) deep += "<g>";
  for (int i = 0; i < 400; ++i) deep += "</g>";
  EXPECT_EQ(refused(svg(deep)).code, "damaged");
}

// -----------------------------------------------------------------------------------------------------------------

}  // namespace drawing_test
}  // namespace ypsi
