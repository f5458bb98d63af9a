// The description of the book, once for reading, writing, schema and conversion: what one of them forgets, another
// remembers.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <map>
#include <random>
#include <sstream>

#include "core/book/book_description.h"
#include "core/book/book_json.h"
#include "core/book/changes.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/book/worksheets/squareness.h"
#include "core/calibration/positioning.h"
#include "core/calibration/squareness.h"

namespace ypsi {
namespace {

std::string text_of(const std::string& path) {
  std::ifstream file(path);
  std::stringstream text;
  text << file.rdbuf();
  return text.str();
}

/// Every described value by its place, as a word; `fills`: random ones are put there first.
class Everything {
 public:
  static constexpr bool fills = true, carries = false, shows_all = false;
  explicit Everything(std::mt19937* random = nullptr) : random_(random) {}
  std::map<std::string, std::string> values;
  std::map<std::string, std::pair<Axis, double>> counted;  ///< machine coordinates
  std::map<std::string, Axis> ways;

  void number(const char* key, double& v, NumberRange range = any_number, Written = Written::always) {
    if (random_) v = drawn(range);
    tell(key, v);
  }
  void number(const char* key, std::optional<double>& v, NumberRange range = any_number) {
    if (random_) v = yes() ? std::optional(drawn(range)) : std::nullopt;
    if (v) tell(key, *v);
  }
  void count(const char* key, int& v, Written = Written::always) { count(key, v, 0, 999); }
  void count(const char* key, int& v, int least, int most, Written = Written::always) {
    if (random_) v = std::uniform_int_distribution<int>(least, most)(*random_);
    tell(key, v);
  }
  void count(const char* key, std::size_t& v) {
    if (random_) v = 0;  // the only mark that is there whatever was drawn
    tell(key, static_cast<double>(v));
  }
  void flag(const char* key, bool& v, Written = Written::always) {
    if (random_) v = yes();
    tell(key, v);
  }
  void text(const char* key, std::string& v, Written = Written::always) {
    if (random_) v = fmt::format("é\"{}", (*random_)());
    values[path_ + key] = v;
  }
  void texts(const char* key, std::vector<std::string>& v, Written = Written::always) {
    if (random_) v.assign(1 + size(), "");
    for (std::size_t i = 0; i < v.size(); ++i) text(item(key, i).c_str(), v[i]);
  }
  void numbers(const char* key, std::vector<double>& v) {
    if (random_) v.assign(1 + size(), 0);
    for (std::size_t i = 0; i < v.size(); ++i) number(item(key, i).c_str(), v[i]);
  }
  template <std::size_t N>
  void numbers(const char* key, std::array<double, N>& v, Written = Written::always) {
    for (std::size_t i = 0; i < N; ++i) number(item(key, i).c_str(), v[i]);
  }
  template <std::size_t N>
  void numbers(const char* key, std::optional<std::array<double, N>>& v) {
    if (random_ && yes()) v.emplace();
    if (v) numbers(key, *v);
  }
  void number_lists(const char* key, std::array<std::vector<double>, axis_count>& v) {
    for (std::size_t i = 0; i < axis_count; ++i) numbers(item(key, i).c_str(), v[i]);
  }
  void place(const char* key, Coordinate& v, Axis axis) {
    number(key, v.mm);
    counted[path_ + key] = {axis, v.mm};
  }
  void place(const char* key, std::optional<Coordinate>& v, Axis axis) {
    std::optional<double> mm = v;
    number(key, mm);
    v = mm;
    if (v) counted[path_ + key] = {axis, v->mm};
  }
  void places(const char* key, std::vector<Coordinate>& v, Axis axis) {
    if (random_) v.assign(1 + size(), 0);
    for (std::size_t i = 0; i < v.size(); ++i) place(item(key, i).c_str(), v[i], axis);
  }
  void way(const char* key, CountedLength& v, Axis axis, NumberRange range = any_number) {
    number(key, v.mm, range);
    ways[path_ + key] = axis;
  }
  bool point(const char* key, MachinePosition& v) {
    for (const Axis a : all_axes) {
      Coordinate at = v[a];
      place(item(key, index(a)).c_str(), at, a);
      v[a] = at;
    }
    return false;
  }
  template <class E, std::size_t N>
  void choice(const char* key, E& v, const std::array<std::pair<E, const char*>, N>& words) {
    if (random_) v = words[(*random_)() % N].first;
    for (const auto& [value, word] : words)
      if (value == v) values[path_ + key] = word;
  }
  template <class T, class... Rest>
  void object(const char* key, T& v, Rest...) {
    within(key, [&] { describe(*this, v); });
  }
  template <class T>
  void maybe(const char* key, std::optional<T>& v) {
    if (random_ && yes()) v.emplace();
    if (v) object(key, *v);
  }
  template <class T>
  void list(const char* key, std::vector<T>& v, Written = Written::always) {
    if (random_) v.resize(1 + size());
    for (std::size_t i = 0; i < v.size(); ++i) object(item(key, i).c_str(), v[i]);
  }
  template <class T>
  void list(const char* key, std::vector<T>& v, Axis axis) {
    if (random_) v.resize(1 + size());
    for (std::size_t i = 0; i < v.size(); ++i) within(item(key, i).c_str(), [&] { describe(*this, v[i], axis); });
  }
  template <class T, class How>
  void for_each_axis(const char* key, std::array<T, axis_count>& v, How how, Written = Written::always) {
    for (const Axis a : all_axes) within(item(key, index(a)).c_str(), [&] { how(*this, v[index(a)], a); });
  }
  template <class T>
  void list_for_each_axis(const char* key, std::array<std::vector<T>, axis_count>& v) {
    for (const Axis a : all_axes) list(item(key, index(a)).c_str(), v[index(a)], a);
  }
  template <class T, std::size_t N>
  void rest_of(const char* key, std::array<T, N>& v, std::size_t first) {
    for (std::size_t i = first; i < N; ++i) object(item(key, i).c_str(), v[i]);
  }
  void unknown(nlohmann::json& v) {
    if (random_) v = {{"from_tomorrow", (*random_)()}};
    values[path_ + "?"] = v.is_object() ? v.dump() : "{}";
  }
  void refuse_item(const char*, std::size_t, const char*, const char*) {}

