#include "core/drawing_in/drawing_program.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <limits>
#include <numbers>
#include <tuple>
#include <utility>

#include "core/drawing_in/drawing_basis.h"
#include "core/drawing_in/lead_in.h"
#include "core/drawing_in/tabs.h"
#include "core/outline/hatch.h"
#include "core/program/tool_shape.h"

namespace ypsi {
namespace {

constexpr double lifted_at_rad = 0.5236;           // corners sharper than 30 degrees
constexpr std::size_t ordered_by_distance = 6000;  // beyond it lines are cut in the order of the file
constexpr double usual_drawing_feed = 1000, largest_unit_mm = 1e6;
constexpr std::array<std::pair<std::string_view, double>, 5> named_units{
    {{"mm", 1}, {"cm", 10}, {"m", 1000}, {"in", 25.4}, {"ft", 304.8}}};

/// A line that is to be cut, and where it comes in the order.
struct DrawnCut {
  HeadPath path;
  int rank = 0, within = 0;  ///< how many others of its rank it lies within
  bool closed = false;
  const LayerAct* act = nullptr;
};

int rank_of(DrawnAct act) {
  switch (act) {
    case DrawnAct::mark:
      return 0;
    case DrawnAct::crease:
      return 1;
    case DrawnAct::engrave:
    case DrawnAct::hatch:
      return 2;
    default:
      return 3;
  }
}

/// What is cut of one contour: itself, or beside it.
Result<std::vector<std::vector<PlanPoint>>> lines_of(const Book& book, const LayerAct& act, const DrawnContour& c) {
  if (act.act != DrawnAct::outside && act.act != DrawnAct::inside) return std::vector<std::vector<PlanPoint>>{c.points};
  const Tool* tool = book.tool(act.tool);
  if (!tool || !(tool->diameter > 0))
    return fail("no_diameter",
                fmt::format("To cut “{}” beside its line, say with which tool, and how wide that is.", act.layer),
                act.layer);
  if (!c.closed)
    return fail(
        "open_outline",
        fmt::format("“{}” is to be cut beside its line, and an outline of it is open near X {:.2f} Y {:.2f}; close "
                    "it in the drawing, or cut on the line.",
                    act.layer, c.points.front().real(), c.points.front().imag()),
        std::to_string(c.source));
  auto beside = beside_outline(c.points, (act.act == DrawnAct::outside ? 1 : -1) * tool->diameter / 2);
  if (beside && beside->empty())
    return fail("too_narrow",
                fmt::format("T{} is too wide to go inside an outline of “{}” near X {:.2f} Y {:.2f}.", act.tool,
                            act.layer, c.points.front().real(), c.points.front().imag()),
                std::to_string(c.source));
  return beside;
}

/// What is drawn of a hatched layer.
Result<std::vector<std::vector<PlanPoint>>> hatch_of(const Book& book, const LayerAct& act, const Drawing& drawing) {
  std::vector<Outline> outlines;
  for (const DrawnContour& c : drawing.contours) {
    if (drawing.layers[c.layer].name != act.layer) continue;
    if (!c.closed)
      return fail("open_outline",
                  fmt::format("“{}” is to be hatched, and an outline of it is open near X {:.2f} Y {:.2f}; close it in "
                              "the drawing, or engrave its lines.",
                              act.layer, c.points.front().real(), c.points.front().imag()),
                  std::to_string(c.source));
    outlines.push_back(c.points);
  }
  const Tool* tool = book.tool(act.tool);
  const double radius = tool && tool->diameter > 0 ? radius_at(*tool, act.depth_mm) : 0;
  constexpr double overlapping = 0.8;  // of what the tool is wide, so that no ridge is left between lines
  const double spacing = act.hatch_mm > 0 ? act.hatch_mm : 2 * radius * overlapping;
  if (!(spacing > 0))
    return fail(
        "no_spacing",
        fmt::format("Say how far apart the lines are with which “{}” is hatched, or with which tool.", act.layer),
        act.layer);
  return hatch(outlines, {.spacing = spacing,
                          .angle = act.hatch_deg * std::numbers::pi / 180,
                          .inset = radius,
                          .one_way = act.hatch_one_way,
                          .with_outline = !act.hatch_bare});
}

bool is_corner(PlanPoint before, PlanPoint at, PlanPoint after) {
  return turns_by_more(before, at, after, lifted_at_rad);
}

/// The same closed line begun at its first corner, if it has one.
Outline from_a_corner(Outline line) {
  line.pop_back();
  const std::size_t n = line.size();
  for (std::size_t i = 0; i < n; ++i)
    if (is_corner(line[(i + n - 1) % n], line[i], line[(i + 1) % n])) {
      std::rotate(line.begin(), line.begin() + static_cast<std::ptrdiff_t>(i), line.end());
      break;
    }
  line.push_back(line.front());
  return line;
}

/// Parts of a line between corners at which something that cannot turn in the material is lifted.
std::vector<Outline> lifted_at_corners(const Outline& line) {
  std::vector<Outline> parts(1);
  for (std::size_t i = 0; i < line.size(); ++i) {
    parts.back().push_back(line[i]);
    if (i > 0 && i + 1 < line.size() && is_corner(line[i - 1], line[i], line[i + 1])) parts.push_back({line[i]});
  }
  return parts;
}

/// Where a closed line goes on past its start, along itself.
void run_on(Outline& line, double mm) {
  for (std::size_t i = 1, n = line.size(); i < n && mm > 0; ++i) {
    const PlanPoint way = line[i] - line[i - 1];
    const double length = std::abs(way);
    if (length > 0) line.push_back(line[i - 1] + way * std::min(1.0, mm / length));
    mm -= length;
  }
}

/// A part's end goes on straight.
void go_on_straight(Outline& part, bool at_its_start, double mm) {
  if (part.size() < 2 || !(mm > 0)) return;
  PlanPoint& end = at_its_start ? part.front() : part.back();
  const PlanPoint way = end - (at_its_start ? part[1] : part[part.size() - 2]);
  if (std::abs(way) > 0) end += way / std::abs(way) * mm;
}

/// Parts of a wheel's or a creaser's line, each run on past the corners between them.
std::vector<Outline> parts_of(const Outline& line, bool closed, double overcut) {
  const Outline begun = closed ? from_a_corner(line) : line;
  auto parts = lifted_at_corners(begun);
  const bool round = closed && !is_corner(begun[begun.size() - 2], begun.front(), begun[1]);
  if (round) run_on(parts.front(), overcut);
  for (std::size_t i = 0; !round && i < parts.size(); ++i) {
    if (closed || i > 0) go_on_straight(parts[i], true, overcut);
    if (closed || i + 1 < parts.size()) go_on_straight(parts[i], false, overcut);
  }
  return parts;
}

/// Counts within how many others of its rank each closed line lies.
void nest(std::vector<DrawnCut>& cuts) {
  if (cuts.size() > ordered_by_distance) return;
  std::vector<double> areas;
  areas.reserve(cuts.size());
  for (const DrawnCut& c : cuts) areas.push_back(c.closed ? area_of(c.path.points) : 0);
  for (std::size_t i = 0; i < cuts.size(); ++i)
    for (std::size_t j = 0; j < cuts.size(); ++j)
      if (i != j && cuts[j].closed && cuts[i].rank == cuts[j].rank && areas[j] > areas[i] &&
          lies_within(cuts[i].path.points.front(), cuts[j].path.points))
        ++cuts[i].within;
}

bool comes_before(const DrawnCut& a, const DrawnCut& b) {
  return std::tuple(a.rank, a.path.head, a.path.tool, -a.within) <
         std::tuple(b.rank, b.path.head, b.path.tool, -b.within);
}

/// Of those that may come next the nearest; an open line is begun at its nearer end.
std::vector<DrawnCut> in_order(std::vector<DrawnCut> cuts, PlanPoint at) {
  std::stable_sort(cuts.begin(), cuts.end(), comes_before);
  if (cuts.size() > ordered_by_distance) return cuts;
  std::vector<DrawnCut> ordered;
  for (auto group = cuts.begin(); group != cuts.end();) {
    const auto end = std::find_if(group, cuts.end(), [&](const DrawnCut& c) { return comes_before(*group, c); });
    for (; group != end; ++group) {
      auto nearest = group;
      double least = std::numeric_limits<double>::infinity();
      bool turned = false;
      for (auto c = group; c != end; ++c) {
        const double ahead = std::abs(c->path.points.front() - at),
                     back = c->act->hatch_one_way ? ahead : std::abs(c->path.points.back() - at);
        if (const double way = std::min(ahead, back); way < least) {
          least = way;
          nearest = c;
          turned = !c->closed && !c->act->hatch_one_way && back < ahead;
        }
      }
      std::swap(*group, *nearest);
      if (turned) std::reverse(group->path.points.begin(), group->path.points.end());
      at = group->path.points.back();
      ordered.push_back(std::move(*group));
    }
  }
  return ordered;
}

Result<std::vector<DrawnCut>> cuts_of(const Book& book, const Drawing& drawing, const DrawingJob& job) {
  std::vector<DrawnCut> cuts;
  for (const LayerAct& act : job.acts) {
    if (act.act == DrawnAct::leave_out) continue;
    const auto is_on = [&](const DrawnContour& c) { return drawing.layers[c.layer].name == act.layer; };
    if (std::none_of(drawing.contours.begin(), drawing.contours.end(), is_on)) continue;
    const auto head = head_of(book, act);
    if (!head) return tl::make_unexpected(head.error());
    const auto add = [&](const std::vector<std::vector<PlanPoint>>& lines) {
      for (const auto& line : lines) {
        DrawnCut cut;
        cut.rank = rank_of(act.act);
        cut.closed = line.size() > 2 && line.front() == line.back();
        cut.act = &act;
        cut.path = {.head = *head, .tool = act.tool, .points = line, .depth = act.depth_mm, .passes = act.passes};
        cut.path.level = act.level;
        cut.path.feed = act.feed_mm_min;
        cut.path.rpm = act.rpm;
        cut.path.remark = act.layer;
        cuts.push_back(std::move(cut));
      }
    };
    if (act.act == DrawnAct::hatch) {
      const auto lines = hatch_of(book, act, drawing);
      if (!lines) return tl::make_unexpected(lines.error());
      add(*lines);
      continue;
    }
    for (const DrawnContour& c : drawing.contours) {
      if (!is_on(c)) continue;
      const auto lines = lines_of(book, act, c);
      if (!lines) return tl::make_unexpected(lines.error());
      add(*lines);
    }
  }
  if (cuts.empty())
    return fail("nothing_to_do", "No layer of this drawing has anything to be done with it; say what, layer by layer.",
                "acts");
  return cuts;
}

/// Whether a head goes down by Z; without heads in the book the spindle does.
bool goes_by_z(const Book& book, std::size_t head) {
  const auto& heads = book.machine.heads;
  return head >= heads.size() || (heads[head].lower.empty() && heads[head].kind != HeadKind::beam);
}

/// Tabs, lead-in and overcut as the layer wants them and the head can make them.
void append_finished(DrawnCut cut, const Book& book, const OutlinesAround& around, std::vector<HeadPath>& paths) {
  const auto& heads = book.machine.heads;
  const HeadKind kind = cut.path.head < heads.size() ? heads[cut.path.head].kind : HeadKind::spindle;
  const bool by_z = goes_by_z(book, cut.path.head);
  const bool lifts_at_corners = kind == HeadKind::wheel || kind == HeadKind::creaser;
  const LayerAct& act = *cut.act;
  const bool beside = act.act == DrawnAct::outside || act.act == DrawnAct::inside,
             cut_out = beside || act.act == DrawnAct::on_line;
  Outline& line = cut.path.points;
  const auto as_path = [&](Outline points) {
    HeadPath path = cut.path;
    path.points = std::move(points);
    path.over_tab.clear();
    return path;
  };
  Outline way_in;
  if (kind == HeadKind::drag_knife) {
    cut.path.lead_in = act.lead_in_mm;
  } else if (cut.closed && beside && act.lead_in_mm > 0 && !lifts_at_corners) {
    way_in = begin_with_lead_in(line, act.lead_in_mm, act.act == DrawnAct::outside, around);
  }
  if (cut.closed && cut_out && act.tabs > 0) {
    auto over = with_tabs(line, act.tabs, way_over_tab(book, act));
    if (!over.empty() && !by_z) {  // it cannot go over them
      for (auto& part : between_tabs(line, over))
        for (auto& piece : lifts_at_corners ? parts_of(part, false, act.overcut_mm) : std::vector<Outline>{part})
          paths.push_back(as_path(std::move(piece)));
      return;
    }
    cut.path.over_tab = std::move(over);
    cut.path.tab_depth = act.tab_high_mm > 0 ? std::max(0.0, act.depth_mm - act.tab_high_mm) : 0;
  }
  if (lifts_at_corners) {
    for (auto& part : parts_of(line, cut.closed, act.overcut_mm)) paths.push_back(as_path(std::move(part)));
    return;
  }
  if (kind == HeadKind::drag_knife) {
    cut.path.overcut = act.overcut_mm;
  } else if (cut.closed) {
    const std::size_t once = line.size();
    run_on(line, act.overcut_mm);
    auto& over = cut.path.over_tab;
    for (std::size_t i = once; !over.empty() && i < line.size(); ++i) over.push_back(bool(over[i - once + 1]));
  }
  line.insert(line.begin(), way_in.begin(), way_in.end());
  if (!cut.path.over_tab.empty()) cut.path.over_tab.insert(cut.path.over_tab.begin(), way_in.size(), false);
  paths.push_back(std::move(cut.path));
}

}  // namespace

std::optional<double> unit_by_name(std::string_view unit) {
  for (const auto& [name, mm] : named_units)
    if (unit == name) return mm;
  double mm = 0;
  const auto [end, wrong] = std::from_chars(unit.data(), unit.data() + unit.size(), mm);
  if (wrong != std::errc() || end != unit.data() + unit.size() || !(mm > 0 && mm < largest_unit_mm))
    return std::nullopt;
  return mm;
}

std::string name_of_unit(double mm) {
  constexpr double as_good_as = 5e-3;  // of a dimension that was measured
  for (const auto& [name, of] : named_units)
    if (std::fabs(mm / of - 1) < as_good_as) return std::string(name);
  return fmt::format("{:.6g}", mm);
}

double way_over_tab(const Book& book, const LayerAct& act) {
  const auto head = head_of(book, act);
  const Tool* tool = book.tool(act.tool);
  return act.tab_mm + (tool && head && act.tab_mm > 0 && goes_by_z(book, *head) ? tool->diameter : 0);
}

Result<std::size_t> head_of(const Book& book, const LayerAct& act) {
  std::string name = act.head;
  if (act.tool > 0) {
    const Tool* tool = book.tool(act.tool);
    if (!tool)
      return fail("no_tool", fmt::format("“{}” wants T{}, and the book has no such tool.", act.layer, act.tool),
                  act.layer);
    if (!tool->head.empty()) name = tool->head;
  }
  const auto& heads = book.machine.heads;
  if (name.empty()) return std::size_t{0};
  const auto found = std::find_if(heads.begin(), heads.end(), [&](const Head& h) { return h.name == name; });
  if (found == heads.end())
    return fail("no_head",
                fmt::format("“{}” wants the head “{}”, and the machine has none of that name.", act.layer, name),
                act.layer);
  return static_cast<std::size_t>(found - heads.begin());
}

std::vector<PlanPoint> copy_shifts(const Drawing& drawing, const DrawingJob& job) {
  const auto box = drawing.extents();
  if (!box) return {};
  const PlanPoint zero = job.zero_mm ? PlanPoint((*job.zero_mm)[0], (*job.zero_mm)[1]) : box->low,
                  pitch = box->high - box->low + PlanPoint(1, 1) * job.gap_mm;
  std::vector<PlanPoint> all;
  for (int row = 0; row < job.rows; ++row)
    for (int column = 0; column < job.columns; ++column)
      all.push_back(PlanPoint(pitch.real() * column, pitch.imag() * row) - zero);
  return all;
}

namespace {

/// The closed lines that are cut out, to be looked up by what they lie near.
class CutsAround {
 public:
  explicit CutsAround(const std::vector<DrawnCut>& cuts) : cuts_(cuts) {
    for (std::size_t i = 0; i < cuts.size() && cuts.size() <= ordered_by_distance; ++i)
      if (const DrawnAct act = cuts[i].act->act;
          cuts[i].closed && (act == DrawnAct::outside || act == DrawnAct::inside || act == DrawnAct::on_line))
        boxes_.emplace_back(i, box_of(cuts[i].path.points, 0));
  }
  /// Of one of them, where it wants a way in; none for the others.
  OutlinesAround of(std::size_t cut) const {
    OutlinesAround near;
    if (!(cuts_[cut].act->lead_in_mm > 0)) return near;
    const Drawing::Box reach = box_of(cuts_[cut].path.points, 2 * cuts_[cut].act->lead_in_mm);
    for (const auto& [other, box] : boxes_)
      if (other != cut && box.low.real() < reach.high.real() && box.high.real() > reach.low.real() &&
          box.low.imag() < reach.high.imag() && box.high.imag() > reach.low.imag())
        near.push_back(&cuts_[other].path.points);
    return near;
  }

