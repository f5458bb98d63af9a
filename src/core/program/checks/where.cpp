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
    const double low = *axis.soft_min - *zero(a) - grace_mm, high = *axis.soft_max - *zero(a) + grace_mm;
    if (program_.centre.low[a] >= low && program_.centre.high[a] <= high) continue;
    const bool below = program_.centre.low[a] < low;
    const double by = below ? low - program_.centre.low[a] : program_.centre.high[a] - high;
    // The first motion that leaves them.
    for (std::size_t i = 0; i < program_.motions.size(); ++i) {
      bool out = false;
      WorkPosition where;
      pieces(i, [&](const WorkPosition&, const WorkPosition& to) {
        if (out || (to[a] >= low && to[a] <= high)) return;
        out = true;
        where = to;
      });
      if (!out) continue;
      add("limit", Weight::stops,
          fmt::format("{} would go {} beyond the machine's limit at {}. Move work zero or the stock, or make the "
                      "program smaller.",
                      letter(a), len(by + grace_mm, 2), bare(below ? *axis.soft_min : *axis.soft_max)),
          program_.motions[i].line, where);
      break;
    }
  }
}

void Checker::extents() {
  const Extents& c = program_.centre;
  std::string machine;
  if (zero(Axis::x) && zero(Axis::y) && zero(Axis::z))
    machine =
        fmt::format("; in the machine's positions X {} to {}, Y {} to {}, Z {} to {}", bare(c.low.x + *zero(Axis::x)),
                    bare(c.high.x + *zero(Axis::x)), bare(c.low.y + *zero(Axis::y)), bare(c.high.y + *zero(Axis::y)),
                    bare(c.low.z + *zero(Axis::z)), bare(c.high.z + *zero(Axis::z)));
  add("extents_centre", Weight::informs,
      fmt::format("The tool's centre goes from X {} to {}, Y {} to {}, Z {} to {}{} ({}).", bare(c.low.x),
                  bare(c.high.x), bare(c.low.y), bare(c.high.y), bare(c.low.z, 2), bare(c.high.z, 2), machine,
                  unit_name(setting_.unit)),
      0);
  if (program_.cut.empty()) return;
  cut_low_ = {1e9, 1e9, program_.cut.low.z};
  cut_high_ = {-1e9, -1e9, program_.cut.high.z};
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    const Motion& m = program_.motions[i];
    if (!is_cut(m)) continue;
    const double r = radius_of(m);
    pieces(i, [&](const WorkPosition& from, const WorkPosition& to) {
      if (std::min(from.z, to.z) >= top_) return;
      for (const Axis a : {Axis::x, Axis::y}) {
        cut_low_[a] = std::min(cut_low_[a], std::min(from[a], to[a]) - r);
        cut_high_[a] = std::max(cut_high_[a], std::max(from[a], to[a]) + r);
      }
      cuts_ = true;
    });
  }
  if (!cuts_) {
    add("cuts_air", Weight::warns,
        "No cutting move goes below the stock's top: it would cut air. Is Z zero where the program expects it?", 0);
    return;
  }
  add("extents_cut", Weight::informs,
      fmt::format("With the tool's radius it cuts from X {} to {}, Y {} to {}, down to Z {} ({}).", bare(cut_low_.x),
                  bare(cut_high_.x), bare(cut_low_.y), bare(cut_high_.y), bare(cut_low_.z, 2),
                  unit_name(setting_.unit)),
      0);
}

void Checker::units() {
  if (!has_stock_ || !cuts_) return;
  const auto& size = book_.job.stock_size;
  const double largest = std::max(cut_high_.x - cut_low_.x, cut_high_.y - cut_low_.y),
               stock = std::max(size[0], size[1]);
  const double part = largest / stock;
  if (!program_.in_inches && part < 0.1 && part * inch > 0.25 && part * inch < 1.2)
    add("units", Weight::warns,
        fmt::format(
            "It cuts {} only, on a stock of {}; 25.4 times that would fill it. Were its numbers meant as inches? "
            "Export it again with G20, or in millimetres.",
            len(largest), len(stock)),
        1);
  if (part > 4 && part / inch > 0.1 && part / inch < 1.2)
    add("units", Weight::stops,
        fmt::format("It cuts {}, on a stock of {}; one 25.4th of that would fit. Were its numbers meant as "
                    "millimetres? Export it again with G21.",
                    len(largest), len(stock)),
        1);
}

