#pragma once
// A program's text line by line: a line ends with LF, CR LF, or CR alone as some old programs write it.
#include <cstring>
#include <string_view>

namespace ypsi {

/// Takes the line that begins at `at` (below the text's size), without its end, and moves `at` to the next one.
inline std::string_view take_line(std::string_view text, std::size_t& at) {
  const std::string_view rest = text.substr(at);
  const void* const feed = std::memchr(rest.data(), '\n', rest.size());
  std::size_t size = feed ? static_cast<std::size_t>(static_cast<const char*>(feed) - rest.data()) : rest.size();
  std::size_t next = feed ? size + 1 : size;
  if (const void* const found = std::memchr(rest.data(), '\r', size)) {
    const auto alone = static_cast<std::size_t>(static_cast<const char*>(found) - rest.data());
    if (alone + 1 != size || !feed) next = alone + 1;
    size = alone;
  }
  at += next;
  return rest.substr(0, size);
}

}  // namespace ypsi
