// Where a program goes: limits, stock, bed, frames, units.
#include "core/program/checks/checker.h"

namespace ypsi {

void Checker::zero_and_limits() {
  std::string missing;
  for (const Axis a : all_axes)
    if (!zero(a)) missing += std::string(missing.empty() ? "" : ", ") + letter(a);
  if (!missing.empty())
    add("no_zero", Weight::stops,
        fmt::format("Work zero of {} is not set, so nobody can say where on the machine this would be cut. Set it on "
                    "the sheet Work zero.",
                    missing),
        0);
  std::string unlimited;
  for (const Axis a : all_axes)
    if (const AxisSetup& axis = book_.machine.axis(a); !axis.soft_min || !axis.soft_max)
      unlimited += std::string(unlimited.empty() ? "" : ", ") + letter(a);
  if (!unlimited.empty())
    add("no_limits", Weight::warns,
        fmt::format("The book has no soft limits of {}, so nobody can say whether the program stays inside the travel. "
                    "Set them on the sheet Travel and limits.",
                    unlimited),
        0);
  for (const Axis a : all_axes) {
    const AxisSetup& axis = book_.machine.axis(a);
    if (!zero(a) || !axis.soft_min || !axis.soft_max) continue;
    // What the machine moves is what the program names, whichever tool hangs on it.
    const double low = *axis.soft_min - *zero(a) - limit_grace_mm, high = *axis.soft_max - *zero(a) + limit_grace_mm;
    if (program_.centre.low[a] >= low && program_.centre.high[a] <= high) continue;
    const bool below = program_.centre.low[a] < low;
    const double by = below ? low - program_.centre.low[a] : program_.centre.high[a] - high;
    // The first motion that leaves them.
    for (std::size_t i = 0; i < program_.motions.size(); ++i) {
      const Motion& m = program_.motions[i];
      WorkPosition where = m.end;
      bool out = where[a] < low || where[a] > high;
      if (is_arc(m)) {
        const ArcWay arc = arc_way(program_.begin_of(i), m, program_.arc_of(m));
        Extents reach;
        include_arc(reach, arc);
        if (!reach.empty() && (reach.low[a] < low || reach.high[a] > high)) {
          if (!out) where = arc.at(0.5);
          where[a] = reach.low[a] < low ? reach.low[a] : reach.high[a];
          out = true;
        }
      }
      if (!out) continue;
      where.z -= drop_.of(program_, i);
      add("limit", Weight::stops,
          fmt::format("{} would go {} beyond the machine's limit at {}. Move work zero or the stock, or make the "
                      "program smaller.",
                      letter(a), len(by + limit_grace_mm, by < 0.01 ? 4 : 2),
                      bare(below ? *axis.soft_min : *axis.soft_max)),
          m.line, where);
      break;
    }
  }
}

Extents Checker::extents_of(const Way& w) const {
  Extents reach;
  reach.include(w.from.x, w.from.y, w.from.z);
  reach.include(w.to.x, w.to.y, w.to.z);
  if (is_arc(w.motion)) {
    Extents bulge;
    include_arc(bulge, arc_way(named_start(w), w.motion, program_.arc_of(w.motion)));
    if (!bulge.empty()) {
      reach.include(bulge.low.x, bulge.low.y, bulge.low.z - w.hangs.drop);
      reach.include(bulge.high.x, bulge.high.y, bulge.high.z - w.hangs.drop);
    }
  }
  return reach;
}

/// A shank has no edges: below the stock's top it rubs on the walls.
void Checker::past_edge(const Way& w, const Extents& reach) {
  const Tool* tool = w.hangs.tool;
  if (!tool || !(tool->edge_length > 0) || top_ - reach.low.z <= tool->edge_length + grace_mm) return;
  const auto& corner = book_.job.stock_corner;
  const auto& size = book_.job.stock_size;
  const double r = w.hangs.radius;
  if (has_stock_ && (reach.high.x < corner[0] - r || reach.low.x > corner[0] + size[0] + r ||
                     reach.high.y < corner[1] - r || reach.low.y > corner[1] + size[1] + r))
    return;
  past_edges_[w.hangs.number].take(top_ - reach.low.z, w.to, w.motion.line);
}

void Checker::extents() {
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    const Way w = way(i);
    Extents all = around(w);
    // The whole circle counts only where it changes nothing.
    if (is_arc(w.motion) && !(out_.tip.contains(all) && tip_cut_.contains(all))) all = extents_of(w);
    out_.tip.include(w.to.x, w.to.y, w.to.z);
    if (!is_cut(w.motion)) continue;
    for (Extents* whole : {&out_.tip, &tip_cut_}) {
      whole->include(all.low.x, all.low.y, all.low.z);
      whole->include(all.high.x, all.high.y, all.high.z);
    }
    if (all.low.z >= top_) continue;
    cuts_ = true;
    past_edge(w, all);
    // As wide as it is where it meets the stock's top.
    const double r = w.hangs.tool ? radius_at(*w.hangs.tool, top_ - all.low.z) : w.hangs.radius;
    if (out_.cut.low.x <= all.low.x - r && out_.cut.high.x >= all.high.x + r && out_.cut.low.y <= all.low.y - r &&
        out_.cut.high.y >= all.high.y + r && out_.cut.low.z <= all.low.z)
      continue;
    const double before[] = {out_.cut.low.x, out_.cut.high.x, out_.cut.low.y, out_.cut.high.y};
    out_.cut.include(all.low.x - r, all.low.y - r, all.low.z);
    out_.cut.include(all.high.x + r, all.high.y + r, std::min(all.high.z, top_));
    const double after[] = {out_.cut.low.x, out_.cut.high.x, out_.cut.low.y, out_.cut.high.y};
    for (std::size_t side = 0; side < 4; ++side)
      if (before[side] != after[side]) edge_line_[side] = w.motion.line;
  }
  const Extents& c = out_.tip;
  std::string machine;
  if (has_zero())
    machine =
        fmt::format("; in the machine's positions X {} to {}, Y {} to {}, Z {} to {}", bare(c.low.x + *zero(Axis::x)),
                    bare(c.high.x + *zero(Axis::x)), bare(c.low.y + *zero(Axis::y)), bare(c.high.y + *zero(Axis::y)),
                    bare(program_.centre.low.z + *zero(Axis::z)), bare(program_.centre.high.z + *zero(Axis::z)));
  add("extents_centre", Weight::informs,
      fmt::format("The tool's centre goes from X {} to {}, Y {} to {}, {}Z {} to {}{} ({}).", bare(c.low.x),
                  bare(c.high.x), bare(c.low.y), bare(c.high.y), drop_.any() ? "its tip from " : "", bare(c.low.z, 2),
                  bare(c.high.z, 2), machine, unit_name(setting_.unit)),
      0);
  if (program_.cut.empty()) return;
  if (!cuts_) {
    std::size_t by_z = 0;
    while (by_z < program_.motions.size() && !cuts_by_z(by_z)) ++by_z;
    if (by_z == program_.motions.size()) return;  // heads that their blocks lower cut at any height
    const auto first = program_.motions.begin() + static_cast<std::ptrdiff_t>(by_z);
    add("cuts_air", Weight::warns,
        "No cutting move goes below the stock's top: it would cut air. Is Z zero where the program expects it?",
        first->line, first->end);
    return;
  }
  for (const auto& [n, hit] : past_edges_)
    add("edge_short", Weight::warns,
        fmt::format("T{} goes {} below the stock's top, and its cutting edges are {} long: above them the shank rubs, "
                    "unless it was cut wider there. Take a longer cutter.",
                    n, len(hit.depth), len(book_.tool(n)->edge_length)),
        hit.line, hit.at);
  const Extents& cut = out_.cut;
  add("extents_cut", Weight::informs,
      fmt::format("With the tool's radius it cuts from X {} to {}, Y {} to {}, down to Z {} ({}).", bare(cut.low.x),
                  bare(cut.high.x), bare(cut.low.y), bare(cut.high.y), bare(cut.low.z, 2), unit_name(setting_.unit)),
      0);
}

