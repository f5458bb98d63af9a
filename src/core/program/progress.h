#pragma once
// How far a program has been cut, as lines that are only ever added, so that a crash or a power cut loses the last of
// them at most. The owner of the file writes the bytes.
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "core/geometry.h"

namespace ypsi {

/// What a cut rests on: it is gone on with on the same, or by the owner's plain word.
struct CutGround {
  std::array<std::optional<double>, axis_count> zero{};  ///< work zero, machine coordinates
  int frame = 0;
  std::string machine;  ///< the line that leads to it
  bool operator==(const CutGround&) const = default;
};

struct Progress {
  std::string program;              ///< its path
  std::uint64_t print = 0;          ///< fingerprint() of its text
  std::uint32_t line = 0;           ///< that moved last; 0: none had begun
  std::optional<CutGround> ground;  ///< none where an older version wrote it
  bool ended = false;               ///< it came to its end, or was given up
};

/// What tells a text from another (FNV-1a, 64 bits).
std::uint64_t fingerprint(std::string_view text);
std::string progress_begins(std::string_view path, std::string_view text);
std::string progress_ground(const CutGround& ground);
std::string progress_line(std::uint32_t line);
std::string progress_ends();
/// None where there is no whole first line. What was torn off at the end is passed over.
std::optional<Progress> read_progress(std::string_view bytes);

}  // namespace ypsi
