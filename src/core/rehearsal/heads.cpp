// Heads and trials: where each head stands against the first by marks, and what cuts through.
#include <fmt/format.h>

#include <cmath>

#include "core/rehearsal/parts.h"
#include "core/tasks/heads.h"
#include "core/tasks/trials.h"

namespace ypsi::rehearsal {
namespace {

constexpr double slack_taken_up_mm = 1, near_mm = 0.08;
constexpr int most_turns = 6, told_by_tries = 30;
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
    w.book.heads_worksheet.marks.push_back(mark);
  }
  return {};
}

Result<HeadOffset> look_at_both(Workshop& w, const Head& first, const Head& head) {
  w.book.heads_worksheet.marks.clear();
  if (auto ok = mark_both(w, first, head); !ok) return tl::make_unexpected(ok.error());
  return evaluate_head_place(w.book, false);
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
    if (trial_kind(head.kind) != TrialKind::pressure || !(head.gauge_low < head.gauge_high)) continue;
    choose_trial(w.book, "stock", head.name, 0);
    for (int i = 0; i < told_by_tries; ++i) {
      const auto next = evaluate_trials(w.book);
      if (!next) return tl::make_unexpected(next.error());
      if (next->next.enough) break;
      const auto seen = w.bench.try_cut(head.name, next->next.level);
      if (!seen) break;  // in the book, but not on the carriage
      w.book.trials_worksheet.looks.push_back(
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
