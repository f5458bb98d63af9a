#include "core/program/beam_grid.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/program/stroke_digits.h"

namespace ypsi {
namespace {

constexpr double beside_mm = 2, row_of_digits_ratio = 1.6;  // of a digit's height, from row to row
constexpr double finest_apart_mm = 0.02, widest_square_mm = 100;

std::string level_words(double level) {
  return fmt::format("{:.4g}", level);
}
std::string feed_words(double feed) {
  return fmt::format("{:.0f}", feed);
}

}  // namespace

double grid_pitch_x(const BeamGrid& grid) {
  std::size_t longest = 1;
  for (const double p : grid.powers) longest = std::max(longest, level_words(p).size());
  for (const double f : grid.feeds) longest = std::max(longest, feed_words(f).size());
  return grid.side + beside_mm + grid_digit_mm * digit_pitch_ratio * static_cast<double>(longest) + beside_mm;
}

double grid_pitch_y(const BeamGrid& grid) {
  return std::max(grid.side, grid_digit_mm * (1 + row_of_digits_ratio)) + beside_mm;
}

Result<HeadProgram> beam_grid_program(const Book& book, const BeamGrid& grid, const HeadLinesSetting& setting) {
  if (grid.powers.empty() || grid.feeds.empty())
    return fail("too_few", "A grid needs a power and a speed at least.", "powers");
  if (std::max(grid.powers.size(), grid.feeds.size()) > most_grid_levels)
    return fail("too_many", fmt::format("A grid has {} powers and speeds at most.", most_grid_levels), "powers");
  if (!(grid.side > 0) || grid.side > widest_square_mm || !(grid.apart >= finest_apart_mm) || grid.apart > grid.side)
    return fail("out_of_range",
                fmt::format("A square is up to {:g} mm wide, its lines at least {:g} mm apart.", widest_square_mm,
                            finest_apart_mm),
                "side");
  for (const double p : grid.powers)
    if (!(p > 0)) return fail("out_of_range", "A power must be above zero.", "powers");
  std::vector<HeadLine> lines;
  const auto line = [&](PlanPoint from, PlanPoint to, double power, double feed) {
    lines.push_back({.head = grid.head,
                     .x0 = from.real(),
                     .y0 = from.imag(),
                     .x1 = to.real(),
                     .y1 = to.imag(),
                     .level = power,
                     .feed = feed});
  };
  const double pitch_x = grid_pitch_x(grid), pitch_y = grid_pitch_y(grid);
  const double write_power = grid.powers[grid.powers.size() / 2], write_feed = grid.feeds.back();
  const auto corner = [&](std::size_t column, std::size_t row) {
    return PlanPoint(grid.x + pitch_x * static_cast<double>(column), grid.y + pitch_y * static_cast<double>(row));
  };
  for (std::size_t row = 0; row < grid.feeds.size(); ++row)
    for (std::size_t column = 0; column < grid.powers.size(); ++column) {
      const PlanPoint beside = corner(column, row) + PlanPoint(grid.side + beside_mm, 0);
      for (const StrokeLine& s : stroke_digits(feed_words(grid.feeds[row]), beside, grid_digit_mm))
        line(s.from, s.to, write_power, write_feed);
      for (const StrokeLine& s :
           stroke_digits(level_words(grid.powers[column]), beside + PlanPoint(0, grid_digit_mm * row_of_digits_ratio),
                         grid_digit_mm))
        line(s.from, s.to, write_power, write_feed);
    }
  // By what each heats: power over speed.
  std::vector<std::pair<std::size_t, std::size_t>> squares;
  for (std::size_t row = 0; row < grid.feeds.size(); ++row)
    for (std::size_t column = 0; column < grid.powers.size(); ++column) squares.emplace_back(column, row);
  std::stable_sort(squares.begin(), squares.end(), [&](const auto& a, const auto& b) {
    return grid.powers[a.first] / grid.feeds[a.second] < grid.powers[b.first] / grid.feeds[b.second];
  });
  for (const auto& [column, row] : squares) {
    const PlanPoint at = corner(column, row);
    const int count = static_cast<int>(std::floor(grid.side / grid.apart + 1e-9));
    for (int i = 0; i <= count; ++i) {
      const PlanPoint left = at + PlanPoint(0, grid.apart * i), right = left + grid.side;
      line(i % 2 == 0 ? left : right, i % 2 == 0 ? right : left, grid.powers[column], grid.feeds[row]);
    }
  }
  return head_lines_program(book, lines, setting);
}

}  // namespace ypsi
