#include "cli/check_command.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <nlohmann/json.hpp>

#include "cli/judging.h"
#include "core/book/book_json.h"
#include "core/motion/machine_kinematics.h"
#include "core/program/checks.h"
#include "core/program/read_setting.h"

namespace ypsi::cli {
namespace {

using nlohmann::json;

json to_json(const WorkPosition& p) {
  return {p.x, p.y, p.z};
}

/// The machine's place of a tip: where the machine is when the tool with which Z zero was set has its tip there.
json machine_place(const WorkPosition& tip, const Book& book) {
  if (!book.job.has_zero()) return nullptr;
  json out = json::array();
  for (const Axis a : all_axes) out.push_back(tip[a] + *book.job.zero(a));
  return out;
}

json to_json(const Finding& f, const Book& book) {
  json out{{"code", f.code}, {"weight", name(f.weight)}, {"message", f.message}};
  if (f.line > 0) out["line"] = f.line;
  if (f.at) {
    out["work_mm"] = to_json(*f.at);
    out["machine_mm"] = machine_place(*f.at, book);
  }
  return out;
}

json to_json(const Extents& e, const Book& book) {
  if (e.empty()) return nullptr;
  return {{"low_mm", to_json(e.low)},
          {"high_mm", to_json(e.high)},
          {"machine_low_mm", machine_place(e.low, book)},
          {"machine_high_mm", machine_place(e.high, book)}};
}

/// Each tool that moves, in order of its first line, with the time it takes.
json tools_of(const Program& program, const CheckSetting& setting, const Book& book) {
  struct Use {
    std::uint32_t line = 0, cuts = 0;
    double time_s = 0;
  };
  std::map<int, Use> uses;
  double before = 0;
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const Motion& m = program.motions[i];
    Use& use = uses[program.tool_of(i, setting.tool)];
    if (use.line == 0) use.line = m.line;
    if (is_cut(m)) ++use.cuts;
    use.time_s += static_cast<double>(setting.end_s[i]) - before;
    before = static_cast<double>(setting.end_s[i]);
  }
  std::vector<std::pair<int, Use>> in_order(uses.begin(), uses.end());
  std::sort(in_order.begin(), in_order.end(),
            [](const auto& a, const auto& b) { return a.second.line < b.second.line; });
  json all = json::array();
  for (const auto& [number, use] : in_order) {
    const Tool* tool = book.tool(number);
    all.push_back({{"number", number},
                   {"diameter_mm", tool && tool->diameter > 0 ? json(tool->diameter) : json()},
                   {"first_line", use.line},
                   {"cutting_moves", use.cuts},
                   {"time_s", use.time_s}});
  }
  return all;
}

}  // namespace

int check(std::string_view program_text, const std::string& file_name, std::string_view book_text, bool as_json,
          std::ostream& out) {
  const auto read = read_book(book_text);
  if (!read) return refuse(read.error(), as_json, out);
  const Book& book = read->book;
  const auto program = read_program(program_text, read_setting(book));
  if (!program) return refuse(program.error(), as_json, out);
  TimeEstimate time = estimate_time(*program, kinematics_of(book.machine));
  CheckSetting setting = judging(book, std::move(time.end_s), file_name);
  setting.unit = as_json ? LengthUnit::millimetre : book.unit();
  const Judgement judged = judge_program(*program, book, setting);
  const auto& findings = judged.findings;
  const std::size_t stops = count(findings, Weight::stops), warns = count(findings, Weight::warns);
  if (as_json) {
    json all = json::array();
    for (const Finding& f : findings) all.push_back(to_json(f, book));
    json whole{{"findings", std::move(all)},
               {"stops", stops},
               {"warns", warns},
               {"lines", program->lines},
               {"motions", program->motions.size()},
               {"time_s", time.total_s},
               {"cutting_s", time.cutting_s},
               {"extents", {{"tip", to_json(judged.tip, book)}, {"cut", to_json(judged.cut, book)}}},
               {"tools", tools_of(*program, setting, book)},
               {"clearance", nullptr}};
    if (const auto& c = judged.clearance)
      whole["clearance"] = {
          {"distance_mm", c->distance}, {"clamp", c->clamp}, {"line", c->line}, {"work_mm", to_json(c->at)}};
    json passed = json::array();
    for (const PassedOver& p : program->passed_over)
      passed.push_back({{"what", p.what}, {"line", p.line}, {"times", p.times}});
    whole["passed_over"] = std::move(passed);
    out << whole.dump(1, ' ', false, json::error_handler_t::replace) << "\n";
  } else {
    for (const Finding& f : findings)
      out << fmt::format("{:<8}", name(f.weight)) << (f.line > 0 ? fmt::format("line {}: ", f.line) : "") << f.message
          << "\n";
    out << (stops + warns == 0 ? std::string("Nothing stands against it.")
                               : fmt::format("{} that stop, {} that warn.", stops, warns))
        << "\n";
  }
  return stops + warns == 0 ? 0 : 1;
}

}  // namespace ypsi::cli
