#pragma once
// Where a tool's tip is when a program that brings the tools' lengths (G43) runs: the controller moves what it counts
// for, the work zero, the offset that H names; the tip hangs as far below as the tool in the spindle is long. Lengths
// mm. Source: handbook of the trade, 11 and 13: machine = work + work zero (+ tool offset on Z).
#include <map>

#include "core/book/book.h"
#include "core/program/program.h"

namespace ypsi {

/// Whether a length other than 0 is ever added. Such a program is not paused for a new Z zero at a tool change.
bool brings_lengths(const Program& program);

class TipDrop {
 public:
  /// `tool` is in the spindle at the start; 0: not known.
  TipDrop(const Program& program, const Book& book, int tool);
  /// How far below the place that a motion names its tool's tip is: 0 in a program that brings no lengths, where Z
  /// zero is found anew for each tool, and for a tool that was not measured.
  double of(const Program& program, std::size_t motion) const { return any_ ? of_tool(program.tool_of(motion)) : 0; }
  double of_tool(int number) const;
  bool any() const { return any_; }

 private:
  bool any_;
  int first_;
  double zero_ = 0;  ///< of the tool with which Z zero was set
  std::map<int, double> by_tool_;
};

/// Lowest place of a tip while it cuts, work frame. Precondition: something is cut.
double deepest_tip(const Program& program, const TipDrop& drop);

}  // namespace ypsi
