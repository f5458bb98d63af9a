#include "core/book/readings_csv.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>
#include <set>

#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/positioning.h"
#include "core/calibration/scale.h"
#include "core/units/csv.h"
#include "core/units/length.h"

namespace ypsi {
namespace {

constexpr std::size_t named_at_most = 4;

/// What cannot be used, line by line, gathered before the table is refused.
class Problems {
 public:
  void add(std::size_t line, const std::string& why) {
    if (count_++ == 0) where_ = fmt::format("line {}", line);
    if (count_ <= named_at_most) text_ += fmt::format("Line {}: {} ", line, why);
  }
  bool any() const { return count_ > 0; }
  tl::unexpected<Error> error() const {
    const std::string more =
        count_ > named_at_most ? fmt::format("{} more lines are like that. ", count_ - named_at_most) : "";
    return fail("bad_rows", text_ + more + "Nothing was taken; mend the table and read it again.", where_);
  }

 private:
  std::size_t count_ = 0;
  std::string text_, where_;
};

/// As programs write numbers, exponents included; then as people do, with a unit or as a sum.
std::optional<double> number_of(const std::string& field) {
  std::string plain = field;
  std::replace(plain.begin(), plain.end(), ',', '.');
  double value = 0;
  const char* end = plain.data() + plain.size();
  if (const auto read = std::from_chars(plain.data(), end, value);
      read.ec == std::errc() && read.ptr == end && std::isfinite(value))
    return value;
  if (const auto typed = parse_length(field)) return *typed;
  return std::nullopt;
}

std::optional<double> number_in(const CsvRow& row, std::size_t column, Problems& problems) {
  if (column >= row.fields.size() || row.fields[column].empty()) {
    problems.add(row.line, fmt::format("column {} is empty.", column + 1));
    return std::nullopt;
  }
  if (const auto value = number_of(row.fields[column])) return value;
  problems.add(row.line, fmt::format("“{}” is not a number.", row.fields[column]));
  return std::nullopt;
}

/// The rows without their heading, which is a first row that holds no number.
Result<std::vector<CsvRow>> rows_of(std::string_view text) {
  auto rows = read_csv(text);
  if (!rows) return rows;
  if (!rows->empty() && std::none_of(rows->front().fields.begin(), rows->front().fields.end(), number_of))
    rows->erase(rows->begin());
  if (rows->empty()) return fail("no_rows", "There is no reading in this table; choose another file.");
  return rows;
}

}  // namespace

Result<std::vector<ScaleReading>> scale_readings_from_csv(std::string_view text) {
  const auto rows = rows_of(text);
  if (!rows) return tl::make_unexpected(rows.error());
  std::vector<ScaleReading> readings;
  Problems problems;
  for (const auto& row : *rows) {
    const auto told = number_in(row, 0, problems), measured = number_in(row, 1, problems);
    if (!told || !measured) continue;
    if (*told == 0 || *measured == 0) problems.add(row.line, "a length of zero tells nothing.");
    const std::string approach = row.fields.size() > 2 ? row.fields[2] : "";
    if (!approach.empty() && approach != "same" && approach != "reversed")
      problems.add(row.line, fmt::format("“{}” is no approach; write same or reversed.", approach));
    readings.push_back({*told, *measured, approach == "reversed"});
  }
  if (problems.any()) return problems.error();
  return readings;
}

std::string scale_readings_to_csv(const std::vector<ScaleReading>& readings) {
  std::string text = csv_line({"told", "measured", "approach"});
  for (const auto& r : readings)
    text += csv_line({csv_number(r.commanded), csv_number(r.measured), r.reversed ? "reversed" : "same"});
  return text;
}

Result<std::vector<TurnAt>> turns_from_csv(std::string_view text) {
  const auto rows = rows_of(text);
  if (!rows) return tl::make_unexpected(rows.error());
  std::vector<TurnAt> turns;
  Problems problems;
  for (const auto& row : *rows) {
    const auto place = number_in(row, 0, problems), plus = number_in(row, 1, problems),
               minus = number_in(row, 2, problems);
    if (place && plus && minus) turns.push_back({*place, {*minus, *plus}});
  }
  if (problems.any()) return problems.error();
  return turns;
}

std::string turns_to_csv(const std::vector<TurnAt>& turns) {
  std::string text = csv_line({"place_mm", "arriving_plus_mm", "arriving_minus_mm"});
  for (const auto& t : turns)
    text += csv_line({csv_number(t.place), csv_number(t.reading.arriving_plus), csv_number(t.reading.arriving_minus)});
  return text;
}

Result<PositioningReadings> positioning_from_csv(std::string_view text) {
  const auto rows = rows_of(text);
  if (!rows) return tl::make_unexpected(rows.error());
  Problems problems;
  std::set<double> targets;
  struct Run {
    bool plus = true;
    std::map<double, double> at;
  };
  std::map<double, Run> runs;  // by number, in their order
  for (const auto& row : *rows) {
    const auto run = number_in(row, 0, problems);
    const std::string way = row.fields.size() > 1 ? row.fields[1] : "";
    const bool plus = way == "+", minus = way == "-" || way == "−";
    if (!plus && !minus) problems.add(row.line, fmt::format("“{}” is no direction; write + or -.", way));
    const auto target = number_in(row, 2, problems), deviation = number_in(row, 3, problems);
    if (!run || !(plus || minus) || !target || !deviation) continue;
    auto& into = runs.try_emplace(*run, Run{plus, {}}).first->second;
    if (into.plus != plus) problems.add(row.line, fmt::format("run {:g} goes the other way elsewhere.", *run));
    if (!into.at.emplace(*target, *deviation).second)
      problems.add(row.line, fmt::format("run {:g} meets {:g} twice.", *run, *target));
    targets.insert(*target);
  }
  if (problems.any()) return problems.error();
  PositioningReadings readings{{targets.begin(), targets.end()}, {}};
  for (const auto& [number, run] : runs) {
    PositioningRun one{run.plus, {}};
    for (const double t : targets) {
      const auto found = run.at.find(t);
      if (found == run.at.end())
        return fail("out_of_range",
                    fmt::format("Run {:g} has no reading at {:g} mm, where others have one. Nothing was taken; add it, "
                                "or leave the target out everywhere.",
                                number, t),
                    fmt::format("run {:g}", number));
      one.deviations.push_back(found->second);
    }
    readings.runs.push_back(std::move(one));
  }
  return readings;
}

std::string positioning_to_csv(const PositioningReadings& readings) {
  std::string text = csv_line({"run", "direction", "target_mm", "deviation_mm"});
  for (std::size_t r = 0; r < readings.runs.size(); ++r)
    for (std::size_t i = 0; i < readings.targets.size() && i < readings.runs[r].deviations.size(); ++i)
      text += csv_line({std::to_string(r + 1), readings.runs[r].plus ? "+" : "-", csv_number(readings.targets[i]),
                        csv_number(readings.runs[r].deviations[i])});
  return text;
}

Result<std::vector<Tool>> tools_from_csv(std::string_view text) {
  const auto rows = read_csv(text);
  if (!rows) return tl::make_unexpected(rows.error());
  std::vector<Tool> tools;
  Problems problems;
  std::set<int> numbers;
  for (std::size_t r = 0; r < rows->size(); ++r) {
    const CsvRow& row = (*rows)[r];
    if (r == 0 && !row.fields.empty() && !number_of(row.fields[0])) continue;  // the heading
    Tool t;
    const auto number = number_in(row, 0, problems), diameter = number_in(row, 3, problems);
    if (!number || !diameter) continue;
    if (*number < 1 || *number > 65535 || *number != std::floor(*number))
      problems.add(row.line, "a tool's number is a whole number from 1 to 65535.");
    else if (!numbers.insert(static_cast<int>(*number)).second)
      problems.add(row.line, fmt::format("tool {:g} stands twice.", *number));
    if (*diameter < 0) problems.add(row.line, "a diameter is not below zero.");
    const auto optional = [&](std::size_t column) {
      if (column >= row.fields.size() || row.fields[column].empty()) return 0.0;
      const auto value = number_in(row, column, problems);
      if (value && *value < 0) problems.add(row.line, fmt::format("column {} is below zero.", column + 1));
      return value.value_or(0);
    };
    t.number = static_cast<int>(*number);
    t.name = row.fields[1];
    t.kind = row.fields[2];
    t.diameter = *diameter;
    t.angle = optional(4);
    t.tip = optional(5);
    t.flutes = static_cast<int>(optional(6));
    t.length_out = optional(7);
    t.slot = static_cast<int>(optional(8));
    t.max_plunge = optional(11);
    t.edge_length = optional(12);
    tools.push_back(std::move(t));
  }
  if (problems.any()) return problems.error();
  if (tools.empty()) return fail("no_rows", "There is no tool in this table.");
  return tools;
}

std::string tools_to_csv(const std::vector<Tool>& tools) {
  std::string text =
      csv_line({"number", "name", "kind", "diameter_mm", "angle_deg", "tip_mm", "flutes", "length_out_mm", "slot",
                "offset_mm", "U_offset_mm", "max_plunge_mm_min", "edge_length_mm"});
  for (const auto& t : tools)
    text += csv_line({std::to_string(t.number), t.name, t.kind, csv_number(t.diameter), csv_number(t.angle),
                      csv_number(t.tip), std::to_string(t.flutes), csv_number(t.length_out), std::to_string(t.slot),
                      t.offset ? csv_number(*t.offset) : "", t.U_offset ? csv_number(*t.U_offset) : "",
                      csv_number(t.max_plunge), csv_number(t.edge_length)});
  return text;
}

}  // namespace ypsi
