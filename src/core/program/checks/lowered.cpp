// Where a head that its own block has lowered goes: beside the stock, off the bed's zones, over a fence or a clamp; and
// what is marked after something was cut.
#include "core/program/checks/checker.h"
#include "core/program/own_blocks.h"

namespace ypsi {

namespace {

constexpr double beside_mm = 0.5;  // of the stock's edge

bool leaves_marks(HeadKind kind) {
  return kind == HeadKind::pen || kind == HeadKind::creaser;
}
bool cuts_apart(HeadKind kind) {
  return kind == HeadKind::drag_knife || kind == HeadKind::turned_knife || kind == HeadKind::wheel;
}

struct Span {
  double x0, y0, x1, y1;
  bool holds(double x, double y, double grace = 0) const {
    return x >= x0 - grace && x <= x1 + grace && y >= y0 - grace && y <= y1 + grace;
  }
};

/// How much of the straight way from a to b lies beside all of the boxes, mm: looked at from point to point.
double way_beside(const std::vector<Span>& boxes, double ax, double ay, double bx, double by) {
  constexpr double look_mm = 1;
  const double length = std::hypot(bx - ax, by - ay);
  const int n = std::clamp(static_cast<int>(std::ceil(length / look_mm)), 1, 5000);
  int beside = 0;
  for (int i = 0; i <= n; ++i) {
    const double part = static_cast<double>(i) / n, x = ax + part * (bx - ax), y = ay + part * (by - ay);
    beside += std::none_of(boxes.begin(), boxes.end(), [&](const Span& s) { return s.holds(x, y); }) ? 1 : 0;
  }
  return length * beside / (n + 1);
}

}  // namespace

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

void Checker::lowered_heads() {
  const auto& heads = book_.machine.heads;
  const auto& job = book_.job;
  const auto zx = zero(Axis::x), zy = zero(Axis::y);
  std::optional<Span> stock;
  if (job.stock_size[0] > 0 && job.stock_size[1] > 0)
    stock =
        Span{job.stock_corner[0] - beside_mm, job.stock_corner[1] - beside_mm,
             job.stock_corner[0] + job.stock_size[0] + beside_mm, job.stock_corner[1] + job.stock_size[1] + beside_mm};
  // What the book has in machine coordinates, in the work frame.
  std::vector<Span> zones;
  if (zx && zy)
    for (const VacuumZone& z : book_.machine.vacuum.zones)
      zones.push_back({z.x_mm - *zx, z.y_mm - *zy, z.x_mm - *zx + z.width_mm, z.y_mm - *zy + z.depth_mm});
  const double under = job.used().on_bed ? 0 : -job.stock_size[2];  // of the bed
  std::set<std::string> told;
  const auto tell = [&](const std::string& code, const Head& head, Weight weight, std::string message,
                        std::uint32_t line, const WorkPosition& at) {
    if (told.insert(code + head.name).second) add(code.c_str(), weight, std::move(message), line, at);
  };
  for (std::size_t h = 0; h < heads.size(); ++h) {
    const Head& head = heads[h];
    if (head.lower.empty() || !cuts(head.kind)) continue;
    const double dx = head.place ? head.place->x_mm.mm : 0, dy = head.place ? head.place->y_mm.mm : 0;
    bool down = false;
    double off_zones = 0;
    std::uint32_t off_zones_line = 0;
    WorkPosition off_zones_at;
    std::size_t at = 0;
    const auto go_to = [&](std::size_t until) {
      for (; at < until; ++at) {
        if (!down || at + 1 < first_known()) continue;
        const Way w = way(at);
        pieces(w, [&](const WorkPosition& from, const WorkPosition& to) {
          const double ax = from.x + dx, ay = from.y + dy, bx = to.x + dx, by = to.y + dy;
          const WorkPosition here{bx, by, to.z};
          const std::uint32_t line = w.motion.line;
          if (stock && !(stock->holds(ax, ay) && stock->holds(bx, by)))
            tell("lowered_off_stock", head, Weight::warns,
                 fmt::format("The {} is down beside the stock here: it cuts into what lies below.", head.name), line,
                 stock->holds(bx, by) ? WorkPosition{ax, ay, from.z} : here);
          if (!zones.empty() && cuts_apart(head.kind)) {
            if (const double beside = way_beside(zones, ax, ay, bx, by); beside > 0) {
              if (off_zones == 0) {
                off_zones_line = line;
                off_zones_at = here;
              }
              off_zones += beside;
            }
          }
          if (!zx || !zy) return;
          for (const Fence& f : book_.fences) {
            const double place = f.kind == FenceKind::along_x ? f.y_mm + f.offset_mm - *zy : f.x_mm + f.offset_mm - *zx;
            const double a = f.kind == FenceKind::along_x ? ay : ax, b = f.kind == FenceKind::along_x ? by : bx;
            if (f.kind != FenceKind::point && std::min(a, b) < place && std::max(a, b) > place)
              tell("lowered_over_fence", head, Weight::stops,
                   fmt::format("The {} is down where it goes over the fence {}. Move the work, or take the fence away.",
                               head.name, f.name),
                   line, here);
          }
          for (const Clamp& c : job.clamps) {
            const Box box{c.x_mm - *zx - c.width_mm / 2, c.y_mm - *zy - c.depth_mm / 2, c.x_mm - *zx + c.width_mm / 2,
                          c.y_mm - *zy + c.depth_mm / 2, 1};
            if (meets(box, 0, 0, {ax, ay, 0}, {bx, by, 0}))
              tell("lowered_on_clamp", head, Weight::stops,
                   fmt::format("The {} is down where the clamp {} lies.", head.name, c.name), line, here);
            // The others hang beside it, raised by their holders: they meet what is higher than where it stands.
            for (std::size_t o = 0; o < heads.size(); ++o) {
              const Head& other = heads[o];
              if (o == h || (o > 0 && !other.place)) continue;
              const double ox = (other.place ? other.place->x_mm.mm : 0) - dx,
                           oy = (other.place ? other.place->y_mm.mm : 0) - dy;
              if (under + c.height_mm > to.z && meets(box, 0, 0, {ax + ox, ay + oy, 0}, {bx + ox, by + oy, 0}))
                tell("head_on_clamp", other, Weight::warns,
                     fmt::format("The {} hangs over the clamp {} while the {} works here, lower than the clamp is high "
                                 "unless its holder lifts it over.",
                                 other.name, c.name, head.name),
                     line, here);
            }
          }
        });
      }
    };
    for (const Event& e : program_.events) {
      go_to(e.before);
      if (e.kind != EventKind::head_act || own_act_of(e).head != static_cast<int>(h)) continue;
      if (own_act_of(e).act == HeadAct::lower) down = true;
      if (own_act_of(e).act == HeadAct::raise) down = false;
    }
    go_to(program_.motions.size());
    constexpr double worth_telling_mm = 3;
    if (off_zones > worth_telling_mm)
      add("lowered_off_zones", Weight::warns,
          fmt::format("The {} cuts {} where no zone of the bed lies below, first here: nothing holds the stock there, "
                      "and it meets the bed's edge.",
                      head.name, len(off_zones, 0)),
          off_zones_line, off_zones_at);
  }
  marked_last();
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
    if (cut && leaves_marks(heads[which].kind))
      return add("marked_last", Weight::warns,
                 fmt::format("The {} comes after the {}: what was cut may have shifted. Have everything marked and "
                             "creased first.",
                             heads[which].name, cut->name),
                 e.line);
  }
}

}  // namespace ypsi