/// By the way of the cut itself: a cutter's radius has no unit to be mistaken for, and one hole or one mark says
/// nothing of a part's size.
void Checker::units() {
  if (!has_stock_ || !cuts_) return;
  const auto& size = book_.job.stock_size;
  const double stock = std::max(size[0], size[1]);
  double widest = 0;
  for (const auto& [n, h] : hanging_) widest = std::max(widest, 2 * h.radius);
  if (const double most = std::max(out_.cut.high.x - out_.cut.low.x, out_.cut.high.y - out_.cut.low.y);
      most < 4 * stock && most - widest > 0.1 * stock)
    return;
  constexpr double much_ways = 5, slow_mm_min = 130;  // feeds by the inch are small numbers
  Extents reach;
  double length = 0, slowest = 1e9;
  std::uint32_t first = 0;
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    const Motion& m = program_.motions[i];
    if (!is_cut(m)) continue;
    const WorkPosition from = program_.begin_of(i);
    if (std::min(from.z, m.end.z) - drop_.of(program_, i) >= top_) continue;
    if (first == 0) first = m.line;
    reach.include(from.x, from.y, 0);
    reach.include(m.end.x, m.end.y, 0);
    const double dx = m.end.x - from.x, dy = m.end.y - from.y;
    length += is_arc(m) ? arc_way(from, m, program_.arc_of(m)).length() : std::sqrt(dx * dx + dy * dy);
    if (m.end.z == from.z) slowest = std::min(slowest, program_.feed_of(m));
  }
  if (reach.empty()) return;
  const double largest = std::max(reach.high.x - reach.low.x, reach.high.y - reach.low.y);
  const double part = largest / stock;
  const bool says_much = length > much_ways * largest || slowest < slow_mm_min;
  if (!program_.in_inches && part < 0.1 && part * inch > 0.25 && part * inch < 1.2 && says_much)
    add("units", Weight::warns,
        fmt::format(
            "It cuts {} only, on a stock of {}; 25.4 times that would fill it. Were its numbers meant as inches? "
            "Export it again with G20, or in millimetres.",
            len(largest), len(stock)),
        first);
  if (part > 4 && part / inch > 0.1 && part / inch < 1.2)
    add("units", Weight::stops,
        fmt::format("It cuts {}, on a stock of {}; one 25.4th of that would fit. Were its numbers meant as "
                    "millimetres? Export it again with G21.",
                    len(largest), len(stock)),
        first);
}

