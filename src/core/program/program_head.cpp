#include "core/program/program_head.h"

#include <fmt/format.h>

#include <algorithm>

namespace ypsi {

std::string program_head(const ProgramHead& head) {
  std::string text;
  for (const std::string& remark : head.remarks) text += "(" + remark + ")\n";
  const std::string lift = head.lift ? fmt::format("G0 Z{:.3f}\n", *head.lift) : std::string();
  text += fmt::format("(work zero: {})\nG21 G17 G40 G49 G80 G90 G94 {}\n", head.zero, frame_name(head.frame)) + lift;
  if (head.tool > 0) text += fmt::format("T{} M6\n", head.tool);
  if (head.rpm > 0) text += fmt::format("S{:.0f} M3\nG4 P{:g}\n", head.rpm, head.spin_up_s);
  if (head.tool > 0) text += lift;
  return text;
}

double spin_up_of(const Spindle& spindle) {
  return spindle.spin_up_s > 0 ? spindle.spin_up_s : usual_spin_up_s;
}

double tallest_clamp(const Book& book) {
  const double under = book.job.stock_top_z() - book.job.bed_z();
  double tallest = 0;
  for (const Clamp& c : book.job.clamps) tallest = std::max(tallest, c.height_mm - under);
  return tallest;
}

}  // namespace ypsi
