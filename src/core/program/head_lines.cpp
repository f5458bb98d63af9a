#include "core/program/head_lines.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/program/knife_path.h"
#include "core/program/program_head.h"
#include "core/program/read_setting.h"
#include "core/program/reader.h"
#include "core/program/rests_on.h"

namespace ypsi {
namespace {

constexpr double farthest_line_mm = 1e5;

/// Where a cutter that goes deeper is lifted, by the moves of its path.
struct Tabs {
  const std::vector<bool>* over = nullptr;
  double depth = 0;
};

class HeadWriter {
 public:
  HeadWriter(const Book& book, const HeadLinesSetting& setting) : book_(book), s_(setting) {
    heads_ = book.machine.heads;
    if (heads_.empty()) heads_.emplace_back().name = "spindle";
    top_ = book.job.stock_top_z();
  }

  std::size_t head_count() const { return heads_.size(); }
  const Head& head(std::size_t i) const { return heads_[i]; }

  /// `by_z`: a head among them goes down by Z. Where none does, and nothing stands up, Z is nobody's business: it may
  /// have been zeroed close below its end.
  void begin(bool by_z) {
    ProgramHead head;
    head.remarks = {plain_words(s_.title)};
    if (!s_.rests_on.empty()) head.remarks.push_back(s_.rests_on);
    head.zero = book_.job.used().on_bed ? "on the bed" : "on the stock's top";
    head.frame = book_.job.frame;
    const double clamps = tallest_clamp(book_);
    lift_ = top_ + std::max(s_.lift, clamps + over_clamps_mm);
    head.lift = by_z || clamps > 0 ? std::optional(lift_) : std::nullopt;
    head.rpm = s_.rpm;
    head.tool = book_.machine.no_tool_words ? 0 : s_.tool;
    tool_ = s_.tool;
    head.spin_up_s = spin_up_of(book_.machine.spindle);
    lifted_ = head.lift.has_value();
    rpm_ = head.rpm;
    text_ = program_head(head);
  }

  void line(const HeadLine& l) {
    if (l.run_up_x != 0 || l.run_up_y != 0) come_from(l.head, {l.x0 + l.run_up_x, l.y0 + l.run_up_y});
    cut(l.head, {{l.x0, l.y0}, {{{l.x1, l.y1}}}}, l.depth.value_or(s_.depth), l.before, l.level.value_or(0),
        l.feed.value_or(s_.feed));
  }

  void cut(std::size_t which, const KnifePath& path, double depth, const std::string& before, double level, double feed,
           const Tabs& tabs = {}) {
    const Head& h = heads_[which];
    const auto act = [&](HeadAct a) {
      if (!block_of(h, a).empty()) text_ += own_block(h, a, level) + "\n";
    };
    choose(which);
    const auto to = [&](PlanPoint p) { return place_of(h, p); };
    text_ += "G0 " + to(path.start) + "\n";
    if (!before.empty()) text_ += fmt::format("({})\nM0\n", plain_words(before));
    if (h.lower.empty()) {
      // A beam shines on its way alone, not while it comes down to its height.
      if (h.kind != HeadKind::beam) act(HeadAct::on);
      text_ += fmt::format("G1 Z{:.3f} F{:.0f}\n", h.kind == HeadKind::beam ? beam_height(h) : top_ - depth, s_.down);
      if (h.kind == HeadKind::beam) act(HeadAct::on);
    } else {
      act(HeadAct::lower);
      text_ += fmt::format("G4 P{:g}\n", holder_dwell_s);
      act(HeadAct::on);
    }
    PlanPoint from = path.start;
    const bool lifts = tabs.over && h.lower.empty() && h.kind != HeadKind::beam && depth > tabs.depth;
    bool lifted = false;
    for (std::size_t i = 0; i < path.moves.size(); ++i) {
      const KnifeMove& m = path.moves[i];
      const bool over = lifts && i + 1 < tabs.over->size() && (*tabs.over)[i + 1];
      if (std::exchange(lifted, over) != over)
        text_ += fmt::format("G1 Z{:.3f} F{:.0f}\n", top_ - (over ? tabs.depth : depth), s_.down);
      const PlanPoint centre = m.centre - from;
      text_ += m.arc ? fmt::format("{} {} I{:.4f} J{:.4f} F{:.0f}\n", m.counter_clockwise ? "G3" : "G2", to(m.to),
                                   centre.real(), centre.imag(), feed)
                     : fmt::format("G1 {} F{:.0f}\n", to(m.to), feed);
      from = m.to;
    }
    act(HeadAct::off);
    if (h.lower.empty()) {
      text_ += fmt::format("G0 Z{:.3f}\n", lift_);
    } else {
      act(HeadAct::raise);
      text_ += fmt::format("G4 P{:g}\n", holder_dwell_s);
    }
  }

