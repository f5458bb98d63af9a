#include "core/program/unroll.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <set>
#include <utility>

#include "core/program/reader.h"
#include "core/program/text_lines.h"
#include "core/program/words.h"

namespace ypsi {
namespace {

constexpr int last_argument = 30;  // #1 to #30 are what a call hands over

struct Shape {
  enum class Kind { plain, label, sub, endsub, call, returns, ends, other } kind = Kind::plain;
  std::string name;                    ///< of the sub-program: its number, or its name in pointed brackets
  std::vector<std::string> arguments;  ///< of a call, with their brackets
  double times = 1;
  std::string beside;  ///< other words of the line of a call
};

struct Line {
  std::string_view text;
  std::uint32_t number = 0;
  Shape shape;
};

tl::unexpected<Error> refuse(std::uint32_t line, const std::string& sentence) {
  return program_error(line, 1, sentence, "sub_program");
}

bool blank(char c) {
  return c == ' ' || c == '\t' || c == '\r';
}
bool digit(char c) {
  return c >= '0' && c <= '9';
}
char lower(char c) {
  return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
}

/// Without leading noughts: O0100 is called by P100.
std::string number_name(std::string_view digits) {
  const std::size_t first = digits.find_first_not_of('0');
  return first == std::string_view::npos ? "0" : std::string(digits.substr(first));
}

class Scan {
 public:
  explicit Scan(std::string_view text) : rest_(text) {}
  void blanks() {
    while (!rest_.empty() && blank(rest_.front())) rest_.remove_prefix(1);
  }
  bool take(char c) {
    blanks();
    if (rest_.empty() || lower(rest_.front()) != c) return false;
    rest_.remove_prefix(1);
    return true;
  }
  template <class Wanted>
  std::string_view while_is(Wanted wanted) {
    std::size_t n = 0;
    while (n < rest_.size() && wanted(rest_[n])) ++n;
    const auto taken = rest_.substr(0, n);
    rest_.remove_prefix(n);
    return taken;
  }
  /// "[ .. ]" with what is nested in it; empty where none stands here.
  std::string_view brackets() {
    blanks();
    if (rest_.empty() || rest_.front() != '[') return {};
    int depth = 0;
    for (std::size_t n = 0; n < rest_.size(); ++n) {
      depth += rest_[n] == '[' ? 1 : rest_[n] == ']' ? -1 : 0;
      if (depth > 0) continue;
      const auto taken = rest_.substr(0, n + 1);
      rest_.remove_prefix(n + 1);
      return taken;
    }
    return {};
  }
  std::string_view rest() const { return rest_; }

