// Tables of readings: what spreadsheets and people write, and what is wrong with some of it.
#include <gtest/gtest.h>

#include "core/book/readings_csv.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/positioning.h"
#include "core/calibration/scale.h"
#include "core/units/csv.h"

namespace ypsi {
namespace {

void expect_readings(const std::string& text, const char* what) {
  const auto read = scale_readings_from_csv(text);
  ASSERT_TRUE(read) << what << ": " << read.error().message;
  ASSERT_EQ(read->size(), 2u) << what;
  EXPECT_DOUBLE_EQ((*read)[0].commanded, 600.5) << what;
  EXPECT_DOUBLE_EQ((*read)[0].measured, 597.25) << what;
  EXPECT_FALSE((*read)[0].reversed) << what;
  EXPECT_DOUBLE_EQ((*read)[1].measured, 398) << what;
  EXPECT_TRUE((*read)[1].reversed) << what;
}

TEST(Csv, WhatSpreadsheetsWriteIsRead) {
  expect_readings("told,measured,approach\n600.5,597.25,same\n400,398,reversed\n", "dots and commas");
  expect_readings("600.5,597.25\n400,398,reversed", "no heading, no last line end");
  expect_readings("told;measured;approach\r\n600,5;597,25;same\r\n400;398;reversed\r\n", "decimal commas, CRLF");
  expect_readings("\xEF\xBB\xBFtold,measured,approach\r\n600.5,597.25,same\r\n400,398,reversed\r\n", "byte-order mark");
  expect_readings("\"600,5\",\"597,25\",\"same\"\n\"400\",\"398\",\"reversed\"\n", "quoted fields");
  expect_readings("600,5\t597,25\tsame\n\n400\t398\treversed\n\n", "tabs and blank lines");
  expect_readings("told,measured,approach\r600.5,597.25,same\r400,398,reversed\r", "CR alone");
  expect_readings("told ; measured ; approach\n 600,5 ; 597,25 ; same \n400 mm;398 mm;reversed\n", "blanks and units");
  expect_readings("\"told,\n of the controller\",measured,approach\n600.5,597.25,\n400,3.98e+2,reversed\n",
                  "a heading over two lines, an exponent");
}

TEST(Csv, EveryRowThatCannotBeUsedIsNamedAndNothingIsTaken) {
  const auto read =
      scale_readings_from_csv("told,measured,approach\n600,597,same\n400,abc,same\n\n250\n100,99,sideways\n0,5,same\n");
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().code, "bad_rows");
  EXPECT_EQ(read.error().where, "line 3");
  for (const char* words : {"Line 3: “abc” is not a number", "Line 5: column 2 is empty", "Line 6: “sideways”",
                            "Line 7: a length of zero", "Nothing was taken"})
    EXPECT_NE(read.error().message.find(words), std::string::npos) << words << " in " << read.error().message;
}

TEST(Csv, ManyBadRowsAreCountedNotListed) {
  std::string text;
  for (int i = 0; i < 20; ++i) text += "x,1\n";
  const auto read = scale_readings_from_csv("600,597\n" + text);
  ASSERT_FALSE(read);
  EXPECT_NE(read.error().message.find("16 more lines"), std::string::npos) << read.error().message;
}

TEST(Csv, QuotesOutOfPlaceNameTheirLine) {
  EXPECT_NE(read_csv("1,2\n3,4\"5\n6,7\n").error().message.find("Line 2"), std::string::npos);
  const auto open = read_csv("1,2\n3,\"4\n5,6\n");
  ASSERT_FALSE(open);
  EXPECT_EQ(open.error().code, "not_csv");
  EXPECT_NE(open.error().message.find("line 2"), std::string::npos) << open.error().message;
  EXPECT_EQ(scale_readings_from_csv("").error().code, "no_rows");
  EXPECT_EQ(scale_readings_from_csv("told,measured\n").error().code, "no_rows");
}

TEST(Csv, LinesAreCountedAcrossQuotedLineEnds) {
  const auto rows = read_csv("a,b\n\"one\ntwo\",3\n4,5\n");
  ASSERT_TRUE(rows);
  ASSERT_EQ(rows->size(), 3u);
  EXPECT_EQ((*rows)[1].fields[0], "one\ntwo");
  EXPECT_EQ((*rows)[1].line, 2u);
  EXPECT_EQ((*rows)[2].line, 4u);
}

TEST(Csv, WhatIsWrittenReadsBack) {
  const std::vector<ScaleReading> scale{{600, 597.3, false}, {-0.1, -1e-5, true}};
  const auto scale_back = scale_readings_from_csv(scale_readings_to_csv(scale));
  ASSERT_TRUE(scale_back) << scale_back.error().message;
  ASSERT_EQ(scale_back->size(), 2u);
  EXPECT_EQ((*scale_back)[1].measured, -1e-5);
  EXPECT_TRUE((*scale_back)[1].reversed);
  const std::vector<TurnAt> turns{{120.5, {0.11, -0.003}}};
  const auto turns_back = turns_from_csv(turns_to_csv(turns));
  ASSERT_TRUE(turns_back);
  EXPECT_EQ(turns_back->front().reading.arriving_minus, 0.11);
  EXPECT_EQ(turns_back->front().reading.arriving_plus, -0.003);
  const PositioningReadings test{{10, 20.5}, {{true, {0.01, 0.02}}, {false, {-0.01, -0.02}}}};
  const auto test_back = positioning_from_csv(positioning_to_csv(test));
  ASSERT_TRUE(test_back);
  EXPECT_EQ(test_back->targets, test.targets);
  EXPECT_EQ(test_back->runs[1].deviations, test.runs[1].deviations);
  EXPECT_FALSE(test_back->runs[1].plus);
  EXPECT_EQ(csv_line({"a \"b\"", "c,d", "e"}), "\"a \"\"b\"\"\",\"c,d\",e\n");
}

TEST(Csv, APositioningTableMustBeWhole) {
  EXPECT_NE(positioning_from_csv("1,+,10,0.1\n1,+,20,0.1\n2,-,10,0\n").error().message.find("no reading at 20"),
            std::string::npos);
  EXPECT_NE(positioning_from_csv("1,+,10,0.1\n1,-,20,0.1\n").error().message.find("Line 2"), std::string::npos);
  EXPECT_NE(positioning_from_csv("1,+,10,0.1\n1,+,10,0.1\n").error().message.find("twice"), std::string::npos);
  EXPECT_NE(positioning_from_csv("1,up,10,0.1\n").error().message.find("no direction"), std::string::npos);
}

TEST(ToolsCsv, RowsComeInAndGoOutAndTheBadOnesAreNamed) {
  const auto read = tools_from_csv(
      "\xef\xbb\xbfnumber;name;kind;diameter;angle\r\n1;\"two; flute\";flat;3,175\r\n7;vee;bevel;6;60\r\n");
  ASSERT_TRUE(read) << read.error().message;
  ASSERT_EQ(read->size(), 2u);
  EXPECT_EQ((*read)[0].name, "two; flute");
  EXPECT_EQ((*read)[0].diameter, 3.175);
  EXPECT_EQ((*read)[1].angle, 60);
  auto tools = *read;
  tools[0].offset = 1.5;
  tools[0].slot = 4;
  const auto again = tools_from_csv(tools_to_csv(tools));
  ASSERT_TRUE(again) << again.error().message;
  EXPECT_EQ((*again)[0].slot, 4);
  EXPECT_EQ((*again)[0].name, "two; flute");
  EXPECT_FALSE((*again)[0].offset) << "offsets are measured, not read";
  const auto bad = tools_from_csv("1,a,flat,3\n1,b,flat,4\n2.5,c,flat,4\n3,d,flat,wide\n");
  ASSERT_FALSE(bad);
  EXPECT_EQ(bad.error().where, "line 2");
  for (const char* words : {"tool 1 stands twice", "Line 3", "“wide” is not a number"})
    EXPECT_NE(bad.error().message.find(words), std::string::npos) << bad.error().message;
  EXPECT_EQ(tools_from_csv("number,name,kind,diameter\n").error().code, "no_rows");
}

}  // namespace
}  // namespace ypsi
