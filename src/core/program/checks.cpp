#include "core/program/checks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/book/tool_change.h"
#include "core/calibration/dial.h"
#include "core/program/arc.h"
#include "core/program/envelope.h"
#include "core/program/spoken_tools.h"
#include "core/program/stock_model.h"
#include "core/program/z_reference.h"

namespace ypsi {
namespace {

constexpr double chord_mm = 0.05, grace_mm = 0.01, low_rapid_mm = 0.5, in_stock_mm = 0.1;
constexpr double diameter_differs_mm = 0.05, diameter_differs_ratio = 0.02;
constexpr double usual_cutter_mm = 3, inch = 25.4;

class Checker {
 public:
  Checker(const Program& program, const Book& book, const CheckSetting& setting)
      : program_(program), book_(book), setting_(setting) {
    const auto& size = book.job.stock_size;
    top_ = book.job.used().on_bed ? size[2] : 0;
    has_stock_ = size[0] > 0 && size[1] > 0 && size[2] > 0;
    for (const Event& e : program.events)
      if (e.kind == EventKind::probe) probing_.insert(e.before);
  }

  std::vector<Finding> all() {
    if (program_.motions.empty()) {
      add("no_moves", Weight::warns, "The program moves nothing.", 0);
      return std::move(found_);
    }
    zero_and_limits();
    extents();
    units();
    z_reference();
    stock_edges();
    tools();
    spindle();
    feeds();
    clamps();
    rapids_and_nut();
    first_move();
    machine_words();
    times();
    std::stable_sort(found_.begin(), found_.end(), [](const Finding& a, const Finding& b) {
      return a.weight != b.weight ? a.weight < b.weight : a.line < b.line;
    });
    return std::move(found_);
  }

 private:
  void add(const char* code, Weight weight, std::string message, std::uint32_t line,
           std::optional<WorkPosition> at = std::nullopt) {
    found_.push_back({code, weight, std::move(message), line, at});
  }
  std::string len(double mm, int decimals = 1) const {
    return format_length(mm, setting_.unit, decimals) + " " + unit_name(setting_.unit);
  }
  std::string bare(double mm, int decimals = 1) const { return format_length(mm, setting_.unit, decimals); }
  const Tool* tool_of(const Motion& m) const { return book_.tool(m.tool != 0 ? m.tool : setting_.tool); }
  double radius_of(const Motion& m) const {
    const Tool* tool = tool_of(m);
    return (tool && tool->diameter > 0 ? tool->diameter : usual_cutter_mm) / 2;
  }
  /// Straight pieces of a motion: itself, or chords of an arc.
  template <class Visit>
  void pieces(std::size_t i, Visit visit) const {
    const Motion& m = program_.motions[i];
    const WorkPosition from = program_.begin_of(i);
    if (!is_arc(m)) return visit(from, m.end);
    const ArcWay way = arc_way(from, m, program_.arcs[m.arc]);
    const int n = way.chords(chord_mm);
    WorkPosition before = from;
    for (int k = 1; k <= n; ++k) {
      const WorkPosition next = k == n ? m.end : way.at(static_cast<double>(k) / n);
      visit(before, next);
      before = next;
    }
  }
  /// Work zero as far as it is set.
  std::optional<double> zero(Axis a) const { return book_.job.zero(a); }

  // ------------------------------------------------------------------------------------------------ where it goes

