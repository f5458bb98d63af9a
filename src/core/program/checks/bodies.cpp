// What tool, nut and boot would meet: clamps and standing stock.
#include "core/program/checks/checker.h"

namespace ypsi {

namespace {

constexpr double pass_diameters = 2, upright_mm = 1e-6, told_clearance_mm = 50, rounding_mm2 = 1e-9;

const char* called(HangingPart::Kind kind) {
  return kind == HangingPart::Kind::tool ? "tool" : kind == HangingPart::Kind::nut ? "collet nut" : "dust boot";
}

std::string called(const Clamp& c) {
  return c.name.empty() ? "a clamp" : "“" + c.name + "”";
}

}  // namespace

const Checker::Hanging& Checker::hanging_of(int n) {
  const auto found = hanging_.find(n);
  if (found != hanging_.end()) return found->second;
  Hanging h;
  h.number = n;
  h.tool = book_.tool(n);
  h.radius = (h.tool && h.tool->diameter > 0 ? h.tool->diameter : usual_cutter_mm) / 2;
  h.drop = drop_.of_tool(n);
  h.shape = rings(h.tool);
  h.parts = hanging_parts(h.tool, book_.machine.spindle);
  if (h.parts.empty() || h.parts.front().kind != HangingPart::Kind::tool)
    h.parts.insert(h.parts.begin(), {HangingPart::Kind::tool, usual_cutter_mm / 2, 0});
  return hanging_.emplace(n, std::move(h)).first->second;
}

Box Checker::box_of(const Clamp& c, double zero_x, double zero_y) const {
  const double x = c.x_mm - zero_x, y = c.y_mm - zero_y, bed = book_.job.bed_z();
  return {x - c.width_mm / 2, y - c.depth_mm / 2, x + c.width_mm / 2, y + c.depth_mm / 2, bed + c.height_mm};
}

void Checker::clamps() {
  if (book_.job.clamps.empty() || !has_zero()) return;
  if (!has_stock_ && !book_.job.used().on_bed) {
    add("clamp_height", Weight::warns,
        "How high the clamps are against work zero cannot be told without the stock's thickness: they are not "
        "checked.",
        0);
    return;
  }
  std::vector<Obstacle> obstacles;
  for (const Clamp& c : book_.job.clamps) {
    obstacles.push_back({c, box_of(c, *zero(Axis::x), *zero(Axis::y)), {}});
    tallest_ = std::max(tallest_, obstacles.back().box.top);
  }
  std::set<int> without_length;
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    const auto w = known_way(i);
    if (!w) continue;
    if (w->hangs.tool && !(w->hangs.tool->length_out > 0)) without_length.insert(w->hangs.number);
    const Extents reach = around(*w);
    clearance(*w, reach, obstacles);
    if (reach.low.z >= tallest_) continue;
    for (Obstacle& o : obstacles)
      for (const HangingPart& part : w->hangs.parts) {
        const Box& box = o.box;
        const double r = part.radius;
        if (reach.low.z + part.above_tip >= box.top || reach.high.x + r <= box.x0 || reach.low.x - r >= box.x1 ||
            reach.high.y + r <= box.y0 || reach.low.y - r >= box.y1)
          continue;
        Hit* hit = nullptr;
        double deepest = 0;
        WorkPosition where;
        pieces(
            *w,
            [&](const WorkPosition& from, const WorkPosition& to) {
              if (const auto met = meets(box, r, part.above_tip, from, to);
                  met && met->depth > std::max(grace_mm, deepest)) {
                if (!hit) where = met->at;
                hit = &o.hits[part.kind];
                deepest = met->depth;
              }
            },
            near_chord_mm);
        if (hit) hit->take(deepest, where, w->motion.line);
      }
  }
  for (const Obstacle& o : obstacles)
    for (const auto& [kind, hit] : o.hits)
      add("clamp", Weight::stops,
          fmt::format(
              "The {} would meet {} at X {} Y {}, {} below its top. Move the clamp, or lift higher between cuts.",
              called(kind), called(o.clamp), bare(hit.at.x), bare(hit.at.y), len(hit.depth)),
          hit.line, hit.at);
  if (const auto& c = out_.clearance; c && c->distance > 0 && c->distance < told_clearance_mm)
    add("clearance", Weight::informs,
        fmt::format("It keeps {} from {} at least, at X {} Y {}.", len(c->distance), c->clamp, bare(c->at.x),
                    bare(c->at.y)),
        c->line, c->at);
  if (book_.machine.spindle.nut_diameter > 0)
    for (const int n : without_length)
      add("tool_length", Weight::warns,
          fmt::format("How far T{} stands out of the collet is not known: nut and boot are not checked for it.", n), 0);
}

