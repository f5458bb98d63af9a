// What tool, nut and boot would meet: clamps and standing stock.
#include "core/program/checks/checker.h"

namespace ypsi {

void Checker::clamps() {
  if (book_.job.clamps.empty()) return;
  if (!zero(Axis::x) || !zero(Axis::y) || !zero(Axis::z)) return;
  if (!has_stock_ && !book_.job.used().on_bed) {
    add("clamp_height", Weight::warns,
        "How high the clamps are against work zero cannot be told without the stock's thickness: they are not "
        "checked.",
        0);
    return;
  }
  const double bed = book_.job.used().on_bed ? 0 : -book_.job.stock_size[2];
  std::set<int> without_length;
  for (const Clamp& c : book_.job.clamps) {
    const double x = c.x_mm - *zero(Axis::x), y = c.y_mm - *zero(Axis::y);
    const Box box{x - c.width_mm / 2, y - c.depth_mm / 2, x + c.width_mm / 2, y + c.depth_mm / 2, bed + c.height_mm};
    std::map<HangingPart::Kind, Hit> hits;
    each_known_piece([&](std::size_t i, const WorkPosition& from, const WorkPosition& to) {
      const Motion& m = program_.motions[i];
      const Tool* tool = tool_of(m);
      if (tool && !(tool->length_out > 0)) without_length.insert(tool->number);
      for (const HangingPart& part : parts_of(m))
        if (const auto met = meets(box, part.radius, part.above_tip, from, to); met && met->depth > grace_mm) {
          Hit& hit = hits[part.kind];
          if (hit.times++ == 0) hit.line = m.line;
          if (hit.times == 1) hit.at = met->at;
          hit.depth = std::max(hit.depth, met->depth);
        }
    });
    for (const auto& [kind, hit] : hits) {
      const char* what = kind == HangingPart::Kind::tool  ? "tool"
                         : kind == HangingPart::Kind::nut ? "collet nut"
                                                          : "dust boot";
      add("clamp", Weight::stops,
          fmt::format(
              "The {} would meet {} at X {} Y {}, {} below its top. Move the clamp, or lift higher between cuts.", what,
              c.name.empty() ? "a clamp" : "“" + c.name + "”", bare(hit.at.x), bare(hit.at.y), len(hit.depth)),
          hit.line, hit.at);
    }
  }
  if (book_.machine.spindle.nut_diameter > 0)
    for (const int n : without_length)
      add("tool_length", Weight::warns,
          fmt::format("How far T{} stands out of the collet is not known: nut and boot are not checked for it.", n), 0);
}

const std::vector<HangingPart>& Checker::parts_of(const Motion& m) {
  const int n = m.tool != 0 ? m.tool : setting_.tool;
  const auto found = parts_.find(n);
  if (found != parts_.end()) return found->second;
  auto parts = hanging_parts(book_.tool(n), book_.machine.spindle);
  if (parts.empty() || parts.front().kind != HangingPart::Kind::tool)
    parts.insert(parts.begin(), {HangingPart::Kind::tool, usual_cutter_mm / 2, 0});
  return parts_.emplace(n, std::move(parts)).first->second;
}

void Checker::rapids_and_nut() {
  if (!has_stock_) return;
  const auto& corner = book_.job.stock_corner;
  const auto& size = book_.job.stock_size;
  double finest = 50;
  for (const Motion& m : program_.motions)
    if (is_cut(m)) finest = std::min(finest, radius_of(m));
  StockModel stock(corner[0], corner[1], size[0], size[1], top_, finest);
  const Box whole{corner[0], corner[1], corner[0] + size[0], corner[1] + size[1], top_};
  Hit through, low;
  std::map<int, std::pair<Hit, HangingPart::Kind>> nut;
  each_known_piece([&](std::size_t i, const WorkPosition& from, const WorkPosition& to) {
    const Motion& m = program_.motions[i];
    const double r = radius_of(m);
    if (is_cut(m)) {
      stock.cut(from, to, r);
    } else {
      WorkPosition where;
      if (const double depth = stock.in_stock(from, to, r, where); depth > in_stock_mm) {
        if (through.times++ == 0) through = {depth, where, m.line, 1};
        through.depth = std::max(through.depth, depth);
      } else if (const double across = std::hypot(to.x - from.x, to.y - from.y);
                 across > 2 * r && std::min(from.z, to.z) >= top_ && std::min(from.z, to.z) < top_ + low_rapid_mm &&
                 stock.over(to.x, to.y, r)) {
        if (low.times++ == 0) low = {std::min(from.z, to.z) - top_, to, m.line, 1};
      }
    }
    for (const HangingPart& part : parts_of(m)) {
      if (part.kind == HangingPart::Kind::tool) continue;
      // Only where the stock stands: a narrow part may well be lowered beside it.
      if (const auto met = meets(whole, 0, part.above_tip, from, to); met && met->depth > grace_mm) {
        auto& [hit, kind] = nut[m.tool];
        if (hit.times++ == 0) {
          hit = {met->depth, met->at, m.line, 1};
          kind = part.kind;
        }
        hit.depth = std::max(hit.depth, met->depth);
      }
    }
  });
  if (through.times > 0)
    add("rapid_in_stock", Weight::stops,
        fmt::format("A rapid goes through standing stock, {} deep at X {} Y {}{}. Lift before it, or feed there.",
                    len(through.depth), bare(through.at.x), bare(through.at.y),
                    through.times > 1 ? fmt::format(", and {} more do", through.times - 1) : ""),
        through.line, through.at);
  if (low.times > 0)
    add("low_rapid", Weight::warns,
        fmt::format("A rapid goes across the stock only {} above its top; an uneven stock would be scraped.",
                    len(low.depth, 2)),
        low.line, low.at);
  for (const auto& [tool, entry] : nut) {
    const auto& [hit, kind] = entry;
    add("nut_in_stock", Weight::stops,
        fmt::format("T{} stands out too little: the {} would come {} below the stock's top. Let it stand out further, "
                    "or cut less deep.",
                    tool != 0 ? tool : setting_.tool, kind == HangingPart::Kind::nut ? "collet nut" : "dust boot",
                    len(hit.depth)),
        hit.line, hit.at);
  }
}

}  // namespace ypsi
