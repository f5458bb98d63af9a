#include "core/tasks/power_speed.h"

#include <algorithm>
#include <cmath>

#include "core/book/record.h"
#include "core/book/worksheets/trials.h"

namespace ypsi {
namespace {

constexpr double free_edge_mm = 4;  // of the stock, that is left free
constexpr const char* power_speed_kind = "power_speed";

std::vector<double> evenly(double low, double high, int count) {
  std::vector<double> all(static_cast<std::size_t>(count), high);
  for (int i = 0; i + 1 < count; ++i) all[static_cast<std::size_t>(i)] = low + (high - low) * i / (count - 1);
  return all;
}

/// Speeds by equal ratios: what a beam does goes by power over speed.
std::vector<double> by_ratio(double low, double high, int count) {
  std::vector<double> all = evenly(std::log(low), std::log(high), count);
  for (double& v : all) v = std::round(std::exp(v));
  return all;
}

std::optional<std::size_t> place_in(const std::vector<double>& levels, double level) {
  for (std::size_t i = 0; i < levels.size(); ++i)
    if (std::fabs(levels[i] - level) <= 1e-9 * std::max(1.0, std::fabs(level))) return i;
  return std::nullopt;
}

}  // namespace

Result<BeamGrid> planned_grid(const Book& book) {
  const Head* beam = trial_head(book);
  if (!beam || beam->kind != HeadKind::beam)
    return fail("no_beam", "Choose a beam among the heads; power and speed are its own.", "head");
  const BeamGridSheet& s = book.worksheets[trials_worksheet].grid;
  if (!(s.power_low > 0) || !(s.power_high >= s.power_low) || !(s.feed_low_mm_min > 0) ||
      !(s.feed_high_mm_min >= s.feed_low_mm_min))
    return fail("no_range", "Say from which to which power and speed to burn, both above zero.", "power_low");
  BeamGrid grid;
  grid.head = static_cast<std::size_t>(beam - book.machine.heads.data());
  const auto levels = [](int wanted) { return std::clamp(wanted, 1, static_cast<int>(most_grid_levels)); };
  grid.powers = evenly(s.power_low, s.power_high, levels(s.powers));
  grid.feeds = by_ratio(s.feed_low_mm_min, s.feed_high_mm_min, levels(s.feeds));
  grid.x = book.job.stock_corner[0] + free_edge_mm;
  grid.y = book.job.stock_corner[1] + free_edge_mm;
  return grid;
}

int wanted_around(const BeamGrid& grid, const std::vector<BeamSetting>& wanted, const BeamSetting& square) {
  const auto column = place_in(grid.powers, square.power), row = place_in(grid.feeds, square.feed_mm_min);
  if (!column || !row) return 0;
  return static_cast<int>(std::count_if(wanted.begin(), wanted.end(), [&](const BeamSetting& w) {
    const auto c = place_in(grid.powers, w.power), r = place_in(grid.feeds, w.feed_mm_min);
    if (!c || !r || (*c == *column && *r == *row)) return false;
    const auto near = [](std::size_t a, std::size_t b) { return a > b ? a - b <= 1 : b - a <= 1; };
    return near(*c, *column) && near(*r, *row);
  }));
}

std::optional<BeamSetting> most_room(const BeamGrid& grid, const std::vector<BeamSetting>& wanted) {
  std::optional<BeamSetting> best;
  int most = -1;
  for (const BeamSetting& w : wanted) {
    if (!place_in(grid.powers, w.power) || !place_in(grid.feeds, w.feed_mm_min)) continue;
    const int around = wanted_around(grid, wanted, w);
    if (around < most || (around == most && w.feed_mm_min <= best->feed_mm_min)) continue;
    most = around;
    best = w;
  }
  return best;
}

void keep_power_speed(Book& book, const BeamSetting& chosen, const std::string& time) {
  TrialsWorksheet& s = book.worksheets[trials_worksheet];
  const Head* beam = trial_head(book);
  TrialEntry f{.material = s.material, .head = beam ? beam->name : "", .kind = power_speed_kind};
  if (beam) f.gauge = beam->gauge;
  f.tool = s.tool;
  f.set = chosen.power;
  f.feed = chosen.feed_mm_min;
  f.looks = static_cast<double>(s.grid.wanted.size());
  Entry e;
  e.time = time;
  e.sheet = trials_id;
  s.head = f.head;
  e.subject = trial_subject(s) + ", power and speed";
  e.instrument = "eye";
  for (const BeamSetting& w : s.grid.wanted)
    e.readings.push_back({{"power", w.power}, {"feed_mm_min", w.feed_mm_min}, {"wanted", true}});
  const auto was = power_speed_for(book, s.material);
  const auto said = [](const std::optional<BeamSetting>& of) {
    return nlohmann::json{{"power", of ? nlohmann::json(of->power) : nlohmann::json()},
                          {"feed_mm_min", of ? nlohmann::json(of->feed_mm_min) : nlohmann::json()}};
  };
  e.result = result_of(f);
  e.as_found = said(was);
  e.as_left = said(chosen);
  s.grid.wanted.clear();
  book.history.push_back(std::move(e));
}

std::optional<BeamSetting> power_speed_for(const Book& book, const std::string& material) {
  for (RecordWalk walk(book); walk.step();) {
    if (walk.entry().sheet != trials_id || !walk.counts()) continue;
    const auto f = finding_of<TrialEntry>(walk.entry());
    if (f.material == material && f.set && f.feed) return BeamSetting{*f.set, *f.feed};
  }
  return std::nullopt;
}

}  // namespace ypsi
