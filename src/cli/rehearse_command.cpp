#include "cli/rehearse_command.h"

#include <fmt/format.h>

#include <cmath>

#include <nlohmann/json.hpp>

#include "cli/calc.h"
#include "cli/first_cut_json.h"
#include "core/book/book_json.h"
#include "core/rehearsal/counted_bench.h"
#include "core/rehearsal/parts.h"
#include "core/rehearsal/rehearsal.h"
#include "core/tasks/all_tasks.h"
#include "core/tasks/budget.h"
#include "standin/served_machine.h"
#include "standin/true_figures.h"
#include "standin/true_part.h"

namespace ypsi::cli {
namespace {

using nlohmann::json;

constexpr double mrad = 1000;

json angle(const std::optional<double>& rad) {
  return rad ? json(*rad * mrad) : json();
}

json to_json(const Rehearsal& r) {
  json out{{"axes", json::object()},
           {"skew_mrad", angle(r.skew)},
           {"U_skew_mrad", angle(r.U_skew)},
           {"homing", json::object()},
           {"plate", {{"thickness_mm", or_null(r.plate_thickness)}, {"U_thickness_mm", or_null(r.U_plate_thickness)}}},
           {"setter", nullptr},
           {"tools", json::array()},
           {"work_zero", nullptr},
           {"first_cut", nullptr},
           {"sheets", json::array()},
           {"problems", r.problems}};
  for (const Axis a : all_axes) {
    const RehearsedAxis& axis = r.axes[index(a)];
    const std::string key(1, letter(a));
    out["axes"][key] = {
        {"steps_per_mm", or_null(axis.steps_per_mm)},  {"U", or_null(axis.U_steps)},
        {"lost_motion_mm", or_null(axis.lost_motion)}, {"U_lost_motion_mm", or_null(axis.U_lost_motion)},
        {"soft_min_mm", or_null(axis.soft_min)},       {"soft_max_mm", or_null(axis.soft_max)},
        {"direction_reversed", axis.reversed}};
    out["homing"][key] = {{"s_mm", or_null(axis.homing_s)}};
  }
  if (r.setter) out["setter"] = {{"x_mm", r.setter->x}, {"y_mm", r.setter->y}, {"trigger_z_mm", r.setter->z}};
  for (const RehearsedTool& t : r.tools)
    out["tools"].push_back({{"number", t.number}, {"offset_mm", t.offset}, {"U_mm", or_null(t.U)}});
  if (r.work_zero) out["work_zero"] = {{"x_mm", r.work_zero->x}, {"y_mm", r.work_zero->y}, {"z_mm", r.work_zero->z}};
  if (r.first_cut) {
    out["first_cut"] = first_cut_json(*r.first_cut);
    out["first_cut"]["tool"] = r.cutter;
    out["first_cut"]["nominal_tool_diameter_mm"] = or_null(r.nominal_cutter);
    out["first_cut"]["largest_deviation_mm"] = r.worst_before;
    out["first_cut"]["largest_deviation_after_mm"] = r.worst_after;
  }
  for (const SheetVerdict& s : r.sheets) out["sheets"].push_back({{"name", s.sheet}, {"verdict", s.verdict}});
  return out;
}

std::string to_text(const Rehearsal& r) {
  std::string out;
  for (const SheetVerdict& s : r.sheets) out += fmt::format("{:<18} {}\n", s.sheet, s.verdict);
  for (const std::string& p : r.problems) out += fmt::format("! {}\n", p);
  return out + (r.completed ? "The order of work was completed.\n" : "The order of work was stopped.\n");
}

}  // namespace

Result<RehearsalReport> rehearse(std::string_view scenario, const std::string* book_text, bool by_part) {
  auto machine = standin::ServedMachine::from_scenario(scenario);
  if (!machine) return tl::make_unexpected(machine.error());
  std::optional<Book> book;
  if (book_text) {
    auto read = read_book(*book_text);
    if (!read) return tl::make_unexpected(read.error());
    book = std::move(read->book);
  }
  standin::ServedMachine& m = **machine;
  const auto wait = [&m](double seconds) { m.advance(seconds); };
  CountedBench bench(m.bench());
  Workshop workshop(m.link(), bench, wait, starting_book(m.link(), book ? &*book : nullptr, m.known()));
  // A person begins somewhere else at each machine: else what is unlucky of a choice would be so at all of them.
  workshop.random.seed(json::parse(scenario).value("seed", std::mt19937::result_type{1}));
  Rehearsal done = rehearse(workshop, by_part ? rehearsal_steps_by_part() : rehearsal_steps());
  json truth = json::array();
  for (const standin::TrueFigure& f : standin::true_figures(done, m)) {
    truth.push_back({{"figure", f.figure}, {"unit", f.unit}, {"told", f.told}, {"U", f.U}, {"true", f.truth}});
    if (f.far_off()) done.problems.insert(done.problems.begin(), standin::far_off_words(f));  // what stops it is last
  }
  json out = to_json(done);
  out["truth"] = std::move(truth);
  constexpr double minute_s = 60;
  const Effort& effort = bench.effort();
  out["effort"] = {{"readings", effort.readings},
                   {"moves", workshop.moves},
                   {"acts", effort.acts},
                   {"minutes", (effort.seconds + workshop.waited_s()) / minute_s}};
  const Budget budget = error_budget(done.book, done.cutter);
  const auto& square = budget.sizes.square;
  out["promised"] = {{"size_mm", or_null(budget.sizes.headline)},
                     {"square_mm", square ? json(std::fabs(square->bias) + square->U) : json()},
                     {"tolerance_mm", budget.tolerance},
                     {"good_enough", budget.good_enough()}};
  out["part"] = nullptr;
  if (done.completed) {
    const Tool* cutter = workshop.book.tool(m.link().status().tool);
    const auto part = standin::true_part(workshop, m, cutter ? cutter->diameter : 0);
    if (part)
      out["part"] = {
          {"side_mm", part->side}, {"worst_size_mm", part->worst_size}, {"worst_square_mm", part->worst_square}};
    else
      out["problems"].push_back("What a frame would be off by was not seen: " + part.error().message);
  }
  return RehearsalReport{out.dump(1, ' ', false, json::error_handler_t::replace), to_text(done), done.completed};
}

}  // namespace ypsi::cli
