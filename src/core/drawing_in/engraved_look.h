#pragma once
// How an engraved plate will look: each line as wide as its tool leaves it, and what a tool is too wide to reach.
// Lengths mm, the drawing's places moved so that what lies on work zero is 0, 0. Source: handbook of the trade, 23.
#include "core/book/book.h"
#include "core/drawing_in/drawing.h"
#include "core/outline/outline.h"
#include "core/program/head_lines.h"

namespace ypsi {

struct LookLine {
  std::vector<PlanPoint> points;
  double width_top = 0;   ///< at the surface; 0: the tool is not known, or does not cut
  double width_core = 0;  ///< at the lower face of the cap; 0 where the line does not pass it, or there is none
};

/// What stays uncut of a layer that is to be filled.
struct LeftUncut {
  std::string layer;
  int places = 0;
  double area = 0;  ///< mm^2
  std::vector<Outline> outlines;
};

struct EngravedLook {
  std::vector<LookLine> lines;
  std::vector<LeftUncut> uncut;
  bool too_much = false;  ///< so much is filled that what stays uncut was not looked for
};

/// Of paths as drawing_paths() gives them; `cap` >= 0, 0: of one piece. Heads that their own blocks lower leave lines
/// of width 0. Places below 0.1 mm across are no matter.
EngravedLook engraved_look(const Book& book, const Drawing& drawing, const DrawingJob& job,
                           const std::vector<HeadPath>& paths, double cap);

}  // namespace ypsi