  void zero_and_limits() {
    std::string missing;
    for (const Axis a : all_axes)
      if (!zero(a)) missing += std::string(missing.empty() ? "" : ", ") + letter(a);
    if (!missing.empty())
      add("no_zero", Weight::stops,
          fmt::format("Work zero of {} is not set, so nobody can say where on the machine this would be cut. Set it on "
                      "the sheet Work zero.",
                      missing),
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

  void extents() {
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

  void units() {
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

  void z_reference() {
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
                      expected == ZReference::bed ? "bed" : "stock's top", on_bed ? "bed" : "stock's top",
                      len(thickness), on_bed ? "deep" : "high", expected == ZReference::bed ? "bed" : "stock's top"),
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

  void stock_edges() {
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

  // --------------------------------------------------------------------------------------------- tools and spindle

  void tools() {
    std::map<int, std::uint32_t> used;  // by number, the first line
    for (const Motion& m : program_.motions)
      if (const int n = m.tool != 0 ? m.tool : setting_.tool; is_cut(m)) used.emplace(n, m.line);
    const auto spoken = spoken_tools(program_);
    for (const auto& [n, line] : used) {
      const Tool* tool = book_.tool(n);
      if (n == 0) {
        add("no_tool", Weight::warns,
            "The program names no tool, and nobody has said which one is in the spindle. Say it on the sheet Tools.",
            line);
        continue;
      }
      if (!tool) {
        add("tool_missing", Weight::stops,
            fmt::format("T{} is not among the tools of this machine. Enter it with its diameter on the sheet Tools.",
                        n),
            line);
        continue;
      }
      if (!(tool->diameter > 0))
        add("tool_size", Weight::warns,
            fmt::format("The diameter of T{} is not known: {} is taken for it.", n, len(usual_cutter_mm)), line);
      const auto said = spoken.find(n);
      if (said != spoken.end() && tool->diameter > 0) {
        const double off = std::fabs(said->second.diameter - tool->diameter);
        if (off > std::max(diameter_differs_mm, diameter_differs_ratio * said->second.diameter))
          add("tool_differs", Weight::stops,
              fmt::format("The program says that T{} has {}, and in the book it has {}: what it cuts would be {} off. "
                          "Put the right tool in, or mend the table.",
                          n, len(said->second.diameter, 2), len(tool->diameter, 2), len(off, 2)),
              said->second.line);
      }
    }
    const FrameZero& frame = book_.job.used();
    for (const Event& e : program_.events)
      if (e.kind == EventKind::tool_offset && e.value != 0) {
        const auto length = length_against_reference(book_, frame.z_tool);
        if (frame.z_tool != 0 && length.value_or(0) != 0)
          add("length_twice", Weight::stops,
              fmt::format("The program adds the tools' lengths (G43), but Z zero was set with T{}, which is {} longer "
                          "than the reference tool: it would be counted twice. Set Z zero with the reference tool.",
                          frame.z_tool, len(*length, 3)),
              e.line);
        break;
      }
  }

  void spindle() {
    bool on = false;
    std::set<double> told;
    std::size_t event = 0;
    bool off_told = false;
    for (std::size_t i = 0; i <= program_.motions.size(); ++i) {
      for (; event < program_.events.size() && program_.events[event].before <= i; ++event) {
        const Event& e = program_.events[event];
        if (e.kind == EventKind::tool_change || e.kind == EventKind::spindle_off || e.kind == EventKind::end)
          on = false;
        if (e.kind != EventKind::spindle_on) continue;
        on = true;
        if (const double speed = std::fabs(e.value); told.insert(speed).second) say_speed(e, speed);
      }
      if (i == program_.motions.size()) break;
      const Motion& m = program_.motions[i];
      if (!on && !off_told && is_cut(m) && !probing_.contains(i) && has_stock_ &&
          std::min(m.end.z, program_.begin_of(i).z) < top_) {
        off_told = true;
        add("spindle_off", Weight::stops,
            "The spindle is off at this cut. The program needs M3 and a speed before it, or the cutter breaks.", m.line,
            program_.begin_of(i));
      }
    }
  }

  void say_speed(const Event& e, double speed) {
    const Spindle& s = book_.machine.spindle;
    if (speed == 0) {
      add("no_speed", Weight::warns, "The spindle is turned on without a speed (S).", e.line);
    } else if (speed > s.max_rpm) {
      add("speed_over", Weight::warns,
          fmt::format("{:.0f} rpm are asked for, and this spindle turns {:.0f} at most.", speed, s.max_rpm), e.line);
    } else if (!s.controlled && !s.dial.empty()) {
      if (const auto position = dial_position(s.dial, speed))
        add("dial", Weight::informs, fmt::format("Set the dial to {:.1f} for {:.0f} rpm.", *position, speed), e.line);
      else
        add("dial", Weight::warns, position.error().message, e.line);
    }
  }

  void feeds() {
    std::size_t over = 0;
    std::uint32_t first = 0;
    double worst = 0, limit = 0;
    for (std::size_t i = 0; i < program_.motions.size(); ++i) {
      const Motion& m = program_.motions[i];
      if (!is_cut(m)) continue;
      const WorkPosition from = program_.begin_of(i);
      const double length = std::hypot(m.end.x - from.x, m.end.y - from.y, m.end.z - from.z);
      double most = 1e9;
      for (const Axis a : all_axes) {
        const double share = is_arc(m)    ? (a == Axis::z ? 0 : 1)
                             : length > 0 ? std::fabs(m.end[a] - from[a]) / length
                                          : 0;
        if (share > 1e-9) most = std::min(most, book_.machine.axis(a).max_rate / share);
      }
      const auto feed = static_cast<double>(m.feed);
      if (feed <= most * 1.001) continue;
      if (over++ == 0) first = m.line;
      if (feed / most > worst) {
        worst = feed / most;
        limit = most;
      }
    }
    if (over > 0)
      add("feed_over", Weight::warns,
          fmt::format(
              "{} moves ask for more than the machine's rate, at worst {:.0f} where {:.0f} mm/min are possible; "
              "they will be slower, and chips finer.",
              over, worst * limit, limit),
          first);
  }

  // ------------------------------------------------------------------------------------------ what it would meet

  struct Hit {
    double depth = 0;
    WorkPosition at;
    std::uint32_t line = 0;
    std::size_t times = 0;
  };

  void clamps() {
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
                "The {} would meet {} at X {} Y {}, {} below its top. Move the clamp, or lift higher between cuts.",
                what, c.name.empty() ? "a clamp" : "“" + c.name + "”", bare(hit.at.x), bare(hit.at.y), len(hit.depth)),
            hit.line, hit.at);
      }
    }
    if (book_.machine.spindle.nut_diameter > 0)
      for (const int n : without_length)
        add("tool_length", Weight::warns,
            fmt::format("How far T{} stands out of the collet is not known: nut and boot are not checked for it.", n),
            0);
  }

  const std::vector<HangingPart>& parts_of(const Motion& m) {
    const int n = m.tool != 0 ? m.tool : setting_.tool;
    const auto found = parts_.find(n);
    if (found != parts_.end()) return found->second;
    auto parts = hanging_parts(book_.tool(n), book_.machine.spindle);
    if (parts.empty() || parts.front().kind != HangingPart::Kind::tool)
      parts.insert(parts.begin(), {HangingPart::Kind::tool, usual_cutter_mm / 2, 0});
    return parts_.emplace(n, std::move(parts)).first->second;
  }

  /// Pieces from where X, Y and Z have all been given: before that nobody knows where it comes from.
  template <class Visit>
  void each_known_piece(Visit visit) const {
    bool known[3] = {};
    for (std::size_t i = 0; i < program_.motions.size(); ++i) {
      const WorkPosition from = program_.begin_of(i), to = program_.motions[i].end;
      if (known[0] && known[1] && known[2])
        pieces(i, [&](const WorkPosition& a, const WorkPosition& b) { visit(i, a, b); });
      for (const Axis a : all_axes) known[index(a)] = known[index(a)] || from[a] != to[a];
    }
  }

  void rapids_and_nut() {
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
          fmt::format(
              "T{} stands out too little: the {} would come {} below the stock's top. Let it stand out further, "
              "or cut less deep.",
              tool != 0 ? tool : setting_.tool, kind == HangingPart::Kind::nut ? "collet nut" : "dust boot",
              len(hit.depth)),
          hit.line, hit.at);
    }
  }

