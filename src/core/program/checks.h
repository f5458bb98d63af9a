#pragma once
// What is wrong, odd or worth knowing about a program before it is cut on this machine, with the line and the place it
// comes from. Source: handbook of the trade, 14.
//
// What it cannot see first: hold-down, dust hose, a dull tool, a tool that is not the one said to be in. Those are for
// the owner's own checklist.
#include <optional>
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/program/program.h"

namespace ypsi {

enum class Weight { stops, warns, informs };

struct Finding {
  std::string code;  ///< "limit", "clamp", "rapid_in_stock"; for programs and for keeping why it was overridden
  Weight weight = Weight::informs;
  std::string message;             ///< what, why, and what to do
  std::uint32_t line = 0;          ///< of the program; 0: none
  std::optional<WorkPosition> at;  ///< of the tool's tip
};

struct CheckSetting {
  int tool = 0;                              ///< in the spindle now; 0: not known
  std::vector<float> end_s;                  ///< when each motion ends, as estimate_time() tells; may be empty
  LengthUnit unit = LengthUnit::millimetre;  ///< of the sentences
};

/// All findings, what stops first, then what warns, each by line. Work zero, stock, clamps, tools and limits are the
/// book's; where one of them is not known, what hangs on it is not checked, and that is said.
std::vector<Finding> check_program(const Program& program, const Book& book, const CheckSetting& setting);

/// How many have that weight.
std::size_t count(const std::vector<Finding>& findings, Weight weight);
const char* name(Weight weight);  ///< "stops", "warns", "informs"

}  // namespace ypsi