/// Looks closer only where a motion's box comes nearer than the nearest so far.
void Checker::clearance(const Way& w, const Extents& reach, const std::vector<Obstacle>& obstacles) {
  auto& best = out_.clearance;
  for (const Obstacle& o : obstacles)
    for (const HangingPart& part : w.hangs.parts) {
      const auto farther = [&](const Extents& box) {
        if (!best) return false;
        const double dx = std::max({o.box.x0 - box.high.x, 0.0, box.low.x - o.box.x1}),
                     dy = std::max({o.box.y0 - box.high.y, 0.0, box.low.y - o.box.y1}),
                     beside = std::max(0.0, std::sqrt(dx * dx + dy * dy) - part.radius),
                     above = std::max(0.0, box.low.z + part.above_tip - o.box.top);
        return beside * beside + above * above >= best->distance * best->distance - rounding_mm2;
      };
      if (farther(reach) || (is_arc(w.motion) && farther(extents_of(w)))) continue;
      const auto take = [&](const WorkPosition& from, const WorkPosition& to) {
        const Nearest near = nearest(o.box, part.radius, part.above_tip, from, to);
        if (!best || near.distance < best->distance)
          best = ClampClearance{near.distance, called(o.clamp), w.motion.line, near.at};
      };
      // Some places of an arc first: then few of its many chords can come nearer still.
      if (is_arc(w.motion)) pieces(w, [&](const WorkPosition& from, const WorkPosition&) { take(from, from); });
      pieces(
          w,
          [&](const WorkPosition& from, const WorkPosition& to) {
            Extents piece;
            piece.include(from.x, from.y, from.z);
            piece.include(to.x, to.y, to.z);
            if (!farther(piece)) take(from, to);
          },
          near_chord_mm);
    }
}

/// Rapids through what stands, passes and plunges that take too much at once: where one of them may be, the stock is
/// followed as it is cut.
void Checker::stock() {
  if (!has_stock_) return;
  const auto& corner = book_.job.stock_corner;
  const auto& size = book_.job.stock_size;
  const Box whole{corner[0], corner[1], corner[0] + size[0], corner[1] + size[1], top_};
  StockModel stock(corner[0], corner[1], size[0], size[1], top_);
  enum class Asks { nothing, rapid, pass, plunge };
  const auto asks = [&](const Way& w) {
    const Tool* tool = w.hangs.tool;
    const double low = lowest(w);
    if (low >= top_ - in_stock_mm) return Asks::nothing;
    const bool upright =
        std::fabs(w.to.x - w.from.x) < upright_mm && std::fabs(w.to.y - w.from.y) < upright_mm && !is_arc(w.motion);
    // Straight up it leaves by the way that it came.
    if (!is_cut(w.motion)) return upright && w.to.z > w.from.z ? Asks::nothing : Asks::rapid;
    if (upright)
      return w.to.z < w.from.z && tool && tool->max_plunge > 0 && program_.feed_of(w.motion) > tool->max_plunge * 1.001
                 ? Asks::plunge
                 : Asks::nothing;
    return tool && tool->diameter > 0 && top_ - low > pass_diameters * tool->diameter + grace_mm ? Asks::pass
                                                                                                 : Asks::nothing;
  };
  std::map<int, std::pair<Hit, HangingPart::Kind>> nut;
  Hit through, scraping, pass, plunge;
  std::size_t last_asked = 0;
  const std::size_t first = std::min(first_known(), program_.motions.size() + 1) - 1;
  // What no cut of this program can be is not looked for in each.
  bool cuts_may = false;
  for (const auto& [n, h] : hanging_) {
    cuts_may = cuts_may || (h.tool && h.tool->max_plunge > 0) || top_ - tip_cut_.low.z > pass_diameters * 2 * h.radius;
    for (const HangingPart& part : h.parts)
      cuts_may = cuts_may || (part.kind != HangingPart::Kind::tool && tip_cut_.low.z + part.above_tip < top_);
  }
  for (std::size_t i = first; i < program_.motions.size(); ++i) {
    if (!cuts_may && is_cut(program_.motions[i])) continue;
    const Way w = *known_way(i);
    const double low = lowest(w);
    if (asks(w) != Asks::nothing) {
      last_asked = i + 1;
      pieces(w, [&](const WorkPosition& a, const WorkPosition& b) { stock.will_ask(a, b, w.hangs.radius); });
    } else if (!is_cut(w.motion) && low >= top_ && low < top_ + low_rapid_mm &&
               std::hypot(w.to.x - w.from.x, w.to.y - w.from.y) > 2 * w.hangs.radius &&
               stock.over(w.to.x, w.to.y, w.hangs.radius)) {
      scraping.take(low - top_, w.to, w.motion.line);
    }
    for (const HangingPart& part : w.hangs.parts) {
      if (part.kind == HangingPart::Kind::tool) continue;
      // Only where the stock stands: a narrow part may well be lowered beside it.
      if (low + part.above_tip >= top_ - grace_mm) continue;
      pieces(w, [&](const WorkPosition& a, const WorkPosition& b) {
        const auto met = meets(whole, 0, part.above_tip, a, b);
        if (!met || met->depth <= grace_mm) return;
        auto& [hit, kind] = nut[w.hangs.number];
        if (hit.times == 0) kind = part.kind;
        hit.take(met->depth, met->at, w.motion.line);
      });
    }
  }
  for (std::size_t i = first; i < last_asked; ++i)
    if (const Way w = *known_way(i); is_cut(w.motion) && stock.matters(around(w), w.hangs.radius))
      pieces(w, [&](const WorkPosition& a, const WorkPosition& b) {
        stock.will_cut(
            a, b,
            w.hangs.tool ? std::min(w.hangs.radius, std::max(0.1, radius_at(*w.hangs.tool, top_ - std::min(a.z, b.z))))
                         : w.hangs.radius);
      });
  for (std::size_t i = first; i < last_asked; ++i) {
    const Way w = *known_way(i);
    const Asks asked = asks(w);
    if (asked == Asks::nothing && (!is_cut(w.motion) || !stock.matters(around(w), w.hangs.radius))) continue;
    double deepest = 0;
    WorkPosition where;
    pieces(w, [&](const WorkPosition& a, const WorkPosition& b) {
      if (asked != Asks::nothing) {
        WorkPosition at;
        if (const double depth = stock.in_stock(a, b, w.hangs.shape, at); depth > deepest) {
          deepest = depth;
          where = at;
        }
      }
      if (is_cut(w.motion)) stock.cut(a, b, w.hangs.shape);
    });
    if (asked == Asks::rapid && deepest > in_stock_mm) through.take(deepest, where, w.motion.line);
    if (asked == Asks::plunge && deepest > in_stock_mm) plunge.take(program_.feed_of(w.motion), where, w.motion.line);
    if (asked == Asks::pass && deepest > pass_diameters * 2 * w.hangs.radius + in_stock_mm)
      pass.take(deepest / (2 * w.hangs.radius), where, w.motion.line);
  }
  if (through.times > 0)
    add("rapid_in_stock", Weight::stops,
        fmt::format("A rapid goes through standing stock, {} deep at X {} Y {}{}. Lift before it, or feed there.",
                    len(through.depth), bare(through.at.x), bare(through.at.y),
                    through.times > 1 ? fmt::format(", and {} more do", through.times - 1) : ""),
        through.line, through.at);
  if (scraping.times > 0)
    add("low_rapid", Weight::warns,
        fmt::format("A rapid goes across the stock only {} above its top; an uneven stock would be scraped.",
                    len(scraping.depth, 2)),
        scraping.line, scraping.at);
  if (pass.times > 0)
    add("pass_depth", Weight::warns,
        fmt::format("A pass takes {:.1f} times the cutter's diameter at once, at X {} Y {}: it may break. Take it in "
                    "more passes.",
                    pass.depth, bare(pass.at.x), bare(pass.at.y)),
        pass.line, pass.at);
  if (plunge.times > 0)
    add("plunge_fast", Weight::warns,
        fmt::format(
            "It plunges at {:.0f} mm/min, more than the tool may by the sheet Tools. Plunge slower, or come down "
            "along a ramp.",
            plunge.depth),
        plunge.line, plunge.at);
  for (const auto& [tool, entry] : nut) {
    const auto& [hit, kind] = entry;
    add("nut_in_stock", Weight::stops,
        fmt::format("T{} stands out too little: the {} would come {} below the stock's top. Let it stand out further, "
                    "or cut less deep.",
                    tool, called(kind), len(hit.depth)),
        hit.line, hit.at);
  }
}