 private:
  std::string_view rest_;
};

/// O-words and program numbers; plain where the line has none.
Shape o_shape(std::string_view text) {
  Scan scan(text);
  scan.take('/');
  if (scan.take('n')) scan.while_is(digit);
  Shape shape;
  const bool colon = scan.take(':');
  if (!colon && !scan.take('o')) return shape;
  scan.blanks();
  if (scan.take('<')) {
    for (const char c : scan.while_is([](char d) { return d != '>'; }))
      if (!blank(c)) shape.name += lower(c);
    shape.name = "<" + shape.name + ">";
    scan.take('>');
  } else {
    shape.name = number_name(scan.while_is(digit));
  }
  scan.blanks();
  std::string word;
  for (const char c : scan.while_is([](char d) { return lower(d) >= 'a' && lower(d) <= 'z'; })) word += lower(c);
  shape.kind = word.empty()       ? Shape::Kind::label
               : word == "sub"    ? Shape::Kind::sub
               : word == "endsub" ? Shape::Kind::endsub
               : word == "call"   ? Shape::Kind::call
                                  : Shape::Kind::other;
  if (shape.kind == Shape::Kind::call)
    for (auto group = scan.brackets(); !group.empty(); group = scan.brackets()) shape.arguments.emplace_back(group);
  return shape;
}

/// M98, M99, and what ends a program.
Shape m_shape(std::string_view text, std::uint32_t number) {
  Shape shape;
  if (text.find_first_of("Mm%") == std::string_view::npos) return shape;
  LineReader reader;
  const auto words = reader.read(text, number);
  if (!words) return shape;
  const Word *which = nullptr, *how_often = nullptr;
  for (const Word& w : *words) {
    if (w.letter == 'P') which = &w;
    if (w.letter == 'L') how_often = &w;
    if (w.letter != 'M') continue;
    const int code = code_of(w);
    if (code == 980) shape.kind = Shape::Kind::call;
    if (code == 990) shape.kind = Shape::Kind::returns;
    if (code == 20 || code == 300) shape.kind = Shape::Kind::ends;
  }
  if (shape.kind != Shape::Kind::call) return shape;
  shape.name = which && which->value >= 0 && which->value == std::floor(which->value)
                   ? fmt::format("{:.0f}", which->value)
                   : std::string("without a number");
  if (how_often) shape.times = how_often->value;
  for (std::size_t i = 0; i < words->size(); ++i) {
    const Word& w = (*words)[i];
    if (&w == which || &w == how_often || w.letter == 'N' || (w.letter == 'M' && code_of(w) == 980)) continue;
    const std::size_t end = i + 1 < words->size() ? (*words)[i + 1].column - 1 : text.find_first_of("(;");
    std::string_view word = text.substr(w.column - 1, end == std::string_view::npos ? end : end - (w.column - 1));
    while (!word.empty() && blank(word.back())) word.remove_suffix(1);
    shape.beside.append(word).push_back(' ');
  }
  return shape;
}

class Unroller {
 public:
  explicit Unroller(std::string_view text) {
    std::uint32_t number = 0;
    for (std::size_t at = 0; at < text.size();) {
      const std::string_view line = take_line(text, at);
      Shape shape = o_shape(line);
      if (shape.kind == Shape::Kind::plain)
        shape = m_shape(line, ++number);
      else
        ++number;
      lines_.push_back({line, number, std::move(shape)});
    }
  }

  Result<Unrolled> all() {
    if (auto ok = find_parts(); !ok) return tl::make_unexpected(ok.error());
    if (auto ok = look_at_arguments(); !ok) return tl::make_unexpected(ok.error());
    if (auto ok = write(main_, 0); !ok) return tl::make_unexpected(ok.error());
    return std::move(out_);
  }

 private:
  using Kind = Shape::Kind;
  using Part = std::vector<const Line*>;

  /// Whether the line does something, and not only heads the file.
  static bool does(const Line* line) {
    const std::size_t first = line->text.find_first_not_of(" \t\r");
    return first != std::string_view::npos && !std::strchr("%(;", line->text[first]);
  }

  /// Sorts the lines into the main program, the first part that nobody calls, and the sub-programs.
  Result<void> find_parts() {
    std::set<std::string> called;
    for (const Line& line : lines_)
      if (line.shape.kind == Kind::call) called.insert(line.shape.name);
    Part part;                    // since the last program number or end
    std::string name;             // of the part
    const Line* begun = nullptr;  // "O100 sub", not ended yet
    bool has_main = false;
    const auto close_main = [&] {
      if (!has_main && std::any_of(part.begin(), part.end(), does)) {
        main_ = part;
        has_main = true;
      }
    };
    for (const Line& line : lines_) {
      const Shape& s = line.shape;
      if (s.kind == Kind::other)
        return refuse(
            line.number,
            "loops and conditions (O-words) are not followed here; have the program written out without them.");
      if (s.kind == Kind::endsub && (!begun || s.name != begun->shape.name))
        return refuse(line.number, fmt::format("sub-program {} ends here, but was not begun.", s.name));
      if (s.kind == Kind::sub && begun)
        return refuse(line.number, "a sub-program begins within another; end that one first.");
      if (s.kind == Kind::endsub) {
        begun = nullptr;
      } else if (s.kind == Kind::sub) {
        begun = &line;
        subs_[s.name].clear();
      } else if (begun) {
        subs_[begun->shape.name].push_back(&line);
      } else if (s.kind == Kind::label) {
        close_main();
        if (has_main) part.clear();
        name = s.name;
      } else if (s.kind == Kind::returns) {
        if (!called.contains(name))
          return refuse(line.number, "M99 would repeat the main program without an end; let it end with M30.");
        subs_[name] = std::exchange(part, {});
        name.clear();
      } else {
        part.push_back(&line);
        if (s.kind == Kind::ends) {
          close_main();
          part.clear();
          name.clear();
        }
      }
    }
    if (begun) return refuse(begun->number, fmt::format("sub-program {} is not ended.", begun->shape.name));
    close_main();
    if (!has_main) return refuse(1, "there is no main program in this file, only sub-programs.");
    return {};
  }

