// DXF: every kind of shape against its closed form, units and blocks, what is damaged; and what is mended in any
// drawing.
#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "core/book/machine_kinds.h"
#include "core/drawing_in/curves.h"
#include "core/read_drawing.h"

namespace ypsi {
namespace drawing_test {

using namespace drawing_text;
using std::numbers::pi;

// ------------------------------------------------------------------------------------------------------------------
// DXF

TEST(Dxf, LinesArcsAndCirclesAreWhereTheyAreDrawn) {
  const auto l = one(dxf(line(1, 2, 4, 6)));
  near(l.points.front(), {1, 2});
  near(l.points.back(), {4, 6});
  EXPECT_DOUBLE_EQ(length_of(l), 5);
  const auto c = one(dxf(circle(10, 20, 30)));
  EXPECT_TRUE(c.closed);
  is_round(c, {10, 20}, 30);
  EXPECT_NEAR(length_of(c), 60 * pi, 60 * pi * 1e-4);
  // From 300 degrees through 0 to 30: a quarter turn.
  const auto a = one(dxf("0\nARC\n8\ncut\n10\n0\n20\n0\n40\n8\n50\n300\n51\n30\n"));
  EXPECT_FALSE(a.closed);
  near(a.points.front(), std::polar(8.0, -pi / 3), 1e-6);
  near(a.points.back(), std::polar(8.0, pi / 6), 1e-6);
  is_round(a, 0, 8);
  EXPECT_NEAR(length_of(a), 4 * pi, 1e-2);
}

TEST(Dxf, AnEllipseIsOneAllAlong) {
  // Half of it, its long half axis 20 along 30 degrees, its short one 5.
  const PlanPoint major = std::polar(20.0, pi / 6);
  const auto e = one(dxf(fmt::format("0\nELLIPSE\n8\ncut\n10\n3\n20\n4\n11\n{}\n21\n{}\n40\n0.25\n41\n0\n42\n{}\n",
                                     major.real(), major.imag(), pi)));
  near(e.points.front(), PlanPoint(3, 4) + major, 1e-5);
  near(e.points.back(), PlanPoint(3, 4) - major, 1e-5);
  for (const PlanPoint& p : e.points) {
    const PlanPoint own = (p - PlanPoint(3, 4)) * std::polar(1.0, -pi / 6);
    EXPECT_NEAR(std::hypot(own.real() / 20, own.imag() / 5), 1, 1e-4);
    EXPECT_GE(own.imag(), -1e-4) << "counter-clockwise from the long axis";
  }
}

TEST(Dxf, BulgesAreArcs) {
  // A stadium: two straight sides of 40, two half circles of radius 10, to the right of their way.
  const std::string stadium =
      "0\nLWPOLYLINE\n8\ncut\n90\n4\n70\n1\n10\n0\n20\n0\n10\n40\n20\n0\n42\n1\n10\n40\n20\n20\n10\n0\n20\n20\n42\n1\n";
  const auto s = one(dxf(stadium));
  EXPECT_TRUE(s.closed);
  EXPECT_NEAR(length_of(s), 80 + 20 * pi, 0.02);
  const Drawing d = read(dxf(stadium));
  near(d.extents()->low, {-10, 0}, within);
  near(d.extents()->high, {50, 20}, within);
  // As old files have it, with a wrong count, and clockwise: bulges below zero are to the left.
  const auto old =
      one(dxf("0\nPOLYLINE\n8\ncut\n66\n1\n70\n1\n0\nVERTEX\n8\ncut\n10\n0\n20\n0\n42\n-0.4142135623730951\n"
              "0\nVERTEX\n8\ncut\n10\n10\n20\n10\n0\nVERTEX\n8\ncut\n10\n10\n20\n0\n0\nSEQEND\n8\ncut\n"));
  EXPECT_TRUE(old.closed);
  EXPECT_NEAR(length_of(old), 5 * pi + 20, 0.01) << "a quarter of a circle of 10, and two sides";
  for (const PlanPoint& p : old.points) EXPECT_GE(p.imag() + 1e-6, p.real() < 9.99 ? p.real() : 0) << "above its chord";
}

TEST(Dxf, SplinesAreWhatTheirControlPointsSay) {
  // Of degree 2 over one span it is the parabola y = x^2.
  const auto parabola =
      one(dxf("0\nSPLINE\n8\ncut\n70\n8\n71\n2\n72\n6\n73\n3\n74\n0\n40\n0\n40\n0\n40\n0\n40\n1\n40\n1\n"
              "40\n1\n10\n-2\n20\n4\n10\n0\n20\n-4\n10\n2\n20\n4\n"));
  for (std::size_t i = 0; i + 1 < parabola.points.size(); ++i) {
    const PlanPoint middle = (parabola.points[i] + parabola.points[i + 1]) / 2.0;
    EXPECT_NEAR(parabola.points[i].imag(), parabola.points[i].real() * parabola.points[i].real(), 1e-9);
    EXPECT_NEAR(middle.imag(), middle.real() * middle.real(), within);
  }
  // With weights 1, sqrt(1/2), 1 it is a quarter of a circle.
  const auto round =
      one(dxf(fmt::format("0\nSPLINE\n8\ncut\n70\n12\n71\n2\n72\n6\n73\n3\n74\n0\n40\n0\n40\n0\n40\n0\n40\n1\n40\n1\n"
                          "40\n1\n41\n1\n41\n{}\n41\n1\n10\n50\n20\n0\n10\n50\n20\n50\n10\n0\n20\n50\n",
                          std::sqrt(0.5))));
  is_round(round, 0, 50);
  // A cubic over four spans, against the blending of Cox and de Boor written out for a place in each.
  Spline cubic{3, {0, 0, 0, 0, 1, 2, 3, 4, 4, 4, 4}, {{0, 0}, {1, 3}, {4, -2}, {6, 5}, {9, 0}, {11, 1}, {12, 4}}, {}};
  ASSERT_TRUE(is_sound(cubic));
  near(spline_at(cubic, 0), {0, 0});
  near(spline_at(cubic, 4), {12, 4});
  // At knot 2: (N2, N3, N4) = (1/6, 4/6, 1/6) of a uniform cubic.
  near(spline_at(cubic, 2), (PlanPoint(4, -2) + 4.0 * PlanPoint(6, 5) + PlanPoint(9, 0)) / 6.0);
  const Drawing fit_only = read(dxf("0\nSPLINE\n8\ncut\n70\n8\n71\n3\n74\n2\n11\n0\n21\n0\n11\n5\n21\n5\n"));
  EXPECT_TRUE(fit_only.contours.empty());
  ASSERT_EQ(fit_only.passed_by.size(), 1u) << "named, not guessed";
}

TEST(Dxf, EachUnitIsTaken) {
  const std::pair<int, double> units[] = {{1, 25.4}, {2, 304.8},  {4, 1},     {5, 10},
                                          {6, 1000}, {9, 0.0254}, {13, 1e-3}, {14, 100}};
  for (const auto& [code, mm] : units) {
    const Drawing d = read(dxf(line(0, 0, 3, 4), code));
    EXPECT_NEAR(length_of(d.contours[0]), 5 * mm, 1e-9 * mm) << code;
    EXPECT_EQ(d.unit_from, UnitFrom::file);
  }
  for (const int none : {0, -1}) {
    const Drawing d = read(dxf(line(0, 0, 3, 4), none));
    EXPECT_EQ(d.unit_from, UnitFrom::usual);
    EXPECT_EQ(length_of(d.contours[0]), 5);
  }
  DrawingSetting inches;
  inches.unit_mm = 25.4;
  EXPECT_NEAR(length_of(one(dxf(line(0, 0, 3, 4), 4), inches)), 127, 1e-9) << "its owner knows better";
  is_round(one(dxf(circle(0, 0, 10), 4), inches), 0, 254);
}

TEST(Dxf, BlocksStandWhereTheyAreInsertedThreeDeep) {
  const std::string blocks = block("inner", 1, 1, "0\nLINE\n8\n0\n10\n1\n20\n1\n11\n3\n21\n1\n") +
                             block("middle", 0, 0, insert("inner", 10, 0, "41\n2\n42\n2\n")) +
                             block("outer", 0, 0, insert("middle", 0, 5, "50\n90\n"));
  const auto l = one(dxf(insert("outer", 100, 200, "41\n-1\n42\n1\n"), 4, blocks));
  // inner: 2 long, doubled to 4 at (10, 0); turned by 90 degrees to (0, 10)..(0, 14), up 5; mirrored in X; moved.
  near(l.points.front(), {100, 215});
  near(l.points.back(), {100, 219});
  const Drawing d = read(dxf(insert("outer", 0, 0), 4, blocks));
  EXPECT_EQ(d.layers[d.contours[0].layer].name, "cut") << "layer 0 of a block is that of its insert";
  // Rows and columns, turned with it.
  const Drawing many = read(dxf(insert("inner", 0, 0, "50\n90\n70\n3\n71\n2\n44\n10\n45\n7\n"), 4, blocks));
  ASSERT_EQ(many.contours.size(), 6u);
  near(many.extents()->low, {-7, 0});
  near(many.extents()->high, {0, 22});
}

TEST(Dxf, WhatIsSeenFromBelowIsMirrored) {
  const auto arc = one(dxf("0\nARC\n8\ncut\n10\n5\n20\n0\n40\n2\n50\n0\n51\n90\n210\n0\n220\n0\n230\n-1\n"));
  near(arc.points.front(), {-7, 0}, 1e-6);
  near(arc.points.back(), {-5, 2}, 1e-6);
  const Drawing tilted = read(dxf(circle(0, 0, 1, "210\n1\n220\n0\n230\n0\n")));
  EXPECT_TRUE(tilted.contours.empty());
  EXPECT_EQ(tilted.passed_by.size(), 1u);
}

TEST(Dxf, LayersColoursTextAndWhatIsNotReadAreNamed) {
  const std::string layers = layer("cut", 1) + layer("fold", 3) + layer("old", -2) + layer("frozen", 2, 1);
  const Drawing d = read(dxf(line(0, 0, 1, 0) + line(0, 1, 1, 1, "fold") + line(0, 2, 1, 2, "old") +
                                 line(0, 2, 1, 2, "frozen") + "0\nLINE\n8\nfold\n62\n5\n10\n0\n20\n3\n11\n1\n21\n3\n" +
                                 "0\nTEXT\n8\nnames\n10\n4\n20\n5\n40\n2\n1\n12\\U+00B0\n" +
                                 "0\nHATCH\n8\ncut\n10\n0\n20\n0\n0\nHATCH\n8\ncut\n10\n0\n20\n0\n",
                             4, {}, layers));
  std::vector<std::string> names;
  for (const DrawnLayer& l : d.layers) names.push_back(l.name);
  EXPECT_EQ(names, (std::vector<std::string>{"cut", "fold", "fold, colour 5", "names"}));
  EXPECT_EQ(d.layers[0].colour, "colour 1");
  EXPECT_EQ(d.contours.size(), 3u) << "what is switched off is not cut";
  ASSERT_EQ(d.texts.size(), 1u);
  EXPECT_EQ(d.texts[0].words, "12°");
  near(d.texts[0].at, {4, 5});
  const auto hatch =
      std::find_if(d.passed_by.begin(), d.passed_by.end(), [](const PassedBy& p) { return p.what == "HATCH"; });
  ASSERT_NE(hatch, d.passed_by.end());
  EXPECT_EQ(hatch->times, 2u);
}

TEST(Dxf, EachContourKnowsItsLine) {
  const std::string text =
      dxf(line(0, 0, 1, 0) + circle(5, 5, 1) + "0\nPOINT\n8\ncut\n10\n0\n20\n0\n" + line(7, 7, 8, 8));
  std::vector<std::uint32_t> wanted;
  std::istringstream in(text);
  std::uint32_t n = 0;
  for (std::string l, before; std::getline(in, l); before = l) {
    ++n;
    if (before == "0" && (l == "LINE" || l == "CIRCLE")) wanted.push_back(n - 1);
  }
  const Drawing d = read(text);
  std::vector<std::uint32_t> is;
  for (const DrawnContour& c : d.contours) is.push_back(c.source);
  EXPECT_EQ(is, wanted);
}

TEST(Dxf, WhatIsDamagedIsRefusedWithItsLine) {
  const std::string sound = dxf(line(0, 0, 1, 0) + line(2, 0, 3, 0));
  const auto at = [&](const std::string& what) { return sound.find(what); };
  const auto line_of = [](const std::string& text, std::size_t place) {
    return "line " +
           std::to_string(1 + std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(place), '\n'));
  };
  std::string bad = sound;
  bad.replace(at("11\n3"), 4, "11\nx");
  EXPECT_EQ(refused(bad).code, "damaged");
  EXPECT_EQ(refused(bad).where, line_of(bad, bad.find("11\nx") + 3));
  bad = sound;
  bad.replace(at("11\n3"), 4, "1q\n3");
  EXPECT_EQ(refused(bad).where, line_of(bad, bad.find("1q")));
  bad = sound;
  bad.replace(at("11\n3"), 4, "11\n3e99");
  EXPECT_EQ(refused(bad).code, "not_finite");
  EXPECT_EQ(refused(sound.substr(0, sound.size() - 6)).code, "damaged") << "cut off before its end";
  EXPECT_EQ(refused(sound.substr(0, at("ENDSEC") + 3)).code, "damaged");
  EXPECT_EQ(refused("AutoCAD Binary DXF\r\n\x1a").code, "binary");
  EXPECT_EQ(refused("0\nEOF\n").code, "empty");
  EXPECT_EQ(refused("G21\nG0 X0\n").code, "not_a_drawing");
  EXPECT_EQ(refused(" \n").code, "empty");
  const std::string endless = block("a", 0, 0, insert("a", 1, 0));
  EXPECT_EQ(refused(dxf(insert("a", 0, 0), 4, endless)).code, "too_large");
  std::string bomb;
  for (char b = 'a'; b < 'm'; ++b) {
    std::string inside;
    for (int i = 0; i < 10; ++i)
      inside += b == 'a' ? line(0, 0, 1, 0) : insert(std::string(1, static_cast<char>(b - 1)), i, 0);
    bomb += block(std::string(1, b), 0, 0, inside);
  }
  EXPECT_EQ(refused(dxf(insert("l", 0, 0), 4, bomb)).code, "too_large") << "blocks multiply";
}

TEST(Dxf, WrongCountsLeadNobodyAstray) {
  const auto p = one(dxf("0\nLWPOLYLINE\n8\ncut\n90\n1\n70\n0\n10\n0\n20\n0\n10\n5\n20\n0\n10\n5\n20\n5\n"));
  EXPECT_EQ(p.points.size(), 3u);
  const auto q = one(dxf("0\nLWPOLYLINE\n8\ncut\n90\n900000\n70\n0\n10\n0\n20\n0\n10\n5\n20\n0\n"));
  EXPECT_EQ(q.points.size(), 2u);
}

// ------------------------------------------------------------------------------------------------------------------

TEST(Mend, JoinsWhatNearlyMeetsAndNamesWhatStaysOpen) {
  Drawing d =
      read(dxf(line(0, 0, 10, 0) + line(10, 10, 10, 0.4) + line(10, 10, 0, 10) + line(0, 0, 0, 10) +  // nearly a square
               line(50, 0, 60, 0) + line(60.003, 0, 60, 10) + line(20, 0, 30, 0, "fold") + line(30, 0, 40, 0)));
  const Mended m = mend(d);
  ASSERT_EQ(d.contours.size(), 4u);
  EXPECT_TRUE(d.contours[0].closed);
  EXPECT_NEAR(length_of(d.contours[0]), 40, 1e-9);
  EXPECT_FALSE(d.contours[1].closed);
  EXPECT_NEAR(length_of(d.contours[1]), 20, 0.01);
  ASSERT_EQ(m.joined.size(), 1u) << "3 micrometres are nothing to speak of";
  EXPECT_NEAR(m.joined[0].gap, 0.4, 1e-9);
  near(m.joined[0].at, {10, 0.2});
  EXPECT_EQ(m.open.size(), 6u) << "never across layers";
}

TEST(Mend, CutsOnceWhatIsDrawnTwice) {
  Drawing d = read(dxf(line(0, 0, 10, 0) + line(10, 0, 0, 0) + line(2, 0, 5, 0) + circle(30, 30, 5) +
                       circle(30, 30, 5) + circle(30, 30, 4) + line(0, 0, 10, 0, "pen") + line(0, 5, 10, 5)));
  const Mended m = mend(d);
  EXPECT_EQ(m.doubled, 3u) << "backwards, a part of it, a circle";
  EXPECT_EQ(d.contours.size(), 5u);
}

/// Whatever order and sense the pieces have: the same outlines come of them.
TEST(Mend, FindsTheSameOutlinesHoweverTheyAreDrawn) {
  std::mt19937_64 random(29);
  for (int round = 0; round < 60; ++round) {
    struct Piece {
      PlanPoint a, b;
    };
    std::vector<Piece> pieces;
    double wanted = 0;
    constexpr int outlines = 6;
    for (int o = 0; o < outlines; ++o) {
      const int corners = 3 + static_cast<int>(random() % 9);
      std::vector<PlanPoint> ring;
      for (int i = 0; i < corners; ++i)
        ring.push_back(PlanPoint(60.0 * o, 0) +
                       std::polar(10.0 + static_cast<double>(random() % 15), 2 * pi * i / corners));
      for (int i = 0; i < corners; ++i) {
        const PlanPoint a = ring[static_cast<std::size_t>(i)], b = ring[static_cast<std::size_t>((i + 1) % corners)];
        wanted += std::abs(b - a);
        pieces.push_back(random() % 2 == 0 ? Piece{a, b} : Piece{b, a});
      }
    }
    std::shuffle(pieces.begin(), pieces.end(), random);
    Drawing d;
    d.layers = {{"cut", ""}};
    for (const Piece& p : pieces) d.contours.push_back({0, {p.a, p.b}, false, 0});
    const Mended m = mend(d);
    ASSERT_EQ(d.contours.size(), static_cast<std::size_t>(outlines)) << round;
    double is = 0;
    for (const DrawnContour& c : d.contours) {
      EXPECT_TRUE(c.closed);
      EXPECT_EQ(c.points.front(), c.points.back());
      is += length_of(c);
    }
    EXPECT_NEAR(is, wanted, 1e-6);
    EXPECT_TRUE(m.open.empty());
  }
}

/// Against every pair: on both sides of zero, as near to one another as ends of a crowded drawing are.
TEST(Mend, NamesTheNearestOtherEndOfTheLayer) {
  std::mt19937_64 random(31);
  std::uniform_real_distribution<double> near_zero(-40, 40), far(300, 340);
  Drawing d;
  d.layers = {{"cut", ""}, {"fold", ""}};
  struct End {
    PlanPoint at;
    std::size_t layer;
  };
  std::vector<End> ends;
  for (std::size_t i = 0; i < 300; ++i) {
    const PlanPoint a(near_zero(random), near_zero(random)), b(far(random), -far(random));
    d.contours.push_back({i % 2, {a, b}, false, 0});
    ends.push_back({a, i % 2});
    ends.push_back({b, i % 2});
  }
  const Mended m = mend(d, {0, 0.02});
  ASSERT_EQ(m.open.size(), ends.size());
  std::size_t alone = 0;
  for (std::size_t i = 0; i < ends.size(); ++i) {
    double nearest = 1e9;
    for (std::size_t j = 0; j < ends.size(); ++j)
      if (j != i && ends[j].layer == ends[i].layer) nearest = std::min(nearest, std::abs(ends[j].at - ends[i].at));
    ASSERT_EQ(m.open[i].at, ends[i].at);
    ASSERT_EQ(m.open[i].gap.has_value(), nearest <= 5) << i;
    if (nearest <= 5)
      EXPECT_NEAR(*m.open[i].gap, nearest, 1e-9) << i;
    else
      ++alone;
  }
  EXPECT_GT(alone, 5u) << "both must be met with";
}

TEST(LookOver, SaysWhatIsToBeLookedAt) {
  const MachineSetup table = machine_kind("cutting_table").usual;
  const auto codes = [&](const std::string& text) {
    Drawing d = read(text);
    const Mended m = mend(d);
    std::vector<std::string> all;
    for (const DrawingFinding& f : look_over(d, m, table)) all.push_back(f.code);
    return all;
  };
  using Codes = std::vector<std::string>;
  EXPECT_EQ(codes(dxf(circle(0, 0, 100))), Codes{});
  EXPECT_EQ(codes(dxf(circle(0, 0, 100), 0)), Codes{"unit_not_said"});
  EXPECT_EQ(codes(dxf(circle(0, 0, 100), 6)), Codes{"larger_than_bed"});
  EXPECT_EQ(codes(dxf(circle(0, 0, 100), 13)), Codes{"size_absurd"});
  EXPECT_EQ(codes(dxf(line(0, 0, 100, 0) + line(0, 5, 100, 5))), Codes{}) << "a layer of lines that end";
  EXPECT_EQ(codes(dxf(circle(50, 50, 20) + line(0, 0, 100, 0))), (Codes{"open_end", "open_end"}));
  EXPECT_EQ(codes(dxf(circle(0, 0, 100) + circle(0, 0, 100) +
                      "0\nTEXT\n8\ncut\n10\n0\n20\n0\n40\n5\n1\nname\n0\nHATCH\n8\ncut\n")),
            (Codes{"doubled", "text", "passed_by"}));
  EXPECT_EQ(codes(dxf("0\nHATCH\n8\ncut\n")), (Codes{"empty", "passed_by"}));
}

}  // namespace drawing_test
}  // namespace ypsi
