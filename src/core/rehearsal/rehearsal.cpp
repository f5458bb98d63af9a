#include "core/rehearsal/rehearsal.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/program/head_coupon.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace rehearsal {
namespace {

Entry entry_of(const Work& work, const char* task, std::string subject, RecordJson finding) {
  Entry entry;
  // No day of a calendar: so many seconds after the work began.
  const auto s = static_cast<long long>(work.w.waited_s());
  constexpr long long day = 86400, hour = 3600, minute = 60;
  entry.time =
      fmt::format("2000-01-{:02}T{:02}:{:02}:{:02}Z", 1 + s / day, s % day / hour, s % hour / minute, s % minute);
  entry.sheet = task;
  entry.subject = std::move(subject);
  entry.result = std::move(finding);
  return entry;
}

}  // namespace

void keep(Work& work, const char* task, std::string subject, RecordJson finding) {
  work.w.book.history.push_back(entry_of(work, task, std::move(subject), std::move(finding)));
}

void keep_steps(Work& work, Axis axis, RecordJson finding, double found, double left) {
  Entry entry = entry_of(work, steps_per_unit_id, std::string(1, letter(axis)), std::move(finding));
  entry.as_found = {{axis_setting(axis, "steps_per_mm"), found}};
  entry.as_left = {{axis_setting(axis, "steps_per_mm"), left}};
  work.w.book.history.push_back(std::move(entry));
}

}  // namespace rehearsal

Book starting_book(const MachineLink& link, const Book* book, const OwnerKnows& known) {
  Book out = book ? *book : Book{};
  for (const Axis a : all_axes) {
    AxisSetup& axis = out.machine.axis(a);
    const auto take = [&](const char* what, double& value) {
      value = link.setting(axis_setting(a, what)).value_or(value);
    };
    take("steps_per_mm", axis.steps_per_mm);
    take("max_rate_mm_min", axis.max_rate);
    take("accel_mm_s2", axis.acceleration);
    take("home_coordinate_mm", axis.home_coordinate);
    axis.home_at_max = link.setting(axis_setting(a, "home_at_max")).value_or(axis.home_at_max ? 1 : 0) != 0;
    axis.soft_min = link.setting(axis_setting(a, "soft_min_mm")).value_or(0);
    axis.soft_max = link.setting(axis_setting(a, "soft_max_mm")).value_or(0);
  }
  if (out.machine.arming.empty()) out.machine.arming = known.arming;
  if (out.machine.emergency_stops.empty()) out.machine.emergency_stops = known.emergency_stops;
  if (out.machine.vacuum.zones.empty()) out.machine.vacuum = known.vacuum;
  // Instruments are those at the bench; a book's own words about one of them go before its data sheet.
  std::vector<Instrument> instruments;
  for (const Instrument& i : known.instruments)
    instruments.push_back(out.instrument(i.name) ? *out.instrument(i.name) : i);
  out.instruments = std::move(instruments);
  for (const Tool& t : known.tools)
    if (!out.tool(t.number)) out.tools.push_back(t);
  std::erase_if(out.tools, [&](const Tool& t) {
    return std::none_of(known.tools.begin(), known.tools.end(), [&](const Tool& k) { return k.number == t.number; });
  });
  if (out.plates.empty() && known.plate) out.plates.push_back(*known.plate);
  if (!out.machine.rail_spacing && known.rail_spacing > 0) out.machine.rail_spacing = known.rail_spacing;
  if (out.machine.heads.empty() && !known.heads.empty()) {
    out.machine.heads = known.heads;
    if (cut_by_heads(out.machine)) out.machine.kind = "cutting_table";
  }
  // Work zeros, clamps and queues of another day mean nothing here.
  const Job before = out.job;
  out.job = Job{};
  out.job.part_width = before.part_width;
  out.job.part_height = before.part_height;
  out.job.part_tolerance = before.part_tolerance;
  if (known.cap_mm > 0)
    out.job.materials = {{.name = rehearsal::rehearsed_material, .cap_mm = known.cap_mm, .total_mm = known.plate_mm}};
  return out;
}

Rehearsal rehearse(Workshop& w, const std::vector<rehearsal::Step>& steps) {
  rehearsal::Work work{.w = w};
  for (const Axis a : all_axes) work.first_steps[index(a)] = w.setting(a, "steps_per_mm");
  Rehearsal& r = work.r;
  if (w.book.instruments.empty() || w.book.tools.empty()) {
    r.sheets.push_back({"Build", "stopped: nothing to measure or to cut with"});
    r.problems.push_back("Build: there are no instruments or no tools; name what is at hand.");
    return r;
  }
  r.sheets.push_back(
      {"Build", fmt::format("{} instruments, {} tools", w.book.instruments.size(), w.book.tools.size())});
  for (const rehearsal::Step& step : steps) {
    const auto verdict = step.run(work);
    if (!verdict) {
      r.sheets.push_back({step.title, "stopped: " + verdict.error().code});
      const std::string why = w.link.status().message;  // the controller's own word for it, where it has one
      const std::string& said = verdict.error().message;
      r.problems.push_back(fmt::format("{}: {}{}", step.title, said, why.empty() || why == said ? "" : " " + why));
      w.link.end_jog();
      w.link.stop();
      break;
    }
    if (step.told && !verdict->empty()) r.sheets.push_back({step.title, *verdict});
  }
  r.completed = !r.sheets.back().verdict.starts_with("stopped");
  r.book = w.book;
  return r;
}

}  // namespace ypsi