void Checker::z_reference() {
  if (!has_stock_) {
    add("no_stock", Weight::warns,
        "The stock's size is not in the book: edges, bed, clamps' heights and rapids through it are not checked. "
        "Type it on the sheet Stock and program.",
        0);
    return;
  }
  const double thickness = book_.job.stock_size[2], skin = book_.job.bed_skin;
  const ZReference expected = expected_z_reference(program_, thickness, skin);
  const bool on_bed = book_.job.used().on_bed;
  if (expected != ZReference::unclear && (expected == ZReference::bed) != on_bed)
    add("z_reference", Weight::stops,
        fmt::format("The program takes Z zero for the {}, and work zero is on the {}: the cutter would be {} too {}. "
                    "Set Z zero on the {}, or export the program for the other.",
                    expected == ZReference::bed ? "bed" : "stock's top", on_bed ? "bed" : "stock's top", len(thickness),
                    on_bed ? "deep" : "high", expected == ZReference::bed ? "bed" : "stock's top"),
        0);
  const double bed = on_bed ? 0 : -thickness;
  if (const double into = bed - program_.cut.low.z; !program_.cut.empty() && into > grace_mm) {
    for (std::size_t i = 0; i < program_.motions.size(); ++i)
      if (is_cut(program_.motions[i]) && program_.motions[i].end.z <= program_.cut.low.z + grace_mm) {
        const bool deep = into > skin + grace_mm;
        add("into_bed", deep ? Weight::stops : Weight::informs,
            deep ? fmt::format("It cuts {} into the bed, and {} are allowed. Is the stock's thickness right, and Z "
                               "zero?",
                               len(into, 2), len(skin, 2))
                 : fmt::format("It cuts {} into the bed, as is allowed.", len(into, 2)),
            program_.motions[i].line, program_.motions[i].end);
        break;
      }
  }
}

void Checker::stock_edges() {
  if (!has_stock_ || !cuts_) return;
  const auto& corner = book_.job.stock_corner;
  const auto& size = book_.job.stock_size;
  const double over[] = {corner[0] - cut_low_.x, cut_high_.x - corner[0] - size[0], corner[1] - cut_low_.y,
                         cut_high_.y - corner[1] - size[1]};
  const char* const sides[] = {"left", "right", "front", "back"};
  for (int i = 0; i < 4; ++i)
    if (over[i] > grace_mm)
      add("off_stock", Weight::warns,
          fmt::format("The cut runs {} past the stock's {} edge. Is the zero at the place of the stock that the "
                      "program means?",
                      len(over[i]), sides[i]),
          0);
}

void Checker::first_move() {
  const Motion& first = program_.motions.front();
  const WorkPosition from = program_.begin_of(0);
  const bool across = first.end.x != from.x || first.end.y != from.y, lifts = first.end.z != from.z;
  if (across && !(lifts && first.end.z > top_) && !program_.uses_machine_frame)
    add("first_move", Weight::warns,
        "Its first move goes across before it has lifted Z. Stand high, and clear of the clamps, when you start it.",
        first.line);
}

void Checker::machine_words() {
  if (program_.uses_machine_frame)
    add("machine_frame", Weight::informs,
        "It moves by machine positions too (G28, G30, G53 or G10): those are drawn for the work zero that is set "
        "now.",
        0);
  std::set<int> frames;
  for (const Event& e : program_.events)
    if (e.kind == EventKind::work_frame) frames.insert(static_cast<int>(e.value));
  frames.erase(book_.job.frame);  // whose zero is asked for anyway
  for (const int f : frames)
    if (const FrameZero& zero = book_.job.frames[static_cast<std::size_t>(f)]; !zero.x_mm || !zero.y_mm || !zero.z_mm)
      add("frame_not_set", Weight::stops,
          fmt::format("The program works in {}, whose zero is not set. Choose it on the sheet Work zero, and set it.",
                      frame_name(f)),
          0);
}

}  // namespace ypsi
