#pragma once
// What a program's comments say of its tools: "T2 D=6.35", "(tool 3: 1/8 in flat)", "T1 6 mm end mill".
#include <map>

#include "core/program/program.h"

namespace ypsi {

struct SpokenTool {
  double diameter = 0;     ///< mm
  std::uint32_t line = 0;  ///< of the comment
};
/// By tool number; the first that is said of each. A comment without a number speaks of the tool that is changed to
/// next. Lengths without a unit are the program's.
std::map<int, SpokenTool> spoken_tools(const Program& program);

}  // namespace ypsi
