#pragma once
// Where a program must wait for a hand: for a tool whose Z zero is then found anew, for the spindle's dial. Source:
// handbook of the trade, 11, 15 and 17.
#include <optional>
#include <string_view>

#include "core/book/book.h"
#include "core/program/program.h"

namespace ypsi {

/// Speed that is set by hand, and what to set the dial to for it.
struct DialSetting {
  double rpm = 0, position = 0;
};

struct Pause {
  std::uint32_t line = 0;  ///< the program waits before this line
  std::uint32_t seen = 0;  ///< last line of what is seen to during it; the next pause comes after
  int tool = 0;            ///< to put in, whose change is then done; 0: none
  std::optional<DialSetting> dial;
};

/// What the dial must be set to for `rpm` (either sense of turning); none where the controller sets the speed, where
/// the dial stands at `standing_rpm` and that is the same, and where it cannot be set to it, which the ready check
/// says.
std::optional<DialSetting> dial_for(const Spindle& spindle, double rpm, double standing_rpm);

/// The first pause at line `from` (from 1) or after it, for a machine with `tool` in the spindle and the dial at
/// `standing_rpm`, 0: nobody knows. A tool is waited for where Z zero must be found for it anew: not where the program
/// brings the tools' lengths itself (G43).
std::optional<Pause> next_pause(const Program& program, const Book& book, int tool, double standing_rpm,
                                std::uint32_t from);

/// What a program that stops at `line` (M0, M1) says that is to be done: the remark on that line, else on the one
/// before; empty where it says nothing, or does not stop there.
std::string_view asked_at(const Program& program, std::uint32_t line);

}  // namespace ypsi