 private:
  static Drawing::Box box_of(const Outline& line, double more) {
    Drawing::Box box{line.front(), line.front()};
    for (const PlanPoint p : line) box.take(p);
    return {box.low - PlanPoint(more, more), box.high + PlanPoint(more, more)};
  }

  const std::vector<DrawnCut>& cuts_;
  std::vector<std::pair<std::size_t, Drawing::Box>> boxes_;
};

/// Of one copy, as it is drawn.
Result<std::vector<DrawnCut>> nested_cuts(const Book& book, const Drawing& drawing, const DrawingJob& job) {
  auto cuts = cuts_of(book, drawing, job);
  if (!cuts) return cuts;
  constexpr std::size_t most_drawn_lines = 200'000;
  if (cuts->size() * static_cast<std::size_t>(job.columns) * static_cast<std::size_t>(job.rows) > most_drawn_lines)
    return fail("too_large", "That is more than can be cut in a lifetime; make fewer copies.", "columns");
  nest(*cuts);
  return cuts;
}

/// Of the copies that stand at `shifts`.
std::vector<HeadPath> paths_at(const Book& book, const std::vector<DrawnCut>& cuts,
                               const std::vector<PlanPoint>& shifts) {
  std::vector<DrawnCut> all;
  for (const PlanPoint& by : shifts)
    for (DrawnCut cut : cuts) {
      for (PlanPoint& p : cut.path.points) p += by;
      all.push_back(std::move(cut));
    }
  std::vector<HeadPath> paths;
  const std::vector<DrawnCut> ordered = in_order(std::move(all), 0);
  const CutsAround near(ordered);
  for (std::size_t i = 0; i < ordered.size(); ++i) append_finished(ordered[i], book, near.of(i), paths);
  return paths;
}

}  // namespace

Result<std::vector<HeadPath>> drawing_paths(const Book& book, const Drawing& drawing, const DrawingJob& job) {
  const auto cuts = nested_cuts(book, drawing, job);
  if (!cuts) return tl::make_unexpected(cuts.error());
  return paths_at(book, *cuts, copy_shifts(drawing, job));
}

Result<HeadProgram> drawing_program(const Book& book, const Drawing& drawing, const std::vector<HeadPath>& paths,
                                    const DrawingJob& job) {
  HeadLinesSetting setting;
  setting.feed = usual_drawing_feed;
  setting.title = "from " + (job.file.empty() ? "a drawing" : job.file);
  setting.rests_on = remark_of(basis_of(book, job, drawing.sum));
  return head_paths_program(book, paths, setting);
}

Result<std::vector<HeadProgram>> drawing_programs(const Book& book, const Drawing& drawing, const DrawingJob& job) {
  const std::vector<PlanPoint> all = copy_shifts(drawing, job);
  std::vector<std::vector<PlanPoint>> of_each;
  if (job.one_each)
    for (const PlanPoint& shift : all) of_each.push_back({shift});
  else
    of_each.push_back(all);
  if (of_each.size() > most_programs)
    return fail(
        "too_many",
        fmt::format("That would be {} programs; make {} at most, or one of all.", of_each.size(), most_programs),
        "columns");
  const auto cuts = nested_cuts(book, drawing, job);
  if (!cuts) return tl::make_unexpected(cuts.error());
  std::vector<HeadProgram> programs;
  for (const auto& shifts : of_each) {
    auto program = drawing_program(book, drawing, paths_at(book, *cuts, shifts), job);
    if (!program) return tl::make_unexpected(program.error());
    programs.push_back(std::move(*program));
  }
  return programs;
}

Result<HeadProgram> drawing_program(const Book& book, const Drawing& drawing, const DrawingJob& job) {
  const auto paths = drawing_paths(book, drawing, job);
  if (!paths) return tl::make_unexpected(paths.error());
  return drawing_program(book, drawing, *paths, job);
}

}  // namespace ypsi