void Checker::z_reference() {
  if (!has_stock_) {
    add("no_stock", Weight::warns,
        "The stock's size is not in the book: edges, bed, clamps' heights and rapids through it are not checked. "
        "Type it on the sheet Stock and program.",
        0);
    return;
  }
  const Job& job = book_.job;
  const double thickness = job.stock_size[2] + job.sheet_mm, skin = job.bed_skin;
  const ZReference expected = expected_z_reference(program_, drop_, thickness, skin, by_block_);
  const bool on_bed = job.used().on_bed;
  // Of the deepest cut, which shows it best.
  std::uint32_t deepest = 0;
  WorkPosition where;
  if (!tip_cut_.empty())
    for (std::size_t i = 0; i < program_.motions.size() && deepest == 0; ++i)
      if (const Way w = way(i); is_cut(w.motion) && lowest(w) <= tip_cut_.low.z + grace_mm) {
        deepest = w.motion.line;
        where = w.to;
      }
  if (expected != ZReference::unclear && (expected == ZReference::bed) != on_bed)
    add("z_reference", Weight::stops,
        fmt::format("The program takes Z zero for the {}, and work zero is on the {}: the cutter would be {} too {}. "
                    "Set Z zero on the {}, or export the program for the other.",
                    expected == ZReference::bed ? "bed" : "stock's top", on_bed ? "bed" : "stock's top", len(thickness),
                    on_bed ? "deep" : "high", expected == ZReference::bed ? "bed" : "stock's top"),
        deepest, where);
  if (tip_cut_.empty()) return;
  const double into = job.lies_on_z() - tip_cut_.low.z, through_board = into - job.board_mm;
  const char* const what = job.board_mm > 0 ? "the board that the stock lies on" : "the bed";
  if (into > skin + grace_mm) {
    const bool bed = through_board > grace_mm;
    add("into_bed", bed ? Weight::stops : Weight::warns,
        fmt::format("It cuts {} into {}, and {} are allowed{}. Is the stock's thickness right, and Z zero?",
                    len(into, 2), what, len(skin, 2),
                    bed && job.board_mm > 0 ? fmt::format("; that is {} into the bed", len(through_board, 2)) : ""),
        deepest, where);
  } else if (into > grace_mm) {
    add("into_bed", Weight::informs, fmt::format("It cuts {} into {}, as is allowed.", len(into, 2), what), deepest,
        where);
  } else if (const double in_sheet = into + job.sheet_mm; in_sheet > grace_mm) {
    add("into_sheet", Weight::informs,
        fmt::format("It cuts through, and {} into the sheet of {} that the stock sticks to.", len(in_sheet, 2),
                    len(job.sheet_mm, 2)),
        deepest, where);
  }
}

