#pragma once
// Bytes of the controller link, version 2, both ways; docs/link.md is the text this follows. Pure: bytes in, values
// out.
#include <cstdint>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/checksum.h"

namespace ypsi::link {

/// A clock that jumps (a sleeping computer, a busy window) is not a silent other end: of a longer gap only this counts.
inline constexpr double longest_gap_counted_s = 0.1;

inline constexpr int version = 2;
inline constexpr std::size_t longest_down = 2048;  ///< bytes of a line to the controller, without its end
inline constexpr std::size_t longest_up = 65536;   ///< bytes of a line to the host

/// Acts that are picked out of the stream as soon as they are read, before any line that waits. On the wire the byte
/// and then its complement, neither of which occurs in a line. They only ever stop something: two bytes of noise may
/// look like one, so what lets go (2 was that, in version 1) is a line with a checksum.
enum class Act : unsigned char { hold = 1, abandon = 3, stop = 4, heartbeat = 5, end_jog = 6 };
std::string act_bytes(Act act);

using ypsi::checksum;

/// A numbered line down: "NUMBER CHECKSUM PAYLOAD\n", the checksum over "NUMBER PAYLOAD". Bytes of the payload that a
/// line cannot carry (control characters, beyond ASCII) become question marks.
std::string down_line(std::uint32_t number, std::string_view payload);
struct DownLine {
  std::uint32_t number = 0;
  std::string payload;
};
/// A line that cannot be used: cut, garbled or too long.
struct UnreadableLine {};

/// Cuts a stream into lines of at most `longest` bytes; of a longer one all up to its end is dropped and told as bad.
class LineSplitter {
 public:
  explicit LineSplitter(std::size_t longest) : longest_(longest) {}
  /// Adds a byte; true when it ended a line, which line() then holds, or which was too long when overlong().
  bool add(char byte);
  const std::string& line() const { return line_; }
  bool overlong() const { return overlong_; }

 private:
  std::size_t longest_;
  std::string line_;
  bool overlong_ = false, ended_ = false;
};

class DownDecoder {
 public:
  using Item = std::variant<Act, DownLine, UnreadableLine>;
  /// What these bytes complete, acts first: they were meant to overtake.
  std::vector<Item> feed(std::string_view bytes);

 private:
  LineSplitter splitter_{longest_down};
  unsigned char act_ = 0;  ///< first byte of an act, waiting for its complement
};

/// A JSON object as a line up: the same object with a last member "sum", the checksum of all before it.
std::string up_line(std::string object);

class UpDecoder {
 public:
  /// The objects, as text without their sums, that these bytes complete; bad lines are counted and passed over.
  std::vector<std::string> feed(std::string_view bytes);
  std::size_t bad_lines() const { return bad_; }

 private:
  LineSplitter splitter_{longest_up};
  std::size_t bad_ = 0;
};

}  // namespace ypsi::link
