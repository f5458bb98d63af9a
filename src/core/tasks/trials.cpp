#include "core/tasks/trials.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/book/machine_kinds.h"
#include "core/book/record.h"
#include "core/book/worksheets/trials.h"
#include "core/metrology/coverage.h"
#include "core/metrology/normal.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/put_by.h"

namespace ypsi {
namespace {

constexpr double tells_within = 2.25;  // sigmas: further off every look says the same
constexpr std::array kind_names{"pressure", "depth", "power"};

/// Levels of one question: through or not, marked or not.
std::vector<TriedLevel> tried(const TrialsWorksheet& sheet, bool backing) {
  std::vector<TriedLevel> all;
  for (const TrialLook& l : sheet.looks)
    if (!backing)
      all.push_back({l.level, l.through});
    else if (l.backing != Backing::not_looked)
      all.push_back({l.level, l.backing == Backing::marked});
  return all;
}

/// How many looks tell of a threshold: those about it.
std::ptrdiff_t telling(const std::optional<Threshold>& t, const std::vector<TriedLevel>& looks) {
  if (!t || !t->threshold) return 0;
  const double about = t->sigma ? tells_within * *t->sigma : 2 * t->U_threshold.value_or(0);
  return std::count_if(looks.begin(), looks.end(),
                       [&](const TriedLevel& l) { return std::fabs(l.level - *t->threshold) <= about; });
}

/// With U for as few looks as tell of it: sigma is told by them too, so k is that of t, as for any scatter.
Threshold from_looks(const std::vector<TriedLevel>& looks, double fraction) {
  Threshold t = *find_threshold(by_level(looks), fraction);
  if (t.method != ThresholdMethod::probit || !t.threshold || !t.sigma) return t;
  const int dof = std::max(2, static_cast<int>(telling(t, looks)) - 2);
  // What maximum likelihood makes of sigma is too small by as much, as where a sum of squares is divided by n.
  const double few = std::sqrt((dof + 2.0) / dof);
  const double k = few * student_t_quantile(0.975, dof) / normal_quantile(0.975);
  if (t.U_threshold) *t.U_threshold *= k;
  if (t.U_setting) *t.U_setting *= k;
  return t;
}

/// A level at which the fraction says yes; of a bracket its far end, seen to be so.
void take_end(const std::optional<Threshold>& t, bool upper, std::optional<double>& level, std::optional<double>& U) {
  if (!t) return;
  if (t->setting) {
    level = t->setting;
    U = t->U_setting;
  } else if (t->method == ThresholdMethod::bracket) {
    level = upper ? t->high : t->low;
    U = t->U_threshold;
  }
}

class TrialsTask final : public Task {
 public:
  TrialsTask() : Task(trials_id, "Trials", TaskGroup::references) {}
  bool applies_to(const MachineSetup& machine) const override {
    return engraves(machine) || std::any_of(machine.heads.begin(), machine.heads.end(), [](const Head& h) {
             return h.kind != HeadKind::spindle && h.kind != HeadKind::pointer;
           });
  }
  std::vector<Upstream> depends_on() const override { return {}; }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::trials}}; }
  Words summary(const Entry& e) const override {
    const auto f = finding_of<TrialEntry>(e);
    if (f.set && f.feed) return {{"power_speed", {f.material, SaidNumber{*f.set, 1}, SaidNumber{*f.feed, 0}}}};
    if (f.set && f.depth) return {{"depth_set", {f.material, SaidLength{*f.depth, 2}, SaidNumber{*f.set, 2}}}};
    if (f.low && f.high && *f.low < *f.high)
      return {{"trial_room", {f.material, SaidNumber{*f.low, 1}, SaidNumber{*f.high, 1}}}};
    if (f.low && f.high) return {{"trial_none", {f.material}}};
    if (f.low) return {{"trial_from", {f.material, SaidNumber{*f.low, 1}}}};
    return Task::summary(e);
  }
  Words overview(const Book& book) const override {
    const auto at = newest(book, id());
    return at ? summary(book.history[*at]) : Words{};
  }
  std::vector<CertifiedLine> certificate(const Book& book) const override {
    std::vector<CertifiedLine> all;
    std::set<std::string> seen;
    for (RecordWalk walk(book); walk.step();) {
      const Entry& e = walk.entry();
      if (e.sheet != id() || !walk.counts()) continue;
      const auto found = finding_of<TrialEntry>(e);
      if (found.feed || !seen.insert(e.subject).second) continue;
      if (found.mm_per_tick) {
        all.push_back({.code = "certified_depth",
                       .subject = e.subject,
                       .unit = CertifiedUnit::length,
                       .value = [](const Entry& of) { return finding_of<TrialEntry>(of).depth; },
                       .U = [](const Entry& of) { return finding_of<TrialEntry>(of).U_depth; }});
        continue;
      }
      all.push_back({.code = "certified_trial",
                     .subject = e.subject,
                     .unit = CertifiedUnit::gauge,
                     .value = [](const Entry& of) { return finding_of<TrialEntry>(of).through; },
                     .U = [](const Entry& of) { return finding_of<TrialEntry>(of).U_through; }});
      if (!found.backing) continue;
      all.push_back({.code = "certified_backing",
                     .subject = e.subject,
                     .unit = CertifiedUnit::gauge,
                     .value = [](const Entry& of) { return finding_of<TrialEntry>(of).backing; },
                     .U = [](const Entry& of) { return finding_of<TrialEntry>(of).U_backing; }});
    }
    return all;
  }
};

}  // namespace

