// A bad line between the program and a described controller: an answer lost, doubled, late or garbled, a report in the
// middle of one. What was asked for is done, or it is said that it was not; nothing is believed that is not so.
#include <array>
#include <cmath>
#include <deque>

#include "lines_fixture.h"

namespace ypsi::link {
namespace {

/// What happens to lines that come up, one by one, whole.
class UpLines {
 public:
  using What = std::function<std::string(int number, const std::string& line)>;
  explicit UpLines(What what) : what_(std::move(what)) {}
  std::string operator()(const std::string& bytes) {
    std::string out;
    for (const char c : bytes) {
      partial_ += c;
      if (c != '\n') continue;
      out += what_(++count_, std::exchange(partial_, {}));
    }
    return out;
  }

 private:
  What what_;
  std::string partial_;
  int count_ = 0;
};

bool is_answer(const std::string& line) {
  return line == "so\n" || line == "took\n" || line == "ack\n";
}

/// The `n`th answer becomes something else.
std::function<std::string(std::string)> answer(int n, std::string becomes) {
  auto seen = std::make_shared<int>(0);
  return UpLines([seen, n, becomes = std::move(becomes)](int, const std::string& line) {
    return is_answer(line) && ++*seen == n ? becomes : line;
  });
}

const char* const there_and_back =
    "G90 G54\n"
    "M3 S5000\n"
    "G1 X40 Y30 F2400\n"
    "G1 X90\n"
    "G1 Y80\n"
    "G1 X40\n"
    "G1 Y30\n"
    "M5\n";

class FaultsByFace : public EachFace {
 protected:
  WorkPosition work() { return to_work(counted(), truth().controller().status().work_zero); }
  /// Runs it, and sees which of its corners the machine came to.
  void cut() {
    corners_ = {};
    EXPECT_TRUE(run_.start(*link_, there_and_back));
    constexpr std::array<std::array<double, 2>, 4> places{{{40, 30}, {90, 30}, {90, 80}, {40, 80}}};
    for (double t = 0; t < 200 && run_.state() == RunState::running; t += 0.01) {
      run_.tick();
      pass(0.01);
      for (std::size_t i = 0; i < places.size(); ++i)
        corners_[i] = corners_[i] || std::hypot(work().x - places[i][0], work().y - places[i][1]) < 1;
    }
  }
  /// The program came to its end and the machine to its place, or it was said that it did not and nothing goes on.
  void expect_honest() {
    const RunState ended = run_.state();
    if (ended == RunState::finished) {
      EXPECT_EQ(corners_, (std::array{true, true, true, true})) << "it says that it cut what it did not";
      EXPECT_NEAR(work().x, 40, 0.02);
      EXPECT_NEAR(work().y, 30, 0.02);
    } else {
      EXPECT_EQ(ended, RunState::failed);
      EXPECT_FALSE(run_.why().empty());
    }
    pass(5);
    const MachinePosition stood = counted();
    pass(5);
    EXPECT_EQ(counted(), stood) << "it went on by itself";
    for (const Axis a : all_axes) {
      if (!link_->status().homed[index(a)]) continue;
      EXPECT_NEAR(link_->status().position[a], stood[a], 0.02) << letter(a);
    }
    EXPECT_EQ(truth().controller().status().spindle_rpm, 0);
  }
  /// One after the other, each in a run of its own.
  void each_answer_becomes(const std::string& what) {
    for (int n = 1; n <= 8; ++n) {
      SCOPED_TRACE(n);
      start(GetParam());
      home();
      line_->up = answer(n, what);
      cut();
      line_->up = nullptr;
      expect_honest();
    }
  }
  std::array<bool, 4> corners_{};
};

INSTANTIATE_TEST_SUITE_P(Lines, FaultsByFace, ::testing::Values("bare", "asked", "telling"), face_name);

TEST_P(FaultsByFace, AnAnswerThatIsLost) {
  each_answer_becomes("");
}

TEST_P(FaultsByFace, AnAnswerThatComesTwice) {
  const std::string face = GetParam(), once = face == "bare" ? "so\n" : face == "asked" ? "took\n" : "ack\n";
  each_answer_becomes(once + once);
}

TEST_P(FaultsByFace, AnAnswerThatIsGarbled) {
  each_answer_becomes("t\xf0ok\n");
}

/// At any moment of the program, for a second.
TEST_P(FaultsByFace, ABufferThatIsFull) {
  for (const double at_s : {0.0, 0.2, 0.5, 1.0, 1.5, 2.5, 4.0}) {
    SCOPED_TRACE(at_s);
    start(GetParam());
    home();
    line_->up = [this, at = line_->now_s() + at_s, full = false](std::string bytes) mutable {
      if (!full && line_->now_s() >= at) {
        full = true;
        truth().break_down({0, standin::FaultKind::buffer_full, Axis::x, 0});
      }
      return bytes;
    };
    cut();
    line_->up = nullptr;
    expect_honest();
  }
}

/// Whatever came of the jog that was under way, the next one goes where it is told to.
TEST_P(FaultsByFace, ABufferThatIsFullWhileItJogs) {
  for (int hundredths = 0; hundredths < 40; ++hundredths) {
    SCOPED_TRACE(hundredths);
    start(GetParam());
    home();
    ASSERT_TRUE(link_->jog(Axis::x, 60, 3000));
    pass(hundredths * 0.01);
    truth().break_down({0, standin::FaultKind::buffer_full, Axis::x, 0});
    rest();
    // What is not taken now is taken in a moment.
    if (GetParam() == std::string("telling")) {
      EXPECT_FALSE(link_->status().refusal) << link_->status().refusal->message;
    }
    pass(2);
    if (!link_->status().all_homed()) home();
    const double from = counted().x;
    EXPECT_NEAR(link_->status().position.x, from, 0.02);
    jog(Axis::x, 30, 3000);
    EXPECT_NEAR(counted().x, from + 30, 0.02) << link_->status().message;
    EXPECT_NEAR(link_->status().position.x, from + 30, 0.02);
  }
}

/// One block was not taken, and what became of those behind it is not told, which move nothing: it is said, and all
/// goes on.
TEST_F(LinesTest, AnAnswerThatIsLostBehindOneWithoutRoom) {
  start("telling");
  home();
  int waits = 0;
  line_->up = UpLines(
      [&waits](int, const std::string& line) { return line == "wait\n" && ++waits == 2 ? std::string() : line; });
  truth().break_down({0, standin::FaultKind::buffer_full, Axis::x, 0});
  pass(0.02);
  (void)run("G90 G54\nG4 P0.1\nG4 P0.2\n", 60);
  line_->up = nullptr;
  ASSERT_GE(waits, 2);
  EXPECT_EQ(run_.state(), RunState::failed);
  EXPECT_FALSE(run_.why().empty());
  const double from = counted().x;
  jog(Axis::x, 30, 3000);
  EXPECT_NEAR(counted().x, from + 30, 0.02) << link_->status().message;
}

/// Let go of while it had no room: what waits is not moved afterwards.
TEST_F(LinesTest, AJogThatIsEndedWhileTheBufferIsFullIsNotMadeUpFor) {
  start("telling");
  home();
  ASSERT_TRUE(link_->jog(Axis::x, 100, 3000));
  pass(0.5);
  truth().break_down({0, standin::FaultKind::buffer_full, Axis::x, 0});
  pass(0.4);
  const double stood = counted().x;
  link_->end_jog();
  rest();
  pass(2);
  EXPECT_NEAR(counted().x, stood, 0.01);
  jog(Axis::x, 30, 3000);
  EXPECT_NEAR(counted().x, stood + 30, 0.02) << link_->status().message;
}

TEST_P(FaultsByFace, AnswersThatComeLate) {
  home();
  // Everything that comes up comes half a second late.
  auto held = std::make_shared<std::deque<std::pair<double, std::string>>>();
  line_->up = [held, this](std::string bytes) {
    if (!bytes.empty()) held->emplace_back(line_->now_s() + 0.5, std::move(bytes));
    std::string out;
    for (; !held->empty() && held->front().first <= line_->now_s(); held->pop_front()) out += held->front().second;
    return out;
  };
  EXPECT_EQ(run(there_and_back, 200), MachineState::ready) << run_.why();
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  EXPECT_NEAR(work().x, 40, 0.02);
  EXPECT_NEAR(work().y, 30, 0.02);
}

TEST_P(FaultsByFace, ALineThatIsLostOnItsWayDown) {
  for (int n = 1; n <= 7; ++n) {
    SCOPED_TRACE(n);
    start(GetParam());
    home();
    auto seen = std::make_shared<int>(0);
    line_->down = [seen, n](std::string bytes) {
      return bytes.starts_with('G') && ++*seen == n ? std::string() : bytes;
    };
    cut();
    line_->down = nullptr;
    expect_honest();
  }
}

TEST_P(FaultsByFace, NoiseForAWhile) {
  for (std::uint64_t seed = 1; seed <= 20; ++seed) {
    SCOPED_TRACE(seed);
    start(GetParam());
    home();
    Noise noise{0, 0, 4, 4, 4, std::mt19937_64(seed)};
    line_->up = noise;
    cut();
    line_->up = nullptr;
    expect_honest();
  }
}

TEST_P(FaultsByFace, ALineOfAMegabyteIsPassedOver) {
  home();
  line_->up =
      UpLines([](int n, const std::string& line) { return n == 2 ? std::string(1 << 20, 'x') + "\n" + line : line; });
  cut();
  line_->up = nullptr;
  expect_honest();
}

/// The controller keeps what it heard of a line and says that it is at work.
TEST_F(LinesTest, HalfALineThatNoiseLeftEndsAJogAndIsTakenBack) {
  start("asked");
  home();
  const MachinePosition before = counted();
  line_->down = [](std::string bytes) {
    std::erase(bytes, '\n');
    return bytes;
  };
  ASSERT_TRUE(link_->jog(Axis::x, 30, 3000));
  pass(2);
  line_->down = nullptr;
  EXPECT_EQ(link_->status().state, MachineState::moving) << "as it says";
  pass(10);
  EXPECT_EQ(link_->status().state, MachineState::ready);
  ASSERT_TRUE(link_->status().refusal);
  EXPECT_EQ(link_->status().refusal->code, "no_answer");
  EXPECT_EQ(counted(), before) << "what was left of the line is not done later";
  jog(Axis::x, 30, 3000);
  EXPECT_NEAR(counted().x, before.x + 30, 0.02);
}

class AReportInTheMiddle : public LinesTest, public ::testing::WithParamInterface<const char*> {};
INSTANTIATE_TEST_SUITE_P(Lines, AReportInTheMiddle, ::testing::Values("asked", "telling"), face_name);

TEST_P(AReportInTheMiddle, OfAnAnswerIsReadAndTheAnswerToo) {
  start(GetParam());
  home();
  auto last_report = std::make_shared<std::string>();
  int cut = 0;
  line_->up = UpLines([last_report, &cut](int, const std::string& line) {
    if (!is_answer(line)) return *last_report = line, line;
    ++cut;
    const std::string report = last_report->empty() ? "" : last_report->substr(0, last_report->size() - 1);
    // Half of the answers are cut in two lines by it, half hold it in the middle of one.
    return line.substr(0, 2) + report + (cut % 2 == 0 ? "\n" : "") + line.substr(2);
  });
  EXPECT_EQ(run(there_and_back, 200), MachineState::ready) << run_.why();
  EXPECT_EQ(run_.state(), RunState::finished) << run_.why();
  EXPECT_GE(cut, 8);
}

}  // namespace
}  // namespace ypsi::link
