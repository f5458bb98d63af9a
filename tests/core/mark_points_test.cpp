// Marks put down on a simulated machine, squareness recovered from them, and what is refused.
#include <gtest/gtest.h>

#include <cmath>

#include "core/book/book_json.h"
#include "core/book/worksheets/squareness.h"
#include "core/calibration/squareness.h"
#include "core/procedures/mark_points.h"
#include "core/program/interpreter.h"

namespace ypsi {
namespace {

const std::vector<MarkedPoint> square{{"A", {100, 100}}, {"B", {700, 100}}, {"C", {700, 500}}, {"D", {100, 500}}};

/// What the handbook's section 7 says a machine with these faults makes of a commanded distance.
double real_distance(const Point2& a, const Point2& b, double sx, double sy, double lean) {
  const double dx = b.x - a.x, dy = b.y - a.y;
  return std::hypot(sx * dx + sy * dy * std::sin(lean), sy * dy * std::cos(lean));
}

SquareInput measured(const std::vector<std::pair<std::size_t, std::size_t>>& pairs, double sx, double sy, double lean,
                     double resolution) {
  SquareInput in;
  in.points = square;
  in.instrument.resolution_mm = resolution;
  in.instrument.s_mm = resolution / 4;
  for (const auto& [a, b] : pairs) {
    const double exact = real_distance(square[a].commanded, square[b].commanded, sx, sy, lean);
    in.distances.push_back({a, b, std::round(exact / resolution) * resolution, HoleEdge::center, 0});
  }
  return in;
}

TEST(SquareSets, EveryLeanIsRecoveredWithinUByEverySetThatTellsIt) {
  const std::vector<std::pair<std::size_t, std::size_t>> all{{0, 1}, {1, 2}, {2, 3}, {0, 3}, {0, 2}, {1, 3}};
  int told = 0, untold = 0;
  for (const double mrad : {-4.0, -2.3, -0.6, 0.0, 0.4, 1.7, 4.0})
    for (unsigned set = 1; set < 64; ++set) {
      std::vector<std::pair<std::size_t, std::size_t>> pairs;
      for (std::size_t i = 0; i < all.size(); ++i)
        if (set & (1u << i)) pairs.push_back(all[i]);
      const auto result = fit_square(measured(pairs, 1.0004, 0.9991, mrad / 1000, 0.05));
      ASSERT_TRUE(result) << set;
      const bool both_diagonals = (set & 0x30) == 0x30;
      const bool one_diagonal_and_sides = (set & 0x30) && (set & 0x5) && (set & 0xa);
      if (both_diagonals || one_diagonal_and_sides) {
        ASSERT_TRUE(result->fit) << "set " << set << " at " << mrad;
        EXPECT_NEAR(result->fit->skew * 1000, mrad, result->fit->U_skew * 1000) << "set " << set << " at " << mrad;
        ++told;
      } else {
        EXPECT_EQ(result->verdict, SquareVerdict::cannot_tell) << "set " << set << " at " << mrad;
        EXPECT_FALSE(result->missing.empty()) << "and which distance would";
        ++untold;
      }
    }
  EXPECT_EQ(told, 7 * (16 + 2 * 9));
  EXPECT_EQ(told + untold, 7 * 63);
}

TEST(SquareSets, ALargerFigureIsAskedForWhereThisOneIsTooSmall) {
  const SquareInput in = measured({{0, 2}, {1, 3}, {0, 1}, {0, 3}}, 1, 1, 0.001, 0.5);
  const double U = fit_square(in)->fit->U_skew;
  EXPECT_EQ(*enlargement_for(in, U * 1.5), 1);
  // Without errors in proportion to the length U falls as the size grows.
  EXPECT_NEAR(*enlargement_for(in, U / 3), 3, 0.35);
  SquareInput proportional = in;
  proportional.instrument.u_rel = 0.01;
  proportional.instrument.resolution_mm = 1e-6;
  proportional.instrument.s_mm = 1;
  EXPECT_FALSE(enlargement_for(in, U / 1000)) << "a hundred times is no board";
  const SquareInput blind = measured({{0, 1}}, 1, 1, 0, 0.5);
  EXPECT_FALSE(enlargement_for(blind, 1));
}

TEST(MarkingProgram, ReadsBackAndTouchesEveryMarkFromBelow) {
  const std::string text = marking_program(square, 0.5, 5, 600);
  const auto program = read_program(text);
  ASSERT_TRUE(program) << program.error().message;
  std::vector<WorkPosition> touched;
  for (const auto& m : program->motions)
    if (m.end.z < 0) touched.push_back(m.end);
  ASSERT_EQ(touched.size(), square.size());
  for (std::size_t i = 0; i < square.size(); ++i) {
    EXPECT_DOUBLE_EQ(touched[i].x, square[i].commanded.x - square[0].commanded.x);
    EXPECT_DOUBLE_EQ(touched[i].y, square[i].commanded.y - square[0].commanded.y);
    EXPECT_DOUBLE_EQ(touched[i].z, -0.5);
  }
}

TEST(SquareBook, AWorksheetIsKeptAndADamagedOneSaysWhere) {
  Book book;
  book.worksheets[square_worksheet] =
      SquareWorksheet{square, {{0, 2, 720.3, HoleEdge::outer, 4}, {1, 3, 0}}, "tape", 0.2};
  book.machine.rail_spacing = 860;
  const std::string text = write_book(book);
  const Book back = read_book(text).value().book;
  EXPECT_EQ(write_book(back), text);
  ASSERT_TRUE(back.worksheets[square_worksheet]);
  EXPECT_EQ(back.worksheets[square_worksheet]->distances[0].edge, HoleEdge::outer);
  EXPECT_EQ(*back.machine.rail_spacing, 860);
  auto json = nlohmann::json::parse(text);
  json["worksheets"]["squareness"]["distances"][1]["to"] = 9;
  EXPECT_EQ(read_book(json.dump()).error().where, "worksheets.squareness.distances[1].to");
}

}  // namespace
}  // namespace ypsi