bool has_nose(const Head& head) {
  return trial_kind(head.kind) == TrialKind::depth && head.gauge_low < head.gauge_high;
}

bool engraves(const MachineSetup& machine) {
  return machine.kind == engraver_kind || std::any_of(machine.heads.begin(), machine.heads.end(), has_nose);
}

TrialKind trial_kind(HeadKind head) {
  switch (head) {
    case HeadKind::spindle:
    case HeadKind::scribe:
      return TrialKind::depth;
    case HeadKind::beam:
    case HeadKind::pointer:
      return TrialKind::power;
    default:
      return TrialKind::pressure;
  }
}

std::string trial_subject(const TrialsWorksheet& s) {
  std::string subject = s.material;
  if (!s.head.empty()) subject += ", " + s.head;
  if (s.tool > 0) subject += fmt::format(", T{}", s.tool);
  return subject;
}

const Head* trial_head(const Book& book) {
  if (const Head* named = book.machine.head(book.worksheets[trials_worksheet].head)) return named;
  const auto& heads = book.machine.heads;
  const auto cutting = std::find_if(heads.begin(), heads.end(), [](const Head& h) {
    return has_nose(h) || (h.kind != HeadKind::spindle && h.kind != HeadKind::pointer);
  });
  return cutting != heads.end() ? &*cutting : heads.empty() ? nullptr : &heads.front();
}

void choose_trial(Book& book, const std::string& material, const std::string& head, int tool) {
  TrialsWorksheet& s = book.worksheets[trials_worksheet];
  if (const Head* now = trial_head(book); now && s.head.empty()) s.head = now->name;
  if (s.material.empty() && s.head == head) {  // what is under way gets its name
    name_material(book.job.materials, material);
    s.material = material;
    s.tool = tool;
    return;
  }
  TrialsWorksheet fresh;
  fresh.material = material;
  fresh.head = head;
  fresh.tool = tool;
  if (s.head == head) {
    fresh.low = s.low;
    fresh.high = s.high;
    fresh.step = s.step;
  }
  const std::string wanted = trial_subject(fresh);
  take_up(s, book.worksheets[trials_put_by], wanted, trial_subject, std::move(fresh));
}

std::optional<TrialRange> trial_range(const Book& book) {
  const TrialsWorksheet& s = book.worksheets[trials_worksheet];
  const Head* head = trial_head(book);
  TrialRange range{s.low, s.high, s.step};
  if (!(range.low < range.high) && head) range = {head->gauge_low, head->gauge_high, s.step};
  // A beam is never sent above what its owner allows.
  if (head && trial_kind(head->kind) == TrialKind::power) {
    range.upwards = true;
    if (head->cap > 0) range.high = std::min(range.high, head->cap);
  }
  if (!(range.low < range.high)) return std::nullopt;
  return range;
}

Result<TrialFinding> evaluate_trials(const Book& book) {
  const auto range = trial_range(book);
  if (!range) return fail("no_range", "Say between which levels to look: what the gauge can be set to.", "low");
  const TrialsWorksheet& s = book.worksheets[trials_worksheet];
  const auto through = tried(s, false), backing = tried(s, true);
  TrialFinding found;
  if (!through.empty()) found.through = from_looks(through, surely_through);
  if (!backing.empty()) found.backing = from_looks(backing, hardly_marked);
  take_end(found.through, true, found.low, found.U_low);
  take_end(found.backing, false, found.high, found.U_high);
  if (found.low && found.high) {
    const double room = *found.high - *found.low;
    const double unsure = std::hypot(found.U_low.value_or(0), found.U_high.value_or(0));
    found.verdict = room <= 0 ? TrialVerdict::no_room : room < unsure ? TrialVerdict::narrow : TrialVerdict::room;
    if (room > 0) found.set = (*found.low + *found.high) / 2;
  } else if (found.low) {
    found.verdict = TrialVerdict::from;
    found.set = *found.low + found.U_low.value_or(0);
  }
  if (found.set && range->step > 0)
    found.set = range->low + std::round((*found.set - range->low) / range->step) * range->step;
  // One cut answers both: it is made where what is known least is told most.
  found.next = next_trial(through, *range);
  const bool through_done = found.next.enough || found.next.at_end;
  if (!backing.empty() && (through_done || telling(found.backing, backing) < telling(found.through, through))) {
    const NextTrial other = next_trial(backing, *range);
    if (!(other.enough || other.at_end) || through_done) {
      found.next_about_backing = true;
      const bool both = through_done && (other.enough || other.at_end);
      found.next = other;
      found.next.enough = both;
    }
  }
  return found;
}