  /// Handing over sets #1 to #30, which are the caller's own again afterwards: only where nobody else uses them can
  /// that be written out.
  Result<void> look_at_arguments() const {
    const auto hands_over = [](const Line* l) { return !l->shape.arguments.empty(); };
    const bool main_does = std::any_of(main_.begin(), main_.end(), hands_over);
    for (const auto& [name, part] : subs_)
      for (const Line* l : part)
        if (hands_over(l))
          return refuse(l->number,
                        "a sub-program that hands values over to another is not followed here; have the "
                        "program written out without it.");
    if (!main_does) return {};
    for (const Line* l : main_)
      for (std::size_t at = l->text.find('#'); at != std::string_view::npos; at = l->text.find('#', at + 1)) {
        Scan scan(l->text.substr(at + 1));
        scan.blanks();
        const std::string digits(scan.while_is(digit));
        if (digits.size() == 1 || (digits.size() == 2 && digits <= std::to_string(last_argument)))
          return refuse(l->number,
                        "#1 to #30 are what calls hand over, and the main program uses them too; have it "
                        "written out without sub-programs.");
      }
    return {};
  }

  Result<void> put(std::string_view text, std::uint32_t number) {
    if (out_.lines.size() >= most_unrolled_lines)
      return refuse(number, "written out, its sub-programs make more than 2,000,000 lines; are the repeats right?");
    out_.text.append(text).push_back('\n');
    out_.lines.push_back(number);
    return {};
  }

  Result<void> write(const Part& part, int depth) {
    for (const Line* line : part) {
      const Shape& s = line->shape;
      if (s.kind != Kind::call) {
        if (auto ok = put(line->text, line->number); !ok) return ok;
        continue;
      }
      const auto sub = subs_.find(s.name);
      if (sub == subs_.end())
        return refuse(line->number,
                      fmt::format("sub-program {} is called, and it is not in this file; have the program "
                                  "written out without it.",
                                  s.name));
      if (depth == deepest_call)
        return refuse(line->number, fmt::format("sub-programs call each other more than {} deep; does one call itself?",
                                                deepest_call));
      if (!(s.times >= 0 && s.times <= 1e6) || s.times != std::floor(s.times))
        return refuse(line->number, "L, how often, is a whole number.");
      if (auto ok = put(fmt::format("{}(sub-program {})", s.beside, s.name), line->number); !ok) return ok;
      if (!s.arguments.empty()) {
        std::string values;
        for (std::size_t i = 0; i < s.arguments.size(); ++i) values += fmt::format("#{}={} ", i + 1, s.arguments[i]);
        if (auto ok = put(values, line->number); !ok) return ok;
      }
      for (int n = 0; n < static_cast<int>(s.times); ++n)
        if (auto ok = write(sub->second, depth + 1); !ok) return ok;
    }
    return {};
  }

  std::vector<Line> lines_;
  Part main_;
  std::map<std::string, Part> subs_;
  Unrolled out_;
};

}  // namespace

Result<Unrolled> unroll(std::string_view text) {
  return Unroller(text).all();
}

}  // namespace ypsi
