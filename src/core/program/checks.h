#pragma once
// What is wrong, odd or worth knowing about a program before it is cut on this machine, with the line and the place it
// comes from. Source: handbook of the trade, 14.
//
// What it cannot see first: hold-down, dust hose, a dull tool, a tool that is not the one said to be in. Those are for
// the owner's own checklist.
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/program/program.h"
#include "core/program/rests_on.h"

namespace ypsi {

enum class Weight { stops, warns, informs };

struct Finding {
  std::string code;  ///< "limit", "clamp", "rapid_in_stock"; for programs and for keeping why it was overridden
  Weight weight = Weight::informs;
  std::string message;             ///< what, why, and what to do
  std::uint32_t line = 0;          ///< of the program; 0: none
  std::optional<WorkPosition> at;  ///< of the tool's tip
};

/// What trials have found for the stock's material with one head.
struct KeptSetting {
  std::string head, gauge;
  std::optional<double> low, high;  ///< within which its gauge must be
  std::optional<double> set;        ///< what to set it to
  std::optional<double> feed;       ///< mm/min, of a beam
};

struct CheckSetting {
  int tool = 0;                              ///< in the spindle now; 0: not known
  std::vector<float> end_s;                  ///< when each motion ends, as estimate_time() tells; may be empty
  LengthUnit unit = LengthUnit::millimetre;  ///< of the sentences
  std::string file_name;                     ///< may say what the tool is; may be empty
  std::vector<KeptSetting> kept{};           ///< by trials, as kept_settings() tells
  std::optional<RestsOn> rests_on_now{};     ///< what a program made of the book's drawing would rest on
  std::function<bool()> go_on{};             ///< asked between its parts; false ends it with what was found so far
};

/// The least that tool, nut or boot keep from a clamp, mm; 0 where they meet it.
struct ClampClearance {
  double distance = 0;
  std::string clamp;
  std::uint32_t line = 0;
  WorkPosition at;  ///< of the tip
};

struct Judgement {
  std::vector<Finding> findings;  ///< what stops first, then what warns, each by line
  Extents tip;                    ///< of every move
  Extents cut;  ///< of what is cut, with the tool's width where it meets the stock's top; may be empty
  std::optional<ClampClearance> clearance;
};

/// Work zero, stock, clamps, tools and limits are the book's; where one of them is not known, what hangs on it is not
/// checked, and that is said. Heights are the tip's, also where the program brings the tools' lengths (G43).
Judgement judge_program(const Program& program, const Book& book, const CheckSetting& setting);
/// Its findings alone.
std::vector<Finding> check_program(const Program& program, const Book& book, const CheckSetting& setting);

/// How many have that weight.
std::size_t count(const std::vector<Finding>& findings, Weight weight);
const char* name(Weight weight);  ///< "stops", "warns", "informs"

}  // namespace ypsi
