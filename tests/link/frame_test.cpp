// Bytes of the link, both ways, whole and broken.
#include "link/frame.h"

#include <gtest/gtest.h>

#include <random>

namespace ypsi::link {
namespace {

// The check value that catalogues of CRCs give for CRC-32 over "123456789".
TEST(Frame, TheChecksumIsThePublishedOne) {
  EXPECT_EQ(checksum("123456789"), "cbf43926");
  EXPECT_EQ(checksum(""), "00000000");
}

TEST(Frame, ALineDownReadsBack) {
  DownDecoder decoder;
  const std::string line = down_line(17, "12:G1 X10.5 (Röhre)\t; \x01 end");
  EXPECT_EQ(line.back(), '\n');
  const auto items = decoder.feed(line);
  ASSERT_EQ(items.size(), 1u);
  const auto& read = std::get<DownLine>(items[0]);
  EXPECT_EQ(read.number, 17u);
  EXPECT_EQ(read.payload, "12:G1 X10.5 (R??hre) ; ? end");
}

TEST(Frame, HalfLinesWaitForTheirEnd) {
  DownDecoder decoder;
  const std::string line = down_line(1, "1:G1 X1");
  for (std::size_t i = 0; i + 1 < line.size(); ++i) EXPECT_TRUE(decoder.feed(line.substr(i, 1)).empty());
  EXPECT_EQ(decoder.feed("\n").size(), 1u);
}

TEST(Frame, OneChangedByteIsNoticedWhereverItIs) {
  const std::string line = down_line(345, "67:G1 X12.5 Y-3 F900");
  int bad = 0;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    for (const char to : {'7', 'x', ' ', '.'}) {
      if (line[i] == to) continue;
      std::string changed = line;
      changed[i] = to;
      DownDecoder decoder;
      for (const auto& item : decoder.feed(changed)) {
        EXPECT_TRUE(std::holds_alternative<UnreadableLine>(item)) << changed;
        ++bad;
      }
    }
  }
  EXPECT_GT(bad, 60);
}

TEST(Frame, ActsOvertakeTheLinesAroundThem) {
  DownDecoder decoder;
  const std::string line = down_line(1, "1:G1 X1");
  const auto items = decoder.feed(line.substr(0, 5) + act_bytes(Act::hold) + line.substr(5) + act_bytes(Act::stop));
  ASSERT_EQ(items.size(), 3u);
  EXPECT_EQ(std::get<Act>(items[0]), Act::hold);
  EXPECT_EQ(std::get<Act>(items[1]), Act::stop);
  EXPECT_EQ(std::get<DownLine>(items[2]).number, 1u);
}

TEST(Frame, HalfAnActIsNone) {
  DownDecoder decoder;
  for (const auto& item : decoder.feed(std::string("\x01\x02\x03\x04hello\x01\x01\xfd\n")))
    EXPECT_FALSE(std::holds_alternative<Act>(item)) << "noise must not start the machine";
  EXPECT_EQ(decoder.feed(std::string("\x01\xfe")).size(), 1u);
}

// What version 1 let go with is noise like any other: only a line with a checksum lets go.
TEST(Frame, NoTwoBytesLetGo) {
  for (int first = 0; first < 256; ++first)
    for (int second = 0; second < 256; ++second) {
      DownDecoder decoder;
      for (const auto& item : decoder.feed(std::string{static_cast<char>(first), static_cast<char>(second), '\n'}))
        if (const auto* act = std::get_if<Act>(&item)) {
          EXPECT_EQ(first + second, 255);
          EXPECT_NE(static_cast<int>(*act), 2);
        }
    }
}

TEST(Frame, AMegabyteWithoutAnEndIsOneBadLineAndNoMemory) {
  DownDecoder down;
  UpDecoder up;
  const std::string flood(1 << 20, 'x');
  EXPECT_TRUE(down.feed(flood).empty());
  EXPECT_TRUE(up.feed(flood).empty());
  const auto items = down.feed("\n" + down_line(2, "1:G0"));
  ASSERT_EQ(items.size(), 2u);
  EXPECT_TRUE(std::holds_alternative<UnreadableLine>(items[0]));
  EXPECT_EQ(std::get<DownLine>(items[1]).number, 2u);
  EXPECT_EQ(up.feed("\n" + up_line(R"({"done":1})")).size(), 1u);
  EXPECT_EQ(up.bad_lines(), 1u);
}

TEST(Frame, ALineUpReadsBackAndAWrongSumIsPassedOver) {
  UpDecoder decoder;
  const std::string line = up_line(R"({"done":17,"credits":4})");
  EXPECT_EQ(line, R"({"done":17,"credits":4,"sum":")" + checksum(R"({"done":17,"credits":4)") + "\"}\n");
  EXPECT_EQ(decoder.feed(line).at(0), R"({"done":17,"credits":4})");
  std::string wrong = line;
  wrong[9] = '9';
  EXPECT_TRUE(decoder.feed(wrong).empty());
  EXPECT_TRUE(decoder.feed("hello\r\n\r\n{}\n{\"sum\":\"\"}\n").empty());
  EXPECT_EQ(decoder.bad_lines(), 4u);
}

}  // namespace
}  // namespace ypsi::link
