// Heads and trials: where each head stands against the first by marks, and what cuts through.
#include <fmt/format.h>

#include <cmath>

#include "core/book/worksheets/heads.h"
#include "core/book/worksheets/marks.h"
#include "core/book/worksheets/trials.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/engraving.h"
#include "core/tasks/heads.h"
#include "core/tasks/trials.h"

namespace ypsi::rehearsal {
namespace {

constexpr double slack_taken_up_mm = 1, near_mm = 0.08;
constexpr int most_turns = 6, told_by_tries = 30, grooves = 12;
constexpr double beyond_cap = 1.4, usual_depth_mm = 0.2;
/// Of the travel, where the marks lie: at its corners and in its middle.
constexpr std::array<std::array<double, 2>, 5> mark_places{
    {{0.25, 0.25}, {0.75, 0.25}, {0.75, 0.75}, {0.25, 0.75}, {0.5, 0.5}}};

OverMark here(const Workshop& w) {
  const MachinePosition at = w.link.status().position;
  return {at.x, at.y};
}

/// Brings a head over a spot by eye. Slack is taken up from below: a little too far back, then up to it.
Result<OverMark> bring_over(Workshop& w, const std::string& head, const std::string& spot) {
  for (int turn = 0; turn < most_turns; ++turn) {
    const auto off = w.bench.head_from(head, spot);
    if (!off) return tl::make_unexpected(off.error());
    if (turn > 1 && std::fabs((*off)[0]) < near_mm && std::fabs((*off)[1]) < near_mm) break;
    for (const Axis a : {Axis::x, Axis::y}) {
      const double to = w.link.status().position[a] - (*off)[index(a)];
      for (const double back : {slack_taken_up_mm, 0.0})
        if (auto ok = w.go(a, to - back); !ok) return tl::make_unexpected(ok.error());
    }
  }
  return here(w);
}

/// Five marks, put down by what is in the collet, and both heads over each.
Result<void> mark_both(Workshop& w, const Head& first, const Head& head) {
  int n = 0;
  for (const auto& part : mark_places) {
    const auto within = [&](Axis a) { return w.low(a) + part[index(a)] * (w.high(a) - w.low(a)); };
    if (auto ok = w.go_over(within(Axis::x), within(Axis::y)); !ok) return ok;
    const std::string spot = fmt::format("{} {}", head.name, ++n);
    if (auto ok = w.bench.spot(spot); !ok) return ok;
    HeadMark mark;
    for (const auto& [name, over] : {std::pair{&first.name, &mark.first}, {&head.name, &mark.other}}) {
      const auto at = bring_over(w, *name, spot);
      if (!at) return tl::make_unexpected(at.error());
      *over = *at;
    }
    w.book.worksheets[heads_worksheet].marks.push_back(mark);
  }
  return {};
}

Result<HeadOffset> look_at_both(Workshop& w, const Head& first, const Head& head) {
  w.book.worksheets[heads_worksheet].marks.clear();
  if (auto ok = mark_both(w, first, head); !ok) return tl::make_unexpected(ok.error());
  return evaluate_head_place(w.book, false);
}

/// Grooves over the dial of a nose, measured: what a tick is, and what to set so that the cap is surely cut.
Verdict depth_by_nose(Work& work, const Head& head) {
  Workshop& w = work.w;
  choose_trial(w.book, rehearsed_material, head.name, 0);
  DepthSheet& sheet = w.book.worksheets[trials_worksheet].depth;
  const double cap = plate_material(w.book).cap_mm;
  sheet.wanted_mm = cap > 0 ? beyond_cap * cap : usual_depth_mm;
  sheet.grooves.clear();
  const auto by = finest_for(w.book.instruments, sheet.wanted_mm);
  if (!by) return fail("no_instrument", "Nothing here measures how deep a groove is.");
  sheet.instrument = by->name;
  for (int i = 0; i < grooves; ++i) {
    const double tick = head.gauge_low + (head.gauge_high - head.gauge_low) * (i + 1) / (grooves + 1);
    const auto read = w.bench.read_groove(std::round(tick), sheet.instrument);
    if (!read) return std::string();  // in the book, but not on the machine
    if (*read > 0) sheet.grooves.push_back({std::round(tick), *read});
  }
  const auto found = evaluate_engraving(w.book);
  if (!found) return tl::make_unexpected(found.error());
  if (found->margins.verdict != DepthVerdict::clears)
    work.r.problems.push_back(fmt::format("Trials: {:.2f} mm by the nose may miss the cap or the core; it is ±{:.3f}.",
                                          found->depth, found->U_next));
  keep_engraving(w.book, *found, {});
  return fmt::format("a tick of the nose is {:.4f} mm, zero at {:.1f}; {:.1f} for {:.2f} mm", found->ticks.mm_per_tick,
                     found->ticks.zero_tick, found->ticks.tick, found->depth);
}

}  // namespace

Verdict heads(Work& work) {
  Workshop& w = work.w;
  const std::vector<Head> all = w.book.machine.heads;
  std::string told;
  for (std::size_t i = 1; i < all.size(); ++i) {
    choose_head(w.book, all[i].name);
    // Of sound machines one look in forty is refused by chance: then it is taken anew.
    auto found = look_at_both(w, all.front(), all[i]);
    if (found && found->verdict != HeadVerdict::ok) found = look_at_both(w, all.front(), all[i]);
    if (!found) {
      if (found.error().code == "unknown_head") continue;  // in the book, but not on the carriage
      return tl::make_unexpected(found.error());
    }
    if (found->verdict != HeadVerdict::ok) {
      work.r.problems.push_back(
          fmt::format("Heads: the machine turns or stretches between the looks by the {} and the {}; its place is not "
                      "told.",
                      all.front().name, all[i].name));
      continue;
    }
    keep_head_place(w.book, *found, false, {});
    told += fmt::format("{}{} X {:.2f} Y {:.2f} ±{:.2f}", told.empty() ? "" : ", ", all[i].name, found->offset.real(),
                        found->offset.imag(), found->U);
  }
  return told;
}

Verdict trials(Work& work) {
  Workshop& w = work.w;
  std::string told;
  for (const Head& head : std::vector<Head>(w.book.machine.heads)) {
    if (has_nose(head)) {
      const auto depth = depth_by_nose(work, head);
      if (!depth) return depth;
      told += *depth;
      continue;
    }
    if (trial_kind(head.kind) != TrialKind::pressure || !(head.gauge_low < head.gauge_high)) continue;
    choose_trial(w.book, "stock", head.name, 0);
    for (int i = 0; i < told_by_tries; ++i) {
      const auto next = evaluate_trials(w.book);
      if (!next) return tl::make_unexpected(next.error());
      if (next->next.enough) break;
      const auto seen = w.bench.try_cut(head.name, next->next.level);
      if (!seen) break;  // in the book, but not on the carriage
      w.book.worksheets[trials_worksheet].looks.push_back(
          {next->next.level, seen->through, seen->marked ? Backing::marked : Backing::spared});
    }
    const auto found = evaluate_trials(w.book);
    if (!found || !found->low) continue;
    keep_trials(w.book, *found, {});
    told += fmt::format("{}{} from {:.1f}", told.empty() ? "" : ", ", head.name, *found->low);
    if (found->high) told += fmt::format(" to {:.1f}", *found->high);
  }
  return told;
}

}  // namespace ypsi::rehearsal
