// Where a head that its own block has lowered goes: beside the stock, off the bed's zones, over a fence or a clamp; and
// what is marked after something was cut.
#include "core/heads/plan_point.h"
#include "core/program/checks/checker.h"
#include "core/program/own_blocks.h"

namespace ypsi {

namespace {

constexpr double on_stock_within_mm = 0.5;  // of the stock's edge

bool cuts_apart(HeadKind kind) {
  return kind == HeadKind::drag_knife || kind == HeadKind::turned_knife || kind == HeadKind::wheel;
}

struct Span {
  double x0, y0, x1, y1;
  bool holds(PlanPoint p) const { return p.real() >= x0 && p.real() <= x1 && p.imag() >= y0 && p.imag() <= y1; }
};

/// How much of the straight way from a to b lies beside all of the boxes, mm: looked at from point to point.
double way_beside(const std::vector<Span>& boxes, PlanPoint a, PlanPoint b) {
  constexpr double look_mm = 1;
  const double length = std::abs(b - a);
  const int n = std::clamp(static_cast<int>(std::ceil(length / look_mm)), 1, 5000);
  int beside = 0;
  for (int i = 0; i <= n; ++i) {
    const PlanPoint p = a + (b - a) * (static_cast<double>(i) / n);
    beside += std::none_of(boxes.begin(), boxes.end(), [&](const Span& s) { return s.holds(p); }) ? 1 : 0;
  }
  return length * beside / (n + 1);
}

/// Where its point is from the first head's; the first's own is there.
PlanPoint place_of(const Head& head) {
  return head.place ? PlanPoint(head.place->x_mm, head.place->y_mm) : PlanPoint();
}

bool meets_any_height(const Box& box, PlanPoint a, PlanPoint b) {
  return meets({box.x0, box.y0, box.x1, box.y1, 1}, 0, 0, {a.real(), a.imag(), 0}, {b.real(), b.imag(), 0}).has_value();
}

}  // namespace

/// A straight piece of the way of a lowered head's point, work frame, and how high the first head is at its end.
struct Checker::LoweredWay {
  std::size_t head;
  PlanPoint from, to;
  double z;
  std::uint32_t line;
  WorkPosition end() const { return {to.real(), to.imag(), z}; }
};

void Checker::find_blocks() {
  const auto& heads = book_.machine.heads;
  std::vector<bool> works(heads.size(), false);
  std::size_t at = 0;
  const auto go_to = [&](std::size_t until) {
    const bool any = std::find(works.begin(), works.end(), true) != works.end();
    if (any && by_block_.empty()) by_block_.assign(program_.motions.size(), false);
    for (; at < until; ++at)
      if (any) by_block_[at] = true;
  };
  for (const Event& e : program_.events) {
    if (e.kind != EventKind::head_act) continue;
    const OwnAct own = own_act_of(e);
    const auto which = static_cast<std::size_t>(own.head);
    if (which >= heads.size()) continue;
    go_to(e.before);
    const bool beam = heads[which].kind == HeadKind::beam;
    if (own.act == HeadAct::lower || (beam && own.act == HeadAct::on)) works[which] = true;
    if (own.act == HeadAct::raise || (beam && own.act == HeadAct::off)) works[which] = false;
  }
  go_to(program_.motions.size());
}

void Checker::tell_once(const char* code, const Head& head, Weight weight, std::string message, std::uint32_t line,
                        const WorkPosition& at) {
  if (told_of_heads_.insert(code + head.name).second) add(code, weight, std::move(message), line, at);
}

void Checker::lowered_heads() {
  const auto& heads = book_.machine.heads;
  const std::size_t known = first_known();
  for (std::size_t h = 0; h < heads.size(); ++h) {
    if (heads[h].lower.empty() || !cuts(heads[h].kind)) continue;
    const PlanPoint place = place_of(heads[h]);
    std::vector<LoweredWay> ways;
    bool down = false;
    std::size_t at = 0;
    const auto go_to = [&](std::size_t until) {
      for (; at < until; ++at) {
        if (!down || at + 1 < known) continue;
        const Way w = way(at);
        pieces(w, [&](const WorkPosition& from, const WorkPosition& to) {
          ways.push_back({h, PlanPoint(from.x, from.y) + place, PlanPoint(to.x, to.y) + place, to.z, w.motion.line});
        });
      }
    };
    for (const Event& e : program_.events) {
      if (e.kind != EventKind::head_act || own_act_of(e).head != static_cast<int>(h)) continue;
      go_to(e.before);
      if (own_act_of(e).act == HeadAct::lower) down = true;
      if (own_act_of(e).act == HeadAct::raise) down = false;
    }
    go_to(program_.motions.size());
    lowered_on_stock(ways);
    lowered_on_zones(ways);
    lowered_into_things(ways);
  }
  marked_last();
}

void Checker::lowered_on_stock(const std::vector<LoweredWay>& ways) {
  const auto &corner = book_.job.stock_corner, size = std::array{book_.job.stock_size[0], book_.job.stock_size[1]};
  if (!(size[0] > 0 && size[1] > 0)) return;
  const Span stock{corner[0] - on_stock_within_mm, corner[1] - on_stock_within_mm,
                   corner[0] + size[0] + on_stock_within_mm, corner[1] + size[1] + on_stock_within_mm};
  for (const LoweredWay& w : ways) {
    if (stock.holds(w.from) && stock.holds(w.to)) continue;
    const Head& head = book_.machine.heads[w.head];
    tell_once("lowered_off_stock", head, Weight::warns,
              fmt::format("The {} is down beside the stock here: it cuts into what lies below.", head.name), w.line,
              stock.holds(w.to) ? WorkPosition{w.from.real(), w.from.imag(), w.z} : w.end());
  }
}

void Checker::lowered_on_zones(const std::vector<LoweredWay>& ways) {
  const auto zx = zero(Axis::x), zy = zero(Axis::y);
  const auto& all = book_.machine.vacuum.zones;
  if (!zx || !zy || all.empty() || ways.empty()) return;
  const Head& head = book_.machine.heads[ways.front().head];
  if (!cuts_apart(head.kind)) return;
  std::vector<Span> zones;  // work frame
  zones.reserve(all.size());
  for (const VacuumZone& z : all)
    zones.push_back({z.x_mm - *zx, z.y_mm - *zy, z.x_mm - *zx + z.width_mm, z.y_mm - *zy + z.depth_mm});
  double off = 0;
  const LoweredWay* first = nullptr;
  for (const LoweredWay& w : ways)
    if (const double beside = way_beside(zones, w.from, w.to); beside > 0) {
      if (!first) first = &w;
      off += beside;
    }
  constexpr double worth_telling_mm = 3;
  if (off > worth_telling_mm)
    add("lowered_off_zones", Weight::warns,
        fmt::format("The {} cuts {} where no zone of the bed lies below, first here: nothing holds the stock there, "
                    "and it meets the bed's edge.",
                    head.name, len(off, 0)),
        first->line, first->end());
}

void Checker::lowered_into_things(const std::vector<LoweredWay>& ways) {
  const auto zx = zero(Axis::x), zy = zero(Axis::y);
  if (!zx || !zy) return;
  const auto& heads = book_.machine.heads;
  for (const LoweredWay& w : ways) {
    const Head& head = heads[w.head];
    for (const Fence& f : book_.fences) {
      const bool along_x = f.kind == FenceKind::along_x;
      const double place = along_x ? f.y_mm + f.offset_mm - *zy : f.x_mm + f.offset_mm - *zx;
      const double a = along_x ? w.from.imag() : w.from.real(), b = along_x ? w.to.imag() : w.to.real();
      if (f.kind != FenceKind::point && std::min(a, b) < place && std::max(a, b) > place)
        tell_once("lowered_over_fence", head, Weight::stops,
                  fmt::format("The {} is down where it goes over the fence {}. Move the work, or take the fence away.",
                              head.name, f.name),
                  w.line, w.end());
    }
    for (const Clamp& c : book_.job.clamps) {
      const Box box = box_of(c, *zx, *zy);
      if (meets_any_height(box, w.from, w.to))
        tell_once("lowered_on_clamp", head, Weight::stops,
                  fmt::format("The {} is down where the clamp {} lies.", head.name, c.name), w.line, w.end());
      // The others hang beside it, raised by their holders: they meet what is higher than where it stands.
      for (std::size_t o = 0; o < heads.size() && box.top > w.z; ++o) {
        const Head& other = heads[o];
        if (o == w.head || (o > 0 && !other.place)) continue;
        const PlanPoint by = place_of(other) - place_of(head);
        if (meets_any_height(box, w.from + by, w.to + by))
          tell_once("head_on_clamp", other, Weight::warns,
                    fmt::format("The {} hangs over the clamp {} while the {} works here, lower than the clamp is high "
                                "unless its holder lifts it over.",
                                other.name, c.name, head.name),
                    w.line, w.end());
      }
    }
  }
}

/// Stock that was cut may shift: what is marked after it lies elsewhere.
void Checker::marked_last() {
  const auto& heads = book_.machine.heads;
  const Head* cut = nullptr;
  for (const Event& e : program_.events) {
    if (e.kind != EventKind::head_act || own_act_of(e).act != HeadAct::lower) continue;
    const auto which = static_cast<std::size_t>(own_act_of(e).head);
    if (which >= heads.size()) continue;
    if (cuts_apart(heads[which].kind)) cut = &heads[which];
    if (cut && only_marks(heads[which].kind))
      return add("marked_last", Weight::warns,
                 fmt::format("The {} comes after the {}: what was cut may have shifted. Have everything marked and "
                             "creased first.",
                             heads[which].name, cut->name),
                 e.line);
  }
}

}  // namespace ypsi