void Checker::stock_edges() {
  if (!has_stock_ || !cuts_) return;
  const auto& corner = book_.job.stock_corner;
  const auto& size = book_.job.stock_size;
  const double over[] = {corner[0] - out_.cut.low.x, out_.cut.high.x - corner[0] - size[0], corner[1] - out_.cut.low.y,
                         out_.cut.high.y - corner[1] - size[1]};
  const char* const sides[] = {"left", "right", "front", "back"};
  double widest = 0;
  for (const auto& [n, h] : hanging_) widest = std::max(widest, 2 * h.radius);
  const double least = *std::min_element(std::begin(over), std::end(over)),
               most = *std::max_element(std::begin(over), std::end(over));
  if (least > grace_mm && most <= widest + 1) {
    add("faces_over_edges", Weight::informs,
        fmt::format("The cut runs over all four edges of the stock, by {} at most: it faces it, or cuts it round.",
                    len(most)),
        edge_line_[0]);
    return;
  }
  for (std::size_t i = 0; i < 4; ++i)
    if (over[i] > grace_mm)
      add("off_stock", Weight::warns,
          fmt::format("The cut runs {} past the stock's {} edge. Is the zero at the place of the stock that the "
                      "program means?",
                      len(over[i]), sides[i]),
          edge_line_[i]);
}

void Checker::frames() {
  if (program_.uses_machine_frame)
    add("machine_frame", Weight::informs,
        "It moves by machine positions too (G28, G30, G53 or G10): those are drawn for the work zero that is set "
        "now.",
        0);
  std::map<int, std::uint32_t> used;
  for (const Event& e : program_.events)
    if (e.kind == EventKind::work_frame) used.emplace(static_cast<int>(e.value), e.line);
  used.erase(book_.job.frame);  // whose zero is asked for anyway
  for (const auto& [f, line] : used)
    if (const FrameZero& set = book_.job.frames[static_cast<std::size_t>(f)]; !set.x_mm || !set.y_mm || !set.z_mm)
      add("frame_not_set", Weight::stops,
          fmt::format("The program works in {}, whose zero is not set. Choose it on the sheet Work zero, and set it.",
                      frame_name(f)),
          line);
}

}  // namespace ypsi
