// A table's test cut made on random tables that are wrong in every way at once, measured line by line, and read: each
// cause is told for itself, within the U that goes with it. The whole order of work against random tables.
#include <fmt/format.h>

#include "core/book/worksheets/cut.h"
#include "core/program/head_coupon.h"
#include "core/rehearsal/rehearsal.h"
#include "core/tasks/coupon_choice.h"
#include "core/tasks/cut_heads.h"
#include "standin/heads_fixture.h"
#include "standin/served_machine.h"
#include "standin/true_part.h"

namespace ypsi::standin {
namespace heads_test {
namespace {

#ifdef YPSI_SANITIZE
constexpr int cut_tables = 6, rehearsed_tables = 2;
#else
constexpr int cut_tables = 60, rehearsed_tables = 100;
#endif

class TableCut : public Heads {
 protected:
  /// The book has every head up to 0.6 mm beside where it is, and the knife's trailing offset up to 0.3 mm off.
  void believe_wrongly(Book& b, std::mt19937_64& random) {
    const auto between = [&](double low, double high) {
      return std::uniform_real_distribution<double>(low, high)(random);
    };
    off_.clear();
    for (std::size_t i = 1; i < b.machine.heads.size(); ++i) {
      const PhysicalHead& truth = machine_->scenario().heads[i];
      off_.push_back({between(-0.6, 0.6), between(-0.6, 0.6)});
      b.machine.heads[i].place = HeadPlace{counted(Axis::x, truth.offset_x) - off_.back().real(),
                                           counted(Axis::y, truth.offset_y) - off_.back().imag(), 0.1};
    }
    more_ = between(-0.3, 0.3);
    b.machine.heads[2].trailing_mm = machine_->scenario().heads[2].trailing - more_;
  }
  /// As far from the limits as the heads reach beside each other.
  void lay_piece(Book& b) {
    b.job.stock_size = {360, 280, 1};
    const MachinePosition zero{115, 60, -49};
    for (const Axis a : all_axes) {
      ASSERT_TRUE(link().set_setting(work_zero_setting(0, a), zero[a]));
      b.job.zero(a) = zero[a];
    }
  }
  /// What the controller counts for a way.
  double counted(Axis a, double way) const {
    const Scenario& s = machine_->scenario();
    return way * s.axes[index(a)].true_steps_per_mm / s.controller[index(a)].steps_per_mm;
  }
  /// The test cut of a table whose book is wrong about its heads, made and measured.
  void cut_and_measure(const Scenario& s, std::mt19937_64& random, Book& b) {
    start(s);
    home();
    b = book_of(s);
    believe_wrongly(b, random);
    lay_piece(b);
    const auto made = make_test_cut(b, CouponKind::heads, "digital scale");
    ASSERT_TRUE(made) << made.error().message;
    b.worksheets[cut_worksheet] = made->worksheet;
    ASSERT_NO_FATAL_FAILURE(run_text(made->coupon.text));
    const WorkZero zero = link().status().work_zero;
    for (CutSize& size : b.worksheets[cut_worksheet].sizes) {
      const auto read = bench().measure(*as_laid(size, zero), instrument_for(b.worksheets[cut_worksheet], size));
      ASSERT_TRUE(read) << size.name << ": " << read.error().message;
      size.measured_mm = *read;
    }
  }
  std::vector<PlanPoint> off_;  ///< by which the other heads' lines will lie beside where they are meant
  double more_ = 0;             ///< that the knife trails more than the book has it
};

Scenario wrong_table(std::mt19937_64& random) {
  Scenario s = random_table(random);
  const auto between = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  for (const Axis a : {Axis::x, Axis::y})
    s.controller[index(a)].steps_per_mm = s.axes[index(a)].true_steps_per_mm * (1 + between(-0.004, 0.004));
  s.skew = between(-0.003, 0.003);
  s.instruments["digital scale"] = {"digital scale", 0.01, 1, 0.01, 0, 1e-5};
  return s;
}

TEST_F(TableCut, TellsEveryCauseForItselfWithinItsU) {
  std::mt19937_64 random(2026);
  std::map<std::string, std::pair<int, int>> held;  // of how many
  const auto count = [&](const std::string& what, double error, double U) {
    held[what].first += std::fabs(error) <= U ? 1 : 0;
    ++held[what].second;
  };
  for (int m = 0; m < cut_tables; ++m) {
    Book b;
    ASSERT_NO_FATAL_FAILURE(cut_and_measure(wrong_table(random), random, b));
    EXPECT_EQ(b.worksheets[cut_worksheet].short_instrument, "caliper");
    const auto said = read_cut(b);
    ASSERT_TRUE(said) << said.error().message;
    ASSERT_TRUE(said->sizes && said->sizes->undetermined.empty());
    const Scenario& s = machine_->scenario();
    for (const CutCause& c : said->causes) {
      const std::size_t i = c.axis ? index(*c.axis) : 0;
      switch (c.kind) {
        case CutCauseKind::steps:
          count("scale", c.value - (s.controller[i].steps_per_mm / s.axes[i].true_steps_per_mm - 1), c.U);
          break;
        case CutCauseKind::lost_motion:
          count("lost motion", c.value - s.axes[i].lost_motion, c.U);
          break;
        case CutCauseKind::blade:
          count("blade", c.value, c.U);  // a wheel stands on its way
          break;
        case CutCauseKind::lean:
          count("lean", c.value - s.skew, c.U);
          break;
        case CutCauseKind::head_place: {
          const PlanPoint truth = off_[c.head == "pen" ? 0 : 1];
          count("place", c.off_x - truth.real(), c.U);
          count("place", c.off_y - truth.imag(), c.U);
          EXPECT_TRUE(c.significant || std::abs(truth) < 2 * c.U) << c.head << " " << truth;
          break;
        }
        case CutCauseKind::trailing:
          EXPECT_EQ(c.head, "knife");
          count("trailing", c.value - more_, c.U);
          break;
        default:
          ADD_FAILURE() << "no such cause at a table";
      }
    }
  }
  ASSERT_EQ(held.size(), 6u) << "scale, lost motion, blade, lean, place, trailing";
  for (const auto& [what, n] : held) {
    if (std::getenv("YPSI_TELL")) fmt::print("{}: {} of {}\n", what, n.first, n.second);
    EXPECT_GE(n.first, 0.9 * n.second) << what;
  }
}

/// A blade beside its path narrows the square that it leaves to its left and widens the other.
TEST_F(TableCut, ABladeBesideItsWayIsNoScaleAndNoLostMotion) {
  std::mt19937_64 random(7);
  Scenario s = random_table(random);
  s.heads[0].kind = HeadKind::turned_knife;
  s.heads[0].blade_left = 0.25;
  s.instruments["digital scale"] = {"digital scale", 0.01, 1, 0.01, 0, 1e-5};
  Book b;
  ASSERT_NO_FATAL_FAILURE(cut_and_measure(s, random, b));
  const auto said = read_cut(b);
  ASSERT_TRUE(said) << said.error().message;
  for (const CutCause& c : said->causes) {
    if (c.kind == CutCauseKind::blade) {
      EXPECT_NEAR(c.value, 0.25, c.U);
      EXPECT_TRUE(c.significant);
    }
    if (c.kind == CutCauseKind::steps) {
      EXPECT_LT(std::fabs(c.value), 2e-4);
    }
  }
}

/// A whole table as its owner gets it: metres long, wrong in scale, lean, slack and heads.
Scenario whole_table(std::mt19937_64& random) {
  const auto between = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  Scenario s = random_table(random);
  for (const Axis a : {Axis::x, Axis::y}) {
    s.axes[index(a)].stop_high = a == Axis::x ? 1600 : 2500;
    s.controller[index(a)].soft_max = s.axes[index(a)].stop_high - 15;
    s.controller[index(a)].steps_per_mm = s.axes[index(a)].true_steps_per_mm * (1 + between(-0.01, 0.01));
  }
  s.skew = between(-0.004, 0.004);
  s.rail_spacing = 1700;
  s.stock.size = {1100, 750, 4};
  s.stock.x = 120;
  s.stock.y = 150;
  s.tools = {{}};
  s.tools[0].number = 1;
  s.instruments["tape"] = {"tape", 1, 2, 0.3, 0.1, 1e-4};
  s.instruments["ruler"] = {"ruler", 0.5, 2, 0.15, 0, 5e-5};
  s.instruments["indicator"] = {"indicator", 0.001, 1, 0.002, 0, 0};
  s.instruments["digital scale"] = {"digital scale", 0.005, 1, 0.003, 0, 1e-5};
  for (auto& [name, i] : s.instruments) i.name = name;
  return s;
}

TEST(TableRehearsals, LeaveARightTableAndSayWhatTheyDoNotKnow) {
  std::mt19937_64 random(40);
  Tally places;
  int right = 0, done = 0;
  for (int m = 0; m < rehearsed_tables; ++m) {
    const Scenario s = whole_table(random);
    const auto machine = ServedMachine::from(s);
    ServedMachine& served = *machine;
    Workshop workshop(
        served.link(), served.bench(), [&](double t) { served.advance(t); },
        starting_book(served.link(), nullptr, served.known()));
    ASSERT_TRUE(cut_by_heads(workshop.book.machine)) << "the owner knows what hangs on the carriage";
    const Rehearsal r = rehearse(workshop, rehearsal_steps());
    ASSERT_TRUE(r.completed) << m << ": " << (r.problems.empty() ? "" : r.problems.back());
    ++done;
    for (std::size_t h = 1; h < s.heads.size(); ++h) {
      const auto& place = r.book.machine.heads[h].place;
      ASSERT_TRUE(place) << s.heads[h].name;
      places.take(std::fabs(place->x_mm - s.heads[h].offset_x), place->U_mm);
      places.take(std::fabs(place->y_mm - s.heads[h].offset_y), place->U_mm);
    }
    const Head& knife = r.book.machine.heads[2];
    ASSERT_TRUE(knife.trailing_mm) << "told by the test cut";
    EXPECT_NEAR(*knife.trailing_mm, s.heads[2].trailing, 0.1);
    const auto part = true_part(workshop, served, 0, 1000);
    ASSERT_TRUE(part) << part.error().message;
    EXPECT_EQ(part->side, 1000);
    right += part->worst_size <= 0.3 && part->worst_square <= 0.3 ? 1 : 0;
    if (std::getenv("YPSI_TELL"))
      fmt::print("{}: size {:.3f} square {:.3f} {}\n", m, part->worst_size, part->worst_square,
                 r.problems.empty() ? "" : r.problems.back());
  }
  EXPECT_GE(right, 0.95 * done);
  EXPECT_GE(places.share(), 0.93);
}

}  // namespace
}  // namespace heads_test
}  // namespace ypsi::standin