void keep_trials(Book& book, const TrialFinding& found, const std::string& time) {
  TrialsWorksheet& s = book.worksheets[trials_worksheet];
  const Head* head = trial_head(book);
  TrialEntry f{
      .material = s.material, .head = head ? head->name : "", .gauge = head ? head->gauge : "", .tool = s.tool};
  if (head) f.kind = kind_names[static_cast<std::size_t>(trial_kind(head->kind))];
  if (found.through) {
    f.through = found.through->threshold;
    f.U_through = found.through->U_threshold;
    f.sigma = found.through->sigma;
  }
  if (found.backing) {
    f.backing = found.backing->threshold;
    f.U_backing = found.backing->U_threshold;
  }
  f.low = found.low;
  f.U_low = found.U_low;
  f.high = found.high;
  f.U_high = found.U_high;
  f.set = found.set;
  f.looks = static_cast<double>(s.looks.size());
  if (const Tool* tool = book.tool(s.tool)) f.cut_m = tool->cut_m;
  Entry e;
  e.time = time;
  e.sheet = trials_id;
  s.head = f.head;
  e.subject = trial_subject(s);
  e.instrument = "eye";
  for (const TrialLook& l : s.looks) {
    nlohmann::json look{{"level", l.level}, {"through", l.through}};
    if (l.backing != Backing::not_looked) look["marked"] = l.backing == Backing::marked;
    e.readings.push_back(std::move(look));
  }
  e.result = result_of(f);
  const auto before = newest(book, trials_id, e.subject);
  const auto was = before ? finding_of<TrialEntry>(book.history[*before]).set : std::nullopt;
  e.as_found = {{"set", was ? nlohmann::json(*was) : nlohmann::json()}};
  e.as_left = {{"set", f.set ? nlohmann::json(*f.set) : nlohmann::json()}};
  s.looks.clear();
  book.history.push_back(std::move(e));
}

std::optional<TrialEntry> setting_for(const Book& book, const std::string& material, int tool) {
  for (RecordWalk walk(book); walk.step();) {
    if (walk.entry().sheet != trials_id || !walk.counts()) continue;
    auto f = finding_of<TrialEntry>(walk.entry());
    if (f.material == material && f.is_by_looks() && (tool == 0 || f.tool == tool)) return f;
  }
  return std::nullopt;
}

std::vector<KeptSetting> kept_settings(const Book& book) {
  std::vector<KeptSetting> all;
  if (book.job.stock_name.empty()) return all;
  for (RecordWalk walk(book); walk.step();) {
    if (walk.entry().sheet != trials_id || !walk.counts()) continue;
    const auto f = finding_of<TrialEntry>(walk.entry());
    // The least power that shows a dot says nothing of how to burn.
    const Head* head = book.machine.head(f.head);
    if (f.material != book.job.stock_name || !head || (head->kind == HeadKind::beam && !f.feed) || f.mm_per_tick)
      continue;
    if (std::any_of(all.begin(), all.end(), [&](const KeptSetting& k) { return k.head == f.head; })) continue;
    all.push_back({f.head, f.gauge, f.low, f.high, f.set, f.feed});
  }
  return all;
}

Result<Wear> wear_of(const Book& book, const TrialsWorksheet& sheet) {
  std::vector<WearPoint> points;
  std::optional<double> limit;
  const std::string subject = trial_subject(sheet);
  for (RecordWalk walk(book); walk.step();) {
    const Entry& e = walk.entry();
    if (e.sheet != trials_id || !walk.counts() || e.subject != subject) continue;
    const auto f = finding_of<TrialEntry>(e);
    if (!f.through || !f.U_through || !f.cut_m) continue;
    points.push_back({*f.cut_m, *f.through, std::max(*f.U_through, 1e-9)});
    if (!limit) limit = f.high;
  }
  if (!limit) {
    const Head* head = trial_head(book);
    limit = head ? head->gauge_high : 0;
  }
  return wear_line(points, *limit);
}

std::vector<std::string> known_materials(const Book& book) {
  std::vector<std::string> all;
  const auto take = [&all](const std::string& name) {
    if (!name.empty() && std::find(all.begin(), all.end(), name) == all.end()) all.push_back(name);
  };
  for (RecordWalk walk(book); walk.step();) {
    if (walk.entry().sheet != trials_id || !walk.counts()) continue;
    take(finding_of<TrialEntry>(walk.entry()).material);
  }
  for (const TrialsWorksheet& put_by : book.worksheets[trials_put_by]) take(put_by.material);
  for (const Material& m : book.job.materials) take(m.name);
  take(book.job.stock_name);
  return all;
}

const Task& trials_task() {
  static const TrialsTask task;
  return task;
}

}  // namespace ypsi
