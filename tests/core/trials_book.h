#pragma once
// A cutting table with three heads, as its owner's book has it.
#include <string>

#include "core/book/book.h"

namespace ypsi::trials_test {

inline const std::string today = "2026-11-28T12:00:00+00:00";

inline Head head(const std::string& name, HeadKind kind) {
  Head h;
  h.name = name;
  h.kind = kind;
  return h;
}

inline Book table() {
  Book b;
  b.machine.kind = "cutting_table";
  b.machine.heads = {head("wheel", HeadKind::wheel), head("pen", HeadKind::pen), head("knife", HeadKind::drag_knife)};
  for (Head& h : b.machine.heads) {
    h.lower = "M17" + std::to_string(&h - b.machine.heads.data());
    h.raise = h.lower + "9";
    h.gauge_low = 8;
    h.gauge_high = 24;
  }
  Instrument caliper;
  caliper.name = "caliper";
  caliper.resolution_mm = 0.01;
  caliper.u_cal_mm = 0.015;
  b.instruments = {caliper};
  Tool blade;
  blade.number = 2;
  blade.head = "wheel";
  b.tools = {blade};
  b.job.stock_size = {600, 400, 1};
  return b;
}

}  // namespace ypsi::trials_test
