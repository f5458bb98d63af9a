#include "core/drawing_in/engraved_look.h"

#include <algorithm>

#include "core/drawing_in/drawing_program.h"
#include "core/outline/outline.h"
#include "core/program/tool_shape.h"

namespace ypsi {
namespace {

constexpr double no_matter_mm = 0.1;  // an eye hardly sees it
constexpr std::size_t most_filled_points = 20'000;

/// The closed outlines of a layer, each copy's.
std::vector<Outline> outlines_of(const Drawing& drawing, const DrawingJob& job, const std::string& layer) {
  std::vector<Outline> all;
  for (const PlanPoint& by : copy_shifts(drawing, job))
    for (const DrawnContour& c : drawing.contours) {
      if (!c.closed || drawing.layers[c.layer].name != layer) continue;
      Outline moved = c.points;
      for (PlanPoint& p : moved) p += by;
      all.push_back(std::move(moved));
    }
  return all;
}

/// At the surface; 0 where the tool is not known, or does not go down by Z.
double width_of(const Tool* tool, double depth) {
  return tool && depth > 0 && (tool->diameter > 0 || tool->tip > 0) ? 2 * radius_at(*tool, depth) : 0;
}

}  // namespace

EngravedLook engraved_look(const Book& book, const Drawing& drawing, const DrawingJob& job,
                           const std::vector<HeadPath>& paths, double cap) {
  EngravedLook look;
  for (const HeadPath& path : paths) {
    LookLine line{path.points, width_of(book.tool(path.tool), path.depth), 0};
    if (line.width_top > 0 && cap > 0 && path.depth > cap)
      line.width_core = 2 * radius_at(*book.tool(path.tool), path.depth - cap);
    look.lines.push_back(std::move(line));
  }
  for (const LayerAct& act : job.acts) {
    if (act.act != DrawnAct::hatch) continue;
    const double width = width_of(book.tool(act.tool), act.depth_mm);
    if (!(width > 0)) continue;
    std::vector<Outline> lines;
    std::size_t points = 0;
    for (const HeadPath& path : paths) {
      if (path.remark != act.layer) continue;
      lines.push_back(path.points);
      points += path.points.size();
    }
    if (points > most_filled_points) {
      look.too_much = true;
      continue;
    }
    auto left = not_reached(outlines_of(drawing, job, act.layer), lines, width, no_matter_mm);
    if (!left || left->outlines.empty()) continue;
    look.uncut.push_back({act.layer, static_cast<int>(left->outlines.size()), left->area, std::move(left->outlines)});
  }
  return look;
}

}  // namespace ypsi
