#include "core/units/length.h"

#include <gtest/gtest.h>

#include <limits>

namespace ypsi {
namespace {

struct Typed {
  const char* text;
  double mm;
  LengthUnit unit = LengthUnit::millimetre;
};
class TypedLength : public ::testing::TestWithParam<Typed> {};

TEST_P(TypedLength, BecomesMillimetres) {
  const auto mm = parse_length(GetParam().text, GetParam().unit);
  ASSERT_TRUE(mm) << mm.error().message;
  EXPECT_NEAR(*mm, GetParam().mm, 1e-12 * std::max(1.0, std::abs(GetParam().mm)));
}
INSTANTIATE_TEST_SUITE_P(Length, TypedLength,
                         ::testing::Values(Typed{"12.5", 12.5}, Typed{"12,5", 12.5}, Typed{" 7 ", 7},
                                           Typed{"1/2 in", 12.7}, Typed{"0.5\"", 12.7}, Typed{"1 1/2 in", 38.1},
                                           Typed{"-1 1/2 in", -38.1}, Typed{"360/2", 180}, Typed{"700+3.5", 703.5},
                                           Typed{"2*(3+4)", 14}, Typed{"2.5cm", 25}, Typed{"1 m", 1000},
                                           Typed{"10 MM", 10}, Typed{".5", 0.5}, Typed{"5.", 5}, Typed{"-3", -3},
                                           Typed{"--3", 3}, Typed{"\u22123.25", -3.25},
                                           Typed{"1", 25.4, LengthUnit::inch}, Typed{"10 mm", 10, LengthUnit::inch},
                                           Typed{"3/4", 19.05, LengthUnit::inch}),
                         [](const auto& p) { return "n" + std::to_string(p.index); });

class NotALength : public ::testing::TestWithParam<const char*> {};
TEST_P(NotALength, IsRefusedWithASentence) {
  const auto mm = parse_length(GetParam());
  ASSERT_FALSE(mm) << *mm;
  EXPECT_GT(mm.error().message.size(), 15u);
  EXPECT_EQ(mm.error().message.back(), '.');
}
INSTANTIATE_TEST_SUITE_P(Length, NotALength,
                         ::testing::Values("", "  ", "abc", "1..2", "1,000.5", "1/0", "(1", "1)", "1 2", "mm", "1e5",
                                           "5 ft", "\xff\xfe", "1+", "----1",
                                           "((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((1"));

TEST(Format, HasATrueMinusAndNoMinusZero) {
  EXPECT_EQ(format_number(-12.345, 2), "\u221212.35");
  EXPECT_EQ(format_number(-0.001, 2), "0.00");
  EXPECT_EQ(format_signed(0.05, 2), "+0.05");
  EXPECT_EQ(format_signed(-0.31, 2), "\u22120.31");
}

TEST(Format, WhatIsPrintedReadsBack) {
  for (const double v : {-1234.567, 0.125, 99999.5, -0.5})
    EXPECT_DOUBLE_EQ(parse_number(format_number(v, 3)).value(), v);
}

TEST(Format, InchesGetOneDecimalMore) {
  EXPECT_EQ(format_length(25.4, LengthUnit::inch, 2), "1.000");
  EXPECT_EQ(format_length(25.4, LengthUnit::millimetre, 2), "25.40");
}

TEST(Format, DecimalsFollowTheUncertainty) {
  EXPECT_EQ(decimals_for(0.042), 3);
  EXPECT_EQ(decimals_for(0.95), 2);
  EXPECT_EQ(decimals_for(12), 2);
  EXPECT_EQ(decimals_for(12, 0), 0);
  EXPECT_EQ(decimals_for(0), 2);
  EXPECT_EQ(decimals_for(std::numeric_limits<double>::quiet_NaN()), 2);
  EXPECT_EQ(decimals_for(1e-30), 6);
}

TEST(Format, DurationsReadAsPeopleSayThem) {
  EXPECT_EQ(format_duration(8.4), "8 s");
  EXPECT_EQ(format_duration(760), "12 min 40 s");
  EXPECT_EQ(format_duration(3900), "1 h 05 min");
  EXPECT_EQ(format_duration(-1), "0 s");
}

}  // namespace
}  // namespace ypsi
