#pragma once
// What a program's comments, and its file's name, say of the tools: "T2 D=6.35", "(tool 3: 1/8 in flat)", "T1 6 mm end
// mill". What they say of stock, pockets, holes and stepover is none of it.
#include <string>
#include <vector>

#include "core/program/program.h"

namespace ypsi {

struct SpokenTool {
  int number = 0;
  int or_number = 0;       ///< a comment without a number may be about the tool before, too; 0: no other
  double diameter = 0;     ///< mm
  std::uint32_t line = 0;  ///< of the comment; 0: the file's name
  bool certain = false;    ///< the tool's number or a word for a tool stands beside the size
};
/// In order; the first of each tool that is certain, and what is not. A comment without a number speaks of the tool
/// that is changed to next, or of `only`, the one in the spindle where the program changes none (0: not known). Lengths
/// without a unit are the program's.
std::vector<SpokenTool> spoken_tools(const Program& program, const std::string& file_name = {}, int only = 0);

}  // namespace ypsi