/// Whether Z is left alone from end to end, heads that their own blocks lower do all the cutting, and nothing stands
/// up.
bool Checker::z_is_left_alone() const {
  if (by_block_.empty() || !book_.job.clamps.empty() || program_.given_in[index(Axis::z)] < program_.motions.size())
    return false;
  for (std::size_t i = 0; i < program_.motions.size(); ++i)
    if (cuts_by_z(i)) return false;
  return true;
}

/// Before X, Y and Z were given nobody knows where the tool stands, so its way there may begin anywhere.
void Checker::first_approach() {
  if (z_is_left_alone()) return;
  const auto given_before = [this](Axis a, std::size_t i) { return program_.given_in[index(a)] < i; };
  const auto first = [&](std::uint32_t line, const std::optional<WorkPosition>& at, const std::string& what) {
    add("first_move", Weight::warns, what + " Stand high, and clear of the clamps, when you start it.", line, at);
  };
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    if (given_before(Axis::x, i) && given_before(Axis::y, i)) return;  // it no longer comes from anywhere
    const Way w = way(i);
    const bool across =
        w.to.x != w.from.x || w.to.y != w.from.y || program_.given_in[0] == i || program_.given_in[1] == i;
    if (!across) continue;
    if (!given_before(Axis::z, i + 1))
      return first(w.motion.line, std::nullopt, "Its first move goes across before it has lifted Z.");
    const double height = given_before(Axis::z, i) ? w.from.z : w.to.z;
    if (height > tallest_ - grace_mm) continue;
    return first(w.motion.line, w.to,
                 fmt::format("Its first way across is at Z {}, where {} may be in it, from wherever the tool comes.",
                             bare(height), height <= top_ ? "the stock" : "a clamp"));
  }
}

}  // namespace ypsi
