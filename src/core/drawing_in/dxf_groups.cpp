#include "core/drawing_in/dxf_groups.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include "core/drawing_in/layer_names.h"
#include "core/program/text_lines.h"

namespace ypsi {
namespace {

constexpr std::string_view binary_mark = "AutoCAD Binary DXF";
constexpr std::size_t longest_value = 1000;  // of what is read on; nothing that is drawn needs more
constexpr int handle = 5;
constexpr int highest_code = 1071, first_of_others = 1000;  // from there on stand other programs' own data
constexpr std::array entities_read{"LINE",   "ARC",    "CIRCLE", "ELLIPSE", "SPLINE", "LWPOLYLINE", "POLYLINE",
                                   "VERTEX", "SEQEND", "INSERT", "TEXT",    "MTEXT",  "BLOCK",      "ENDBLK"};

struct Pair {
  int code = 0;
  std::string_view value;
  std::uint32_t line = 0;  ///< of its code
};

std::string_view without_blanks(std::string_view text) {
  const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
  while (!text.empty() && blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && blank(text.back())) text.remove_suffix(1);
  return text;
}

/// Whether a group's value is a real number (DXF reference, "Group code value types").
bool is_real(int code) {
  return (code >= 10 && code <= 59) || (code >= 110 && code <= 149) || (code >= 210 && code <= 239) ||
         (code >= 460 && code <= 469);
}

tl::unexpected<Error> damaged(std::uint32_t line, const std::string& what) {
  return fail("damaged",
              fmt::format("Line {} of the drawing {}. The file is damaged or cut off; write it anew.", line, what),
              fmt::format("line {}", line));
}

class Groups {
 public:
  explicit Groups(std::string_view bytes) : bytes_(bytes) {}

  Result<DxfGroups> look_through() {
    for (;;) {
      const auto read = next();
      if (!read) return tl::make_unexpected(read.error());
      if (!*read) return damaged(line_, "is the last, and no end of the file (EOF) comes before it");
      const Pair& pair = **read;
      if (pair.code == 0) {
        if (auto ok = begin(pair); !ok) return tl::make_unexpected(ok.error());
        if (ended_) return std::move(out_);
      } else if (pair.code == 2 && section_begins_) {
        section_ = pair.value;
        section_begins_ = false;
        section_read_ = section_ == "HEADER" || section_ == "TABLES" || has_entities();
        dropped_ = false;
        if (section_read_) write({0, "SECTION", 0});
      }
      if (section_read_ && !dropped_) entity_.push_back(pair);
    }
  }

 private:
  bool has_entities() const { return section_ == "BLOCKS" || section_ == "ENTITIES"; }

  Result<std::optional<Pair>> next() {
    if (at_ >= bytes_.size()) return std::optional<Pair>{};
    Pair pair;
    pair.line = ++line_;
    const std::string_view code = without_blanks(take_line(bytes_, at_));
    const auto [end, wrong] = std::from_chars(code.data(), code.data() + code.size(), pair.code);
    if (code.empty() && at_ >= bytes_.size()) return std::optional<Pair>{};
    if (wrong != std::errc() || end != code.data() + code.size() || pair.code < -5 || pair.code > highest_code)
      return damaged(line_, fmt::format("should hold a group code and holds “{}”", code.substr(0, 40)));
    if (at_ >= bytes_.size()) return damaged(line_, "is a group code without its value");
    ++line_;
    const std::string_view value = take_line(bytes_, at_);
    pair.value =
        is_real(pair.code) || pair.code == 0 || (pair.code >= 60 && pair.code <= 99) ? without_blanks(value) : value;
    if (is_real(pair.code)) {
      double number = 0;
      std::string_view digits = pair.value;
      if (!digits.empty() && digits.front() == '+') digits.remove_prefix(1);
      const auto real = std::from_chars(digits.data(), digits.data() + digits.size(), number);
      if (real.ec != std::errc() || real.ptr != digits.data() + digits.size())
        return damaged(line_, fmt::format("should hold a number and holds “{}”", pair.value.substr(0, 40)));
      // An empty drawing's header has its extents at 1e20: nothing is drawn there.
      constexpr double farthest = 1e12;
      if (has_entities() && !(std::fabs(number) < farthest))
        return fail("not_finite", fmt::format("The number in line {} of the drawing is beyond all measure.", line_),
                    fmt::format("line {}", line_));
    }
    return std::optional(pair);
  }