  void remark(const std::string& words) {
    if (!words.empty() && std::exchange(remark_, words) != words) text_ += fmt::format("({})\n", plain_words(words));
  }
  void take_tool(int tool) {
    if (tool <= 0 || std::exchange(tool_, tool) == tool) return;
    spin(0);
    text_ += book_.machine.no_tool_words ? fmt::format("(put T{} in)\nM0\n", tool) : fmt::format("T{} M6\n", tool);
    if (lifted_) text_ += fmt::format("G0 Z{:.3f}\n", lift_);
  }
  void spin(double rpm) {
    if (std::exchange(rpm_, rpm) == rpm) return;
    text_ += rpm > 0 ? fmt::format("S{:.0f} M3\nG4 P{:g}\n", rpm, spin_up_of(book_.machine.spindle)) : "M5\n";
  }

  std::string end() {
    if (s_.rpm > 0 || rpm_ > 0) text_ += "M5\n";
    text_ += "M2\n";
    return std::move(text_);
  }

 private:
  void choose(std::size_t which) {
    if (std::exchange(chosen_, which) != which) text_ += fmt::format("(head: {})\n", plain_words(heads_[which].name));
  }
  /// S - place: where the first must stand so that this one is over S.
  static std::string place_of(const Head& h, PlanPoint over) {
    const PlanPoint at = over - (h.place ? PlanPoint(h.place->x_mm, h.place->y_mm) : PlanPoint());
    return fmt::format("X{:.3f} Y{:.3f}", at.real(), at.imag());
  }
  void come_from(std::size_t which, PlanPoint over) {
    choose(which);
    text_ += "G0 " + place_of(heads_[which], over) + "\n";
  }
  /// Where it is narrowest on the stock's top, as far as that was found; else the top itself.
  double beam_height(const Head& beam) const {
    const auto& zero = book_.job.zero(Axis::z);
    if (!beam.focus_z_mm || !zero || !(book_.job.stock_size[2] > 0)) return top_;
    return *beam.focus_z_mm + (book_.job.stock_top_z() - book_.job.bed_z()) - *zero;
  }
  const Book& book_;
  const HeadLinesSetting& s_;
  std::vector<Head> heads_;
  std::optional<std::size_t> chosen_;
  int tool_ = 0;
  double rpm_ = 0;
  std::string remark_;
  double top_ = 0, lift_ = 5;
  bool lifted_ = true;
  std::string text_;
};

/// What must hold before anything is written with it.
Result<void> usable(const HeadLinesSetting& setting) {
  const struct {
    double value;
    const char* name;
  } positive[] = {
      {setting.depth, "depth"}, {setting.lift, "lift"}, {setting.feed, "feed"}, {setting.down, "feed down"}};
  for (const auto& p : positive)
    if (!(p.value > 0) || !std::isfinite(p.value))
      return fail("out_of_range", fmt::format("The {} must be above zero.", p.name), p.name);
  return {};
}

/// Whether a head can be sent somewhere.
Result<void> can_be_sent(const HeadWriter& writer, std::size_t which, bool unmeasured_at_zero) {
  if (which >= writer.head_count()) return fail("out_of_range", "There is no such head on this machine.", "head");
  const Head& h = writer.head(which);
  if (which > 0 && !h.place && !unmeasured_at_zero)
    return fail("no_place",
                fmt::format("Where the {} stands against the {} was not measured yet; do that on the sheet Heads.",
                            h.name, writer.head(0).name),
                "head");
  if (!h.lower.empty() && h.raise.empty())
    return fail("no_raise", fmt::format("The {} has a block that lowers it and none that raises it.", h.name), "head");
  return {};
}

/// Whether its own blocks say all that they must.
Result<void> can_be_set(const Head& h, std::optional<double> level) {
  if (level && above_cap(h, *level))
    return fail("over_cap",
                fmt::format("{:g} is above the {:g} that the {} may have at most (Build).", *level, h.cap, h.name),
                "level");
  for (const HeadAct act : all_head_acts)
    if (!level && says_level(h, act))
      return fail("no_level", fmt::format("The blocks of the {} want a level, and none is said.", h.name), "level");
  return {};
}

Result<HeadProgram> as_read_back(const Book& book, std::string text) {
  auto read = read_program(text, read_setting(book));
  if (!read) return tl::make_unexpected(read.error());
  return HeadProgram{std::move(text), std::move(*read)};
}

/// What a head's pivot does along a line: a drag knife's goes on past corners.
Result<KnifePath> way_along(const Head& head, const std::vector<PlanPoint>& points, double lead_in, double overcut) {
  if (head.kind == HeadKind::drag_knife) {
    if (!head.trailing_mm)
      return fail("no_trailing",
                  fmt::format("How far the {} trails was not measured yet; do that on the sheet Heads.", head.name),
                  "head");
    return knife_path(points, {.trailing = *head.trailing_mm, .lead_in = lead_in, .overcut = overcut});
  }
  KnifePath path;
  path.start = points.front();
  for (std::size_t i = 1; i < points.size(); ++i) path.moves.push_back({points[i]});
  return path;
}

}  // namespace

Result<HeadProgram> head_lines_program(const Book& book, const std::vector<HeadLine>& lines,
                                       const HeadLinesSetting& setting) {
  if (lines.empty()) return fail("too_few", "There is no line to cut.", "lines");
  if (auto ok = usable(setting); !ok) return tl::make_unexpected(ok.error());
  HeadWriter writer(book, setting);
  for (const HeadLine& l : lines) {
    if (auto ok = can_be_sent(writer, l.head, setting.unmeasured_at_zero); !ok) return tl::make_unexpected(ok.error());
    if (auto ok = can_be_set(writer.head(l.head), l.level); !ok) return tl::make_unexpected(ok.error());
    if (l.feed && !(*l.feed > 0 && *l.feed < farthest_line_mm))
      return fail("out_of_range", "The feed must be above zero.", "lines");
    for (const double v : {l.x0, l.y0, l.x1, l.y1, l.depth.value_or(1)})
      if (!(std::fabs(v) < farthest_line_mm)) return fail("out_of_range", "A line ends too far away.", "lines");
  }
  writer.begin(
      std::any_of(lines.begin(), lines.end(), [&](const HeadLine& l) { return writer.head(l.head).lower.empty(); }));
  for (const HeadLine& l : lines) writer.line(l);
  return as_read_back(book, writer.end());
}

Result<HeadProgram> knife_program(const Book& book, std::size_t head,
                                  const std::vector<std::vector<PlanPoint>>& contours,
                                  const HeadLinesSetting& setting) {
  std::vector<HeadPath> paths;
  paths.reserve(contours.size());
  for (const auto& contour : contours)
    paths.push_back({.head = head, .points = contour, .depth = setting.depth, .rpm = setting.rpm});
  return head_paths_program(book, paths, setting);
}

Result<HeadProgram> head_paths_program(const Book& book, const std::vector<HeadPath>& paths,
                                       const HeadLinesSetting& setting) {
  if (paths.empty()) return fail("too_few", "There is no line to cut.", "paths");
  if (auto ok = usable(setting); !ok) return tl::make_unexpected(ok.error());
  HeadWriter writer(book, setting);
  struct Ready {
    const HeadPath* of;
    KnifePath path;
  };
  std::vector<Ready> all;
  for (const HeadPath& p : paths) {
    if (auto ok = can_be_sent(writer, p.head, setting.unmeasured_at_zero); !ok) return tl::make_unexpected(ok.error());
    const Head& head = writer.head(p.head);
    if (auto ok = can_be_set(head, p.level); !ok) return tl::make_unexpected(ok.error());
    const bool by_z = head.lower.empty() && head.kind != HeadKind::beam;
    if ((by_z && !(p.depth > 0 && p.depth < farthest_line_mm)) || !(p.feed >= 0 && p.feed < farthest_line_mm) ||
        !(p.rpm >= 0) || p.passes < 1)
      return fail("out_of_range", fmt::format("Say how deep the {} goes, above zero, in how many passes.", head.name),
                  "paths");
    if (p.points.size() < 2) return fail("too_few", "A line needs two points.", "paths");
    if (std::any_of(p.points.begin(), p.points.end(), [](const PlanPoint& at) {
          return !(std::fabs(at.real()) < farthest_line_mm) || !(std::fabs(at.imag()) < farthest_line_mm);
        }))
      return fail("out_of_range", "A line ends too far away.", "paths");
    auto path = way_along(head, p.points, p.lead_in, p.overcut);
    if (!path) return tl::make_unexpected(path.error());
    all.push_back({&p, std::move(*path)});
  }
  writer.begin(
      std::any_of(paths.begin(), paths.end(), [&](const HeadPath& p) { return writer.head(p.head).lower.empty(); }));
  for (const Ready& ready : all) {
    const HeadPath& p = *ready.of;
    writer.remark(p.remark);
    writer.take_tool(p.tool);
    writer.spin(p.rpm);
    for (int pass = 1; pass <= p.passes; ++pass)
      writer.cut(p.head, ready.path, p.depth * pass / p.passes, {}, p.level.value_or(0),
                 p.feed > 0 ? p.feed : setting.feed, {p.over_tab.empty() ? nullptr : &p.over_tab, p.tab_depth});
  }
  return as_read_back(book, writer.end());
}

std::vector<HeadLine> cross_lines(std::size_t first, std::size_t other, double x, double y, double length) {
  std::vector<HeadLine> lines;
  for (const std::size_t head : {first, other}) {
    lines.push_back({.head = head, .x0 = x - length / 2, .y0 = y, .x1 = x + length / 2, .y1 = y});
    lines.push_back({.head = head, .x0 = x, .y0 = y - length / 2, .x1 = x, .y1 = y + length / 2});
  }
  return lines;
}

std::vector<HeadLine> facing_lines(std::size_t head, double x, double y, double length) {
  return {{.head = head, .x0 = x - length, .y0 = y, .x1 = x, .y1 = y},
          {.head = head, .x0 = x + length, .y0 = y, .x1 = x, .y1 = y}};
}

std::vector<HeadLine> trial_lines(std::size_t head, const std::vector<double>& levels, const std::string& gauge,
                                  double x, double y, double length, double apart) {
  std::vector<HeadLine> lines;
  for (std::size_t i = 0; i < levels.size(); ++i) {
    const double at = y + apart * static_cast<double>(i);
    lines.push_back({.head = head,
                     .x0 = x,
                     .y0 = at,
                     .x1 = x + length,
                     .y1 = at,
                     .before = fmt::format("set {:g}{}{}", levels[i], gauge.empty() ? "" : " ", gauge)});
  }
  return lines;
}

}  // namespace ypsi
