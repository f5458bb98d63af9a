// What a program does with heads: a beam that is on where it must not be, and what is set beside what was tried.
#include "core/program/checks/checker.h"
#include "core/program/own_blocks.h"

namespace ypsi {

namespace {
constexpr double longest_shine_s = 2;
}

/// A beam burns wherever it is on: it must not be on while the machine goes by rapids, waits for somebody, changes a
/// tool, or is done; and never above what its owner allows.
void Checker::beams() {
  const auto& heads = book_.machine.heads;
  for (std::size_t h = 0; h < heads.size(); ++h) {
    const Head& beam = heads[h];
    if (beam.kind != HeadKind::beam) continue;
    const Event* on = nullptr;
    std::set<std::string> told;
    const auto tell = [&](const char* code, Weight weight, std::string message, std::uint32_t line) {
      if (told.insert(code).second) add(code, weight, std::move(message), line);
    };
    // Of what comes before motion `until`, rapids made with it on.
    std::size_t at = 0;
    const auto go_to = [&](std::size_t until) {
      for (; at < until; ++at)
        if (on && program_.motions[at].kind == MotionKind::rapid)
          tell("beam_on_rapid", Weight::stops,
               fmt::format("The {} is on while the machine goes by rapids: it burns a line that is not in the drawing. "
                           "Switch it off before.",
                           beam.name),
               program_.motions[at].line);
    };
    for (const Event& e : program_.events) {
      go_to(e.before);
      if (e.kind == EventKind::head_act && own_act_of(e).head == static_cast<int>(h)) {
        const HeadAct act = own_act_of(e).act;
        if (act == HeadAct::off) on = nullptr;
        if (act != HeadAct::on) continue;
        on = &e;
        if (e.level && above_cap(beam, *e.level))
          tell("beam_over_cap", Weight::stops,
               fmt::format("The {} is switched on at {:g}, and {:g} is the most that it may have (Build, Heads).",
                           beam.name, *e.level, beam.cap),
               e.line);
        if (beam.cap > 0 && !e.level)
          tell("beam_not_capped", Weight::warns,
               fmt::format("The block that switches the {} on does not say its power, so that nobody holds it below "
                           "the {:g} that it may have: have its power in that block ({{level}}; Build, Heads).",
                           beam.name, beam.cap),
               e.line);
        if (!(beam.cap > 0))
          tell("beam_no_cap", Weight::warns,
               fmt::format("The most that the {} may ever have is not said (Build, Heads); nothing is capped.",
                           beam.name),
               e.line);
      } else if (on && (e.kind == EventKind::stop || e.kind == EventKind::optional_stop ||
                        e.kind == EventKind::tool_change)) {
        tell("beam_on_pause", Weight::stops,
             fmt::format("The program waits here while the {} is on. Switch it off before.", beam.name), e.line);
        on = nullptr;
      } else if (on && e.kind == EventKind::dwell && e.value > longest_shine_s) {
        tell("beam_stands", Weight::warns,
             fmt::format("The {} stands at one place for {} while it is on: that can set the stock on fire.", beam.name,
                         format_duration(e.value)),
             e.line);
      }
    }
    go_to(program_.motions.size());
    if (on)
      tell(
          "beam_left_on", Weight::stops,
          fmt::format("The program ends with the {} switched on (line {}). Switch it off before.", beam.name, on->line),
          on->line);
  }
}

/// What the program sets a head to, beside what was tried with this material.
void Checker::kept_settings() {
  const auto& heads = book_.machine.heads;
  const std::string& material = book_.job.stock_name;
  for (const KeptSetting& kept : setting_.kept) {
    const Event* bare_block = nullptr;
    bool told = false;
    for (const Event& e : program_.events) {
      if (e.kind != EventKind::head_act) continue;
      const OwnAct own = own_act_of(e);
      const auto which = static_cast<std::size_t>(own.head);
      if (which >= heads.size() || heads[which].name != kept.head) continue;
      if (own.act != HeadAct::lower && own.act != HeadAct::on) continue;
      if (!e.level && !bare_block) bare_block = &e;
      if (!e.level || told) continue;
      const bool low = kept.low && *e.level < *kept.low, high = kept.high && *e.level > *kept.high;
      if (!low && !high) continue;
      told = true;
      add("setting_differs", Weight::warns,
          low ? fmt::format("The {} is set to {:g} {} here, and {} was only cut through from {:.4g} on (Trials).",
                            kept.head, *e.level, kept.gauge, material, *kept.low)
              : fmt::format("The {} is set to {:g} {} here, and what lies below {} is marked from {:.4g} on (Trials).",
                            kept.head, *e.level, kept.gauge, material, *kept.high),
          e.line);
    }
    if (bare_block && kept.set)
      add("setting_said", Weight::informs,
          kept.feed
              ? fmt::format("For {} the {} is wanted at {:.4g} {} and {:.0f} mm/min (Trials).", material, kept.head,
                            *kept.set, kept.gauge, *kept.feed)
              : fmt::format("Set the {} to {:.4g} {} for {} (Trials).", kept.head, *kept.set, kept.gauge, material),
          bare_block->line);
  }
}

}  // namespace ypsi
