#pragma once
// The checks of judge_program(), a file per kind; for them alone. Places are the tip's.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/book/tool_change.h"
#include "core/calibration/dial.h"
#include "core/program/arc.h"
#include "core/program/checks.h"
#include "core/program/envelope.h"
#include "core/program/spoken_tools.h"
#include "core/program/stock_model.h"
#include "core/program/tip.h"
#include "core/program/tool_shape.h"
#include "core/program/z_reference.h"

namespace ypsi {

inline constexpr double chord_mm = 0.05, near_chord_mm = 0.002, grace_mm = 0.01, limit_grace_mm = 0.0005,
                        low_rapid_mm = 0.5, in_stock_mm = 0.1;
inline constexpr double diameter_differs_mm = 0.05, diameter_differs_ratio = 0.02;
inline constexpr double inch = 25.4;

/// One program looked at on one machine.
class Checker {
 public:
  Checker(const Program& program, const Book& book, const CheckSetting& setting)
      : program_(program), book_(book), setting_(setting), drop_(program, book, setting.tool) {
    const auto& size = book.job.stock_size;
    tallest_ = top_ = book.job.stock_top_z();
    has_stock_ = size[0] > 0 && size[1] > 0 && size[2] > 0;
    for (const Event& e : program.events)
      if (e.kind == EventKind::probe) probing_.insert(e.before);
    find_blocks();
  }

  Judgement all();

 private:
  void add(const char* code, Weight weight, std::string message, std::uint32_t line,
           std::optional<WorkPosition> at = std::nullopt) {
    out_.findings.push_back({code, weight, std::move(message), line, at});
  }
  std::string len(double mm, int decimals = 1) const {
    return format_length(mm, setting_.unit, decimals) + " " + unit_name(setting_.unit);
  }
  std::string bare(double mm, int decimals = 1) const { return format_length(mm, setting_.unit, decimals); }

  /// What hangs on a motion's tool.
  struct Hanging {
    int number = -1;
    const Tool* tool = nullptr;
    double radius = 0;  ///< half of the diameter
    double drop = 0;    ///< of its tip below the place that a motion names
    std::vector<HangingPart> parts;
    std::vector<ToolRing> shape;
  };
  const Hanging& hanging(std::size_t motion) {
    const int n = tool_of(motion);
    if (last_ && last_->number == n) return *last_;
    last_ = &hanging_of(n);
    return *last_;
  }
  const Hanging& hanging_of(int number);
  /// By the program, or the one that is in now.
  int tool_of(std::size_t motion) const { return program_.tool_of(motion, setting_.tool); }

  /// A motion as its tool's tip goes.
  struct Way {
    const Motion& motion;
    WorkPosition from, to;
    const Hanging& hangs;
  };
  Way way(std::size_t i) {
    const Motion& m = program_.motions[i];
    const Hanging& hangs = hanging(i);
    Way w{m, program_.begin_of(i), m.end, hangs};
    w.from.z -= hangs.drop;
    w.to.z -= hangs.drop;
    return w;
  }
  /// Where the program names its start: what an arc's centre is told from.
  static WorkPosition named_start(const Way& w) { return {w.from.x, w.from.y, w.from.z + w.hangs.drop}; }
  Extents extents_of(const Way& w) const;
  /// A box that it does not leave; quick, and of an arc its whole circle's.
  Extents around(const Way& w) const {
    if (is_arc(w.motion)) {
      Extents all = around_arc(named_start(w), w.motion, program_.arc_of(w.motion));
      all.low.z -= w.hangs.drop;
      all.high.z -= w.hangs.drop;
      return all;
    }
    return {{std::min(w.from.x, w.to.x), std::min(w.from.y, w.to.y), std::min(w.from.z, w.to.z)},
            {std::max(w.from.x, w.to.x), std::max(w.from.y, w.to.y), std::max(w.from.z, w.to.z)}};
  }
  double lowest(const Way& w) const {
    return is_arc(w.motion) && program_.arc_of(w.motion).plane != Plane::xy ? extents_of(w).low.z
                                                                            : std::min(w.from.z, w.to.z);
  }
  /// Straight pieces of a motion: itself, or chords of an arc within so much of it.
  template <class Visit>
  void pieces(const Way& w, Visit visit, double within = chord_mm) const {
    if (!is_arc(w.motion)) return visit(w.from, w.to);
    const ArcWay arc = arc_way(named_start(w), w.motion, program_.arc_of(w.motion));
    const int n = arc.chords(within);
    WorkPosition before = w.from;
    for (int k = 1; k <= n; ++k) {
      WorkPosition next = w.to;
      if (k < n) {
        next = arc.at(static_cast<double>(k) / n);
        next.z -= w.hangs.drop;
      }
      visit(before, next);
      before = next;
    }
  }
  /// From which motion on it is known where the tool comes from: X, Y and Z have all been given.
  std::size_t first_known() const {
    return 1 + static_cast<std::size_t>(*std::max_element(program_.given_in.begin(), program_.given_in.end()));
  }
  /// What is known of a motion: all of it, or of the one that gives the last of X, Y and Z where it ends.
  std::optional<Way> known_way(std::size_t i) {
    const std::size_t first = first_known();
    if (i + 1 < first) return std::nullopt;
    Way w = way(i);
    if (i + 1 == first)
      for (const Axis a : all_axes)
        if (program_.given_in[index(a)] >= i) w.from[a] = w.to[a];
    return w;
  }
  /// Work zero as far as it is set.
  std::optional<double> zero(Axis a) const { return book_.job.zero(a); }
  bool has_zero() const { return zero(Axis::x) && zero(Axis::y) && zero(Axis::z); }

