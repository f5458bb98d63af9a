// A whole program, line by line through the interpreter, its sub-programs written out on the way.
#include <fmt/format.h>

#include <algorithm>
#include <cstring>

#include "core/program/interpreter.h"
#include "core/program/line.h"
#include "core/program/text_lines.h"
#include "core/program/unroll.h"

namespace ypsi {
namespace {

/// The first line behind the end on which something stands that would have been read; 0: none.
std::uint32_t line_after_end(std::string_view text, std::size_t at, std::uint32_t number) {
  while (at < text.size()) {
    const std::string_view line = take_line(text, at);
    ++number;
    const std::size_t first = line.find_first_not_of(" \t\r\x1a");
    if (first == std::string_view::npos) continue;
    const std::string_view stands = line.substr(first);
    const bool ends_again = stands == "M30" || stands == "M2" || stands == "M02";
    if (!ends_again && !std::strchr("%(;", stands.front())) return number;
  }
  return 0;
}

/// Lines of `text`; `numbers` of the file where the text was unrolled from one, else none.
Result<Program> read_lines(std::string_view text, const std::vector<std::uint32_t>& numbers, const ReadSetting& setting,
                           const ReadProgress& progress) {
  Program program;
  program.start = setting.start;
  program.motions.reserve(static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n')) + 1);
  Interpreter interpreter(setting.start, setting.frames, setting.frame, setting.base);
  std::uint32_t number = 0;
  std::size_t at = 0;
  while (at < text.size() && !interpreter.state().ended && !interpreter.text_ends()) {
    const std::string_view line = take_line(text, at);
    if (++number > most_lines)
      return fail("out_of_range", fmt::format("A program has {} lines at most; cut it in two.", most_lines));
    if (auto ok = interpreter.line(line, numbers.empty() ? number : numbers[number - 1], program); !ok)
      return tl::make_unexpected(ok.error());
    if (program.motions.size() > most_motions)
      return program_error(program.motions.back().line, 1,
                           "the cycles of this program make more moves than can be kept.", "out_of_range");
    if (progress && number % 16384 == 0 && !progress(number, at))
      return fail("cancelled", "Reading the program was cancelled.");
  }
  program.lines = numbers.empty() ? number : numbers.back();
  program.has_end = interpreter.has_end();
  if (interpreter.state().ended) program.after_end = line_after_end(text, at, number);
  if (program.motions.size() * 2 < program.motions.capacity()) program.motions.shrink_to_fit();
  if (program.motions.empty() && program.events.empty())
    return fail("empty", "There is no move and no act in this file; is it the right one?", "1:1");
  return program;
}

}  // namespace

Result<Program> read_program(std::string_view text, const ReadSetting& setting, const ReadProgress& progress) {
  if (text.empty())
    return fail("empty", "The program is an empty file; export it again from where it was made.", "1:1");
  auto read = read_lines(text, {}, setting, progress);
  if (read || read.error().code != "sub_program") return read;
  const auto written_out = unroll(text);
  if (!written_out) return tl::make_unexpected(written_out.error());
  read = read_lines(written_out->text, written_out->lines, setting, progress);
  if (read) read->unrolled = true;
  return read;
}

}  // namespace ypsi
