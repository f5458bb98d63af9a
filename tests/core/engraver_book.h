#pragma once
// An engraver as tests know it: a nose of 25 ticks, a 60 degree tool T3 with a tip of 0.2 mm, a plate of 100 x 57 mm
// named "red over white" that is to be engraved 0.28 deep.
#include "core/book/book.h"
#include "core/book/worksheets/trials.h"

namespace ypsi {

/// The tool.
inline Tool pointed_t3() {
  Tool v;
  v.number = 3;
  v.kind = "engraver";
  v.diameter = 3;
  v.angle = 60;
  v.tip = 0.2;
  return v;
}

inline Book engraver_book() {
  Book b;
  b.machine.kind = "engraver";
  Head spindle;
  spindle.name = "spindle";
  spindle.gauge = "ticks";
  spindle.gauge_high = 25;
  b.machine.heads = {spindle};
  b.tools = {pointed_t3()};
  b.job.stock_size = {100, 57, 1.6};
  TrialsWorksheet& s = b.worksheets[trials_worksheet];
  s.material = "red over white";
  s.tool = 3;
  s.depth.wanted_mm = 0.28;
  return b;
}

}  // namespace ypsi