  /// What came before is whole; something new begins.
  Result<void> begin(const Pair& pair) {
    flush();
    dropped_ = false;
    if (pair.value == "SECTION") {
      if (in_section_) return damaged(pair.line + 1, "begins a section within another");
      in_section_ = section_begins_ = true;
      dropped_ = true;
    } else if (pair.value == "ENDSEC") {
      if (!in_section_) return damaged(pair.line + 1, "ends a section that was not begun");
      if (section_read_) write(pair);
      in_section_ = section_read_ = false;
    } else if (pair.value == "EOF") {
      if (in_section_) return damaged(pair.line + 1, "ends the file within a section");
      if (out_.text.empty()) return fail("empty", "There is no drawing in this file.");
      write(pair);
      ended_ = true;
    } else if (section_read_ && has_entities() &&
               std::find(entities_read.begin(), entities_read.end(), pair.value) == entities_read.end()) {
      dropped_ = true;
      note_passed(out_.passed_by, std::string(pair.value), pair.line);
    }
    return {};
  }

  /// Writes the entity in hand, its counts as they are.
  void flush() {
    if (entity_.empty()) return;
    const std::string_view kind = entity_.front().code == 0 ? entity_.front().value : std::string_view();
    const auto count = [&](int code) {
      return std::count_if(entity_.begin(), entity_.end(), [&](const Pair& p) { return p.code == code; });
    };
    const bool entity = has_entities();
    const auto flag = std::find_if(entity_.begin(), entity_.end(), [](const Pair& p) { return p.code == 70; });
    int flags = 0;
    if (flag != entity_.end()) std::from_chars(flag->value.data(), flag->value.data() + flag->value.size(), flags);
    constexpr int frame_of_a_spline = 16;
    if (!(entity && kind == "VERTEX" && (flags & frame_of_a_spline))) {
      for (const Pair& p : entity_) {
        const bool counted =
            entity && ((kind == "LWPOLYLINE" && p.code == 90) || (kind == "SPLINE" && p.code >= 72 && p.code <= 74));
        if (counted || p.code >= first_of_others || (entity && p.code == handle)) continue;
        write(p);
        if (entity && p.code == 0) out_.text += fmt::format("{}\n{:X}\n", handle, p.line);
        // Right behind its kind, before what is counted.
        if (entity && p.code == 0 && kind == "LWPOLYLINE") write_count(90, count(10));
        if (entity && p.code == 0 && kind == "SPLINE") {
          write_count(72, count(40));
          write_count(73, count(10));
          write_count(74, count(11));
        }
      }
    }
    entity_.clear();
  }

  void write_count(int code, std::ptrdiff_t n) { out_.text += fmt::format("{}\n{}\n", code, n); }
  void write(const Pair& p) { out_.text += fmt::format("{}\n{}\n", p.code, p.value.substr(0, longest_value)); }

  std::string_view bytes_, section_;
  std::size_t at_ = 0;
  std::uint32_t line_ = 0;
  bool in_section_ = false, section_begins_ = false, section_read_ = false, dropped_ = false, ended_ = false;
  std::vector<Pair> entity_;
  DxfGroups out_;
};

}  // namespace

Result<DxfGroups> look_through_dxf(std::string_view bytes) {
  if (bytes.starts_with(binary_mark))
    return fail("binary", "This drawing is a binary DXF file; write it anew as ASCII (text) DXF.");
  return Groups(bytes).look_through();
}

}  // namespace ypsi