  void first_move() {
    const Motion& first = program_.motions.front();
    const WorkPosition from = program_.begin_of(0);
    const bool across = first.end.x != from.x || first.end.y != from.y, lifts = first.end.z != from.z;
    if (across && !(lifts && first.end.z > top_) && !program_.uses_machine_frame)
      add("first_move", Weight::warns,
          "Its first move goes across before it has lifted Z. Stand high, and clear of the clamps, when you start it.",
          first.line);
  }

  void machine_words() {
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

  void times() {
    if (setting_.end_s.size() != program_.motions.size() || setting_.end_s.empty()) return;
    std::map<int, double> by_tool;
    float before = 0;
    for (std::size_t i = 0; i < program_.motions.size(); ++i) {
      by_tool[program_.motions[i].tool] += static_cast<double>(setting_.end_s[i] - before);
      before = setting_.end_s[i];
    }
    std::string parts;
    if (by_tool.size() > 1)
      for (const auto& [tool, s] : by_tool) parts += fmt::format(", T{} {}", tool, format_duration(s));
    add("time", Weight::informs, fmt::format("About {}{}.", format_duration(static_cast<double>(before)), parts), 0);
  }

  const Program& program_;
  const Book& book_;
  const CheckSetting& setting_;
  std::vector<Finding> found_;
  std::map<int, std::vector<HangingPart>> parts_;
  std::set<std::size_t> probing_;  ///< motions that search with the probe
  WorkPosition cut_low_, cut_high_;
  double top_ = 0;
  bool has_stock_ = false, cuts_ = false;
};

}  // namespace

std::vector<Finding> check_program(const Program& program, const Book& book, const CheckSetting& setting) {
  return Checker(program, book, setting).all();
}

std::size_t count(const std::vector<Finding>& findings, Weight weight) {
  return static_cast<std::size_t>(
      std::count_if(findings.begin(), findings.end(), [weight](const Finding& f) { return f.weight == weight; }));
}

const char* name(Weight weight) {
  return weight == Weight::stops ? "stops" : weight == Weight::warns ? "warns" : "informs";
}

}  // namespace ypsi