  /// Which motions are made with a head that a block of its own has lowered, or a beam switched on: how low Z is says
  /// nothing of what they cut, nor does the tool in the spindle.
  void find_blocks();
  bool z_is_left_alone() const;
  bool by_block(std::size_t motion) const { return motion < by_block_.size() && by_block_[motion]; }
  bool cuts_by_z(std::size_t motion) const { return is_cut(program_.motions[motion]) && !by_block(motion); }

  // where.cpp: where it goes
  void zero_and_limits();
  void extents();
  void past_edge(const Way& w, const Extents& reach);
  void units();
  void z_reference();
  void stock_edges();
  void frames();

  // tools.cpp: what it cuts with, how fast and how long
  void tools();
  void spoken(const std::map<int, std::uint32_t>& used);  ///< tools that cut, with the first line
  void lengths();
  bool rests(const Tool* tool) const;
  void spindle();
  void say_speed(const Event& e, double speed);
  void feeds();
  void times();

  // bodies.cpp: what it would meet
  struct Hit {
    double depth = 0;
    WorkPosition at;
    std::uint32_t line = 0;
    std::size_t times = 0;
    void take(double deep, const WorkPosition& where, std::uint32_t in) {
      if (times++ == 0) {
        line = in;
        at = where;
      }
      depth = std::max(depth, deep);
    }
  };
  struct Obstacle {
    const Clamp& clamp;
    Box box;
    std::map<HangingPart::Kind, Hit> hits;
  };
  /// Of a clamp, work frame; zero of X and Y in machine coordinates.
  Box box_of(const Clamp& clamp, double zero_x, double zero_y) const;
  void clamps();
  void clearance(const Way& w, const Extents& reach, const std::vector<Obstacle>& obstacles);
  void stock();
  void first_approach();

  // heads.cpp: what it does with heads
  void beams();
  void kept_settings();

  // lowered.cpp: where heads go that their own blocks have lowered
  void lowered_heads();
  struct LoweredWay;
  void lowered_on_stock(const std::vector<LoweredWay>& ways);
  void lowered_on_zones(const std::vector<LoweredWay>& ways);  ///< of one head
  void lowered_into_things(const std::vector<LoweredWay>& ways);
  void marked_last();
  /// Of each head one of a code.
  void tell_once(const char* code, const Head& head, Weight weight, std::string message, std::uint32_t line,
                 const WorkPosition& at);

  // acts.cpp: what happens between moves, how it begins and ends
  void references();
  void acts();
  void made_of();
  void end();
  void passed_over();

  const Program& program_;
  const Book& book_;
  const CheckSetting& setting_;
  TipDrop drop_;
  Judgement out_;
  std::map<int, Hanging> hanging_;
  const Hanging* last_ = nullptr;
  std::vector<bool> by_block_;                ///< by motion; empty: none
  std::set<std::string> told_of_heads_;       ///< codes with heads' names
  std::set<std::size_t> probing_;             ///< motions that search with the probe
  Extents tip_cut_;                           ///< of cutting moves, the tip's alone
  std::map<int, Hit> past_edges_;             ///< by tool, how deep it went where its edges do not reach
  std::array<std::uint32_t, 4> edge_line_{};  ///< that reach farthest to the left, right, front and back
  double top_ = 0;
  double tallest_ = 0;  ///< of stock and clamps
  bool has_stock_ = false, cuts_ = false;
};

}  // namespace ypsi
