// What happens between moves, how a program begins and ends, and what of it was passed over.
#include "core/program/checks/checker.h"
#include "core/program/read_setting.h"

namespace ypsi {

namespace {
constexpr double long_dwell_s = 60;
}

/// G28 and G30 where the book does not know the place. Up to where Z begins is harmless, and so is the way across from
/// there: that is where homing left it. Across lower down it is anybody's guess.
void Checker::references() {
  std::uint32_t line = 0;
  double word = 0;
  bool low = false;
  for (const Event& e : program_.events) {
    if (e.kind != EventKind::reference || reference_place(book_, static_cast<int>(e.value)) || low) continue;
    for (std::size_t i = e.before; i < program_.motions.size() && program_.motions[i].line == e.line; ++i) {
      const Way w = way(i);
      low = low || w.to.z < w.from.z || ((w.from.x != w.to.x || w.from.y != w.to.y) && w.from.z <= tallest_);
    }
    if (low || line == 0) {
      line = e.line;
      word = e.value;
    }
  }
  if (line > 0)
    add("reference_unknown", low ? Weight::warns : Weight::informs,
        fmt::format(
            "G{:.0f} goes to a place that the controller keeps and the book does not know; the end of the travel "
            "at home is taken for it. Keep a place named G{:.0f} on the sheet Work zero.",
            word, word),
        line);
}

/// A program of ours that is not what its drawing would give now.
void Checker::made_of() {
  const auto& now = setting_.rests_on_now;
  const auto then = now ? rests_on(program_) : std::nullopt;
  if (!then || then->drawing != now->drawing) return;
  const bool drawn = !now->drawing_sum.empty() && now->drawing_sum != then->drawing_sum;
  if (drawn || now->acts_sum != then->acts_sum)
    add("out_of_date", Weight::warns,
        fmt::format("This program was made of “{}” as {} before; something was changed since. Write it anew on the "
                    "sheet where the drawing is.",
                    then->drawing, drawn ? "it was drawn" : "its layers, heads and tools were"),
        0);
}

void Checker::acts() {
  bool dwell_told = false, reverse_told = false;
  std::size_t known = first_known();
  for (const Event& e : program_.events) {
    if (e.kind == EventKind::dwell && e.value >= long_dwell_s && !dwell_told) {
      dwell_told = true;
      add("dwell_long", Weight::warns,
          fmt::format("It waits {} here. G4 P counts seconds; if {:g} ms were meant, write P{:g}.",
                      format_duration(e.value), e.value, e.value / 1000),
          e.line);
    }
    if (e.kind == EventKind::spindle_on && e.value < 0 && !reverse_told) {
      reverse_told = true;
      add("counter_clockwise", Weight::warns,
          "M4 turns the spindle counter-clockwise, in which a usual cutter rubs and does not cut. Was M3 meant?",
          e.line);
    }
    const bool change = e.kind == EventKind::tool_change,
               waits = e.kind == EventKind::stop || e.kind == EventKind::optional_stop;
    if ((!change && !waits) || !has_stock_ || e.before == 0 || e.before < known) continue;
    const Way before = way(e.before - 1);
    const auto& corner = book_.job.stock_corner;
    const auto& size = book_.job.stock_size;
    const double r = before.hangs.radius;
    const bool over = before.to.x > corner[0] - r && before.to.x < corner[0] + size[0] + r &&
                      before.to.y > corner[1] - r && before.to.y < corner[1] + size[1] + r;
    if (!over || before.to.z >= top_ - grace_mm) continue;
    add(change ? "change_in_stock" : "stop_in_stock", change ? Weight::stops : Weight::warns,
        change
            ? fmt::format("The tool is to be changed while it stands {} deep in the stock. Lift before M6.",
                          len(top_ - before.to.z, 2))
            : fmt::format("The program stops here while the tool stands {} deep in the stock: it rubs, and a move by "
                          "hand would break it. Lift before.",
                          len(top_ - before.to.z, 2)),
        e.line, before.to);
  }
}

void Checker::end() {
  if (program_.after_end > 0)
    add("after_end", Weight::warns,
        fmt::format(
            "From line {} on more stands behind the end of the program: it will not be cut. Is the end where it "
            "belongs?",
            program_.after_end),
        program_.after_end);
  if (program_.has_end) return;
  bool on = false;
  for (const Event& e : program_.events)
    if (e.kind == EventKind::spindle_on || e.kind == EventKind::spindle_off || e.kind == EventKind::tool_change)
      on = e.kind == EventKind::spindle_on;
  const Way last = way(program_.motions.size() - 1);
  const bool in_stock = cuts_ && last.to.z < top_ - grace_mm;
  add("no_end", on || in_stock ? Weight::warns : Weight::informs,
      fmt::format("The file stops without M2, M30 or a percent sign{}. Is it whole?",
                  in_stock ? ", with the tool in the stock"
                  : on     ? ", with the spindle on"
                           : ""),
      program_.lines, last.to);
}

void Checker::passed_over() {
  if (program_.passed_over.empty()) return;
  std::string all;
  for (const PassedOver& p : program_.passed_over)
    all += fmt::format("{}{} (line {}{})", all.empty() ? "" : ", ", p.what, p.line,
                       p.times > 1 ? fmt::format(" and {} more", p.times - 1) : "");
  add("passed_over", Weight::informs, fmt::format("Read, and of no effect here: {}.", all),
      program_.passed_over.front().line);
}

}  // namespace ypsi
