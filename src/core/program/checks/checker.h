#pragma once
// The checks of check_program(), a file per kind; for them alone.
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
#include "core/program/z_reference.h"

namespace ypsi {

inline constexpr double chord_mm = 0.05, grace_mm = 0.01, low_rapid_mm = 0.5, in_stock_mm = 0.1;
inline constexpr double diameter_differs_mm = 0.05, diameter_differs_ratio = 0.02;
inline constexpr double usual_cutter_mm = 3, inch = 25.4;

/// One program looked at on one machine.
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

  std::vector<Finding> all();

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

  void zero_and_limits();

  void extents();

  void units();

  void z_reference();

  void stock_edges();

  // --------------------------------------------------------------------------------------------- tools and spindle

  void tools();

  void spindle();

  void say_speed(const Event& e, double speed);

  void feeds();

  // ------------------------------------------------------------------------------------------ what it would meet

  struct Hit {
    double depth = 0;
    WorkPosition at;
    std::uint32_t line = 0;
    std::size_t times = 0;
  };

  void clamps();

  const std::vector<HangingPart>& parts_of(const Motion& m);

  /// Pieces from where X, Y and Z have all been given. Before that nobody knows where it comes from: of the motion that
  /// gives the last of them, the part that is known is where it ends.
  template <class Visit>
  void each_known_piece(Visit visit) const {
    const auto known = [this](std::size_t before) {
      return std::all_of(program_.given_in.begin(), program_.given_in.end(),
                         [before](std::uint32_t in) { return in < before; });
    };
    for (std::size_t i = 0; i < program_.motions.size(); ++i) {
      if (known(i)) {
        pieces(i, [&](const WorkPosition& a, const WorkPosition& b) { visit(i, a, b); });
      } else if (known(i + 1)) {
        WorkPosition from = program_.begin_of(i);
        const WorkPosition& to = program_.motions[i].end;
        for (const Axis a : all_axes)
          if (program_.given_in[index(a)] >= i) from[a] = to[a];
        visit(i, from, to);
      }
    }
  }

  void rapids_and_nut();

  void first_move();

  void machine_words();

  void times();

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

}  // namespace ypsi