 private:
  template <class Do>
  void within(const char* key, Do what) {
    const std::string before = path_;
    path_ += std::string(key) + ".";
    what();
    path_ = before;
  }
  static std::string item(const char* key, std::size_t i) { return fmt::format("{}[{}]", key, i); }
  void tell(const char* key, double v) { values[path_ + key] = fmt::format("{}", v); }
  bool yes() { return (*random_)() % 2 == 0; }
  std::size_t size() { return (*random_)() % 3; }
  double drawn(NumberRange range) {
    std::uniform_real_distribution<double> d(std::isfinite(range.least) ? range.least + 1e-6 : -500.0,
                                             std::min(range.most, 900.0));
    return d(*random_);
  }
  std::mt19937* random_;
  std::string path_;
};

Book drawn(unsigned seed) {
  std::mt19937 random(seed);
  Everything fill(&random);
  Book book;
  describe(fill, book);
  return book;
}

Everything told(Book book) {
  Everything all;
  describe(all, book);
  return all;
}

TEST(Description, RandomBooksComeBackFieldByField) {
  std::size_t fields = 0;
  for (unsigned seed = 0; seed < 60; ++seed) {
    const Book book = drawn(seed);
    const auto back = read_book(write_book(book));
    ASSERT_TRUE(back) << back.error().message;
    const auto before = told(book).values, after = told(back->book).values;
    for (const auto& [place, value] : before) {
      const auto found = after.find(place);
      ASSERT_NE(found, after.end()) << place << ", seed " << seed;
      EXPECT_EQ(found->second, value) << place << ", seed " << seed;
    }
    EXPECT_EQ(before.size(), after.size());
    fields += before.size();
  }
  EXPECT_GT(fields, 60U * 300);
}

TEST(Description, TheShippedSchemaIsTheGeneratedOne) {
  EXPECT_EQ(text_of(YPSI_TEST_DATA "/../../schema/book.schema.json"), book_schema())
      << "ypsilo book schema > schema/book.schema.json";
}

// Worked by hand: 80 steps become 64, so every place is a quarter further from the home coordinate.
TEST(Description, AChangeOfStepsCarriesEveryPlaceOfItsAxisAndNoOther) {
  for (unsigned seed = 0; seed < 20; ++seed) {
    Book book = drawn(seed);
    book.rack.slot_count = 4;
    book.machine.axis(Axis::y).steps_per_mm = 80;
    book.machine.axis(Axis::y).home_coordinate = 100;
    const Everything before = told(book);
    ASSERT_TRUE(change_steps_per_mm(book, Axis::y, 64));
    const Everything after = told(book);
    int carried = 0;
    for (const auto& [place, value] : before.values) {
      const auto& now = after.values.at(place);
      const auto counted = before.counted.find(place);
      if (counted != before.counted.end() && counted->second.first == Axis::y) {
        EXPECT_NEAR(std::stod(now) - 100, (counted->second.second - 100) * 1.25, 1e-9) << place;
        ++carried;
      } else if (const auto way = before.ways.find(place); way != before.ways.end() && way->second == Axis::y) {
        EXPECT_NEAR(std::stod(now), std::stod(value) * 1.25, 1e-9) << place;
        ++carried;
      } else if (place.find("deviation_mm") == std::string::npos && place != "machine.axes[1].steps_per_mm" &&
                 !place.ends_with("carried_over")) {
        EXPECT_EQ(now, value) << place;
      }
    }
    EXPECT_GT(carried, 12);
  }
}

// The axis stood 0.1 mm beyond 60: at 60.1. By 64 steps instead of 80 that target is 100 - 40 * 1.25 = 50.
TEST(Description, WhereAnAxisStoodInAPositioningTestIsTheSamePlaceAfterAChangeOfSteps) {
  Book book;
  book.machine.axis(Axis::y).steps_per_mm = 80;
  book.machine.axis(Axis::y).home_coordinate = 100;
  book.worksheets[positioning_worksheets][index(Axis::y)] = {{20, 60}, {{true, {0.3, 0.1}}, {false, {0.2}}}};
  book.worksheets[positioning_worksheets][index(Axis::x)] = {{20, 60}, {{true, {0.3, 0.1}}}};
  ASSERT_TRUE(change_steps_per_mm(book, Axis::y, 64));
  const PositioningReadings& y = book.worksheets[positioning_worksheets][index(Axis::y)];
  EXPECT_DOUBLE_EQ(y.targets[0], 0);
  EXPECT_DOUBLE_EQ(y.targets[1], 50);
  EXPECT_NEAR(y.runs[0].deviations[0], 20.3, 1e-12);
  EXPECT_NEAR(y.runs[0].deviations[1], 10.1, 1e-12);
  EXPECT_NEAR(y.runs[1].deviations[0], 10.2, 1e-12);
  EXPECT_EQ(book.worksheets[positioning_worksheets][index(Axis::x)].runs[0].deviations[1], 0.1);
}

// Marks that were put down before keep their places, so that distances between them are judged against them.
TEST(Description, MarksOfASquareAreCarriedOver) {
  Book book;
  book.machine.axis(Axis::x).steps_per_mm = 80;
  book.worksheets[square_worksheet] =
      SquareWorksheet{{{"A", {100, 50}}, {"B", {700, 50}}}, {{0, 1, 604, HoleEdge::center, 0}}, "", {}};
  ASSERT_TRUE(change_steps_per_mm(book, Axis::x, 79.47));
  EXPECT_NEAR(book.worksheets[square_worksheet]->points[1].commanded.x -
                  book.worksheets[square_worksheet]->points[0].commanded.x,
              600 * 80 / 79.47, 1e-9);
  EXPECT_EQ(book.worksheets[square_worksheet]->points[1].commanded.y, 50);
}

TEST(Description, BooksWrittenBeforeOpenAsTheyAre) {
  for (const char* name : {"first_day", "oriel", "every_sheet"}) {
    const std::string text = text_of(std::string(YPSI_TEST_DATA "/books/") + name + ".ypsi");
    const auto read = read_book(text);
    ASSERT_TRUE(read) << name << ": " << read.error().message;
    // Whatever the file says is said again; what it leaves out may be added.
    const auto before = nlohmann::json::parse(text), after = nlohmann::json::parse(write_book(read->book));
    const auto flat_before = before.flatten(), flat_after = after.flatten();
    for (const auto& [place, value] : flat_before.items()) {
      if (value.is_null()) continue;
      ASSERT_TRUE(flat_after.contains(place)) << name << " " << place;
      EXPECT_EQ(flat_after.at(place), value) << name << " " << place;
    }
  }
}

TEST(Description, DamageIsNamedByItsPlace) {
  auto book = nlohmann::json::parse(text_of(YPSI_TEST_DATA "/books/every_sheet.ypsi"));
  const auto where = [&](const char* pointer, const nlohmann::json& value) {
    auto damaged = book;
    damaged[nlohmann::json::json_pointer(pointer)] = value;
    const auto read = read_book(damaged.dump());
    return read ? std::string("read") : read.error().where;
  };
  EXPECT_EQ(where("/job/clamps/0/width_mm", 0), "job.clamps[0].width_mm");
  EXPECT_EQ(where("/machine/axes/Y/home_end", "left"), "machine.axes.Y.home_end");
  EXPECT_EQ(where("/worksheets/measure_cut/sizes/1/kind", 4), "worksheets.measure_cut.sizes[1].kind");
  EXPECT_EQ(where("/tools/0/number", 1.5), "tools[0].number");
  EXPECT_EQ(where("/worksheets/homing/readings_mm", {1, 2, 3}), "worksheets.homing.readings_mm");
  EXPECT_EQ(where("/machine/spindle/controlled", "yes"), "machine.spindle.controlled");
  EXPECT_EQ(where("/setter/reference_trigger_mm/0", "low"), "setter.reference_trigger_mm[0]");
}

}  // namespace
}  // namespace ypsi
