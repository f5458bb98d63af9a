#include "core/drawing_in/svg_text.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <numbers>
#include <utility>

#include "core/drawing_in/curves.h"

namespace ypsi {
namespace {

constexpr double px_per_inch = 96, farthest_px = 1e9;

/// Reads along a text.
class SvgCursor {
 public:
  explicit SvgCursor(std::string_view text) : at_(text.data()), end_(text.data() + text.size()) {}
  void skip() {
    while (at_ < end_ && (*at_ == ' ' || *at_ == '\t' || *at_ == '\n' || *at_ == '\r' || *at_ == '\f')) ++at_;
  }
  void skip_comma() {
    skip();
    if (at_ < end_ && *at_ == ',') {
      ++at_;
      skip();
    }
  }
  bool done() {
    skip();
    return at_ >= end_;
  }
  char peek() const { return at_ < end_ ? *at_ : '\0'; }
  void next() { ++at_; }
  std::string_view rest() const { return {at_, static_cast<std::size_t>(end_ - at_)}; }
  std::optional<double> number() {
    const char* from = at_ + (peek() == '+' ? 1 : 0);
    double value = 0;
    const auto [to, wrong] = std::from_chars(from, end_, value);
    if (wrong != std::errc() || !(std::fabs(value) < farthest_px)) return std::nullopt;
    at_ = to;
    return value;
  }
  /// A flag of an arc: one digit, and another number may follow at once.
  std::optional<bool> flag() {
    if (peek() != '0' && peek() != '1') return std::nullopt;
    return *at_++ == '1';
  }
  std::string_view word() {
    const char* from = at_;
    while (at_ < end_ && ((*at_ >= 'a' && *at_ <= 'z') || (*at_ >= 'A' && *at_ <= 'Z'))) ++at_;
    return {from, static_cast<std::size_t>(at_ - from)};
  }

 private:
  const char *at_, *end_;
};

bool begins_number(char c) {
  return (c >= '0' && c <= '9') || c == '+' || c == '-' || c == '.';
}

class PathReader {
 public:
  PathReader(std::string_view data, const Affine& map, double tolerance)
      : in_(data), map_(map), tolerance_(tolerance) {}

  std::optional<std::vector<SvgSubpath>> read() {
    while (!in_.done()) {
      char command = in_.peek();
      if (begins_number(command)) {
        // What was said before holds on; after a move it is a line.
        if (!command_ || command_ == 'Z' || command_ == 'z') return std::nullopt;
        command = command_ == 'M' ? 'L' : command_ == 'm' ? 'l' : command_;
      } else {
        in_.next();
        in_.skip();
      }
      if (!command_ && command != 'M' && command != 'm') return std::nullopt;
      if (!take(command)) return std::nullopt;
      command_ = command;
      in_.skip_comma();
    }
    end();
    return std::move(all_);
  }

 private:
  std::optional<PlanPoint> point(bool relative) {
    const auto x = in_.number();
    in_.skip_comma();
    const auto y = x ? in_.number() : std::nullopt;
    in_.skip_comma();
    if (!y) return std::nullopt;
    return PlanPoint(*x, *y) + (relative ? at_ : PlanPoint());
  }

  bool take(char command) {
    const bool relative = command >= 'a';
    const char kind = relative ? static_cast<char>(command - 'a' + 'A') : command;
    const bool smooth_cubic = kind == 'S' && (last_ == 'C' || last_ == 'S'),
               smooth_square = kind == 'T' && (last_ == 'Q' || last_ == 'T');
    std::array<PlanPoint, 3> p{};
    const auto points = [&](std::size_t n) {
      for (std::size_t i = 0; i < n; ++i) {
        const auto read = point(relative);
        if (!read) return false;
        p[i] = *read;
      }
      return true;
    };
    bool sound = true;
    switch (kind) {
      case 'M':
        sound = points(1);
        if (sound) {
          end();
          at_ = start_ = p[0];
        }
        break;
      case 'L':
        sound = points(1);
        if (sound) line_to(p[0]);
        break;
      case 'H':
      case 'V': {
        const auto v = in_.number();
        sound = v.has_value();
        if (!sound) break;
        const PlanPoint to = kind == 'H' ? PlanPoint(*v + (relative ? at_.real() : 0), at_.imag())
                                         : PlanPoint(at_.real(), *v + (relative ? at_.imag() : 0));
        line_to(to);
        break;
      }
      case 'C':
        sound = points(3);
        if (sound) cubic(p[0], p[1], p[2]);
        break;
      case 'S':
        sound = points(2);
        if (sound) cubic(smooth_cubic ? 2.0 * at_ - control_ : at_, p[0], p[1]);
        break;
      case 'Q':
        sound = points(2);
        if (sound) square(p[0], p[1]);
        break;
      case 'T':
        sound = points(1);
        if (sound) square(smooth_square ? 2.0 * at_ - control_ : at_, p[0]);
        break;
      case 'A':
        sound = arc(relative);
        break;
      case 'Z':
        close();
        break;
      default:
        sound = false;
    }
    last_ = kind;
    return sound;
  }

  void begin() {
    if (points_.empty()) points_.push_back(map_(at_));
  }
  void line_to(PlanPoint to) {
    begin();
    points_.push_back(map_(to));
    at_ = to;
  }
  void cubic(PlanPoint c1, PlanPoint c2, PlanPoint to) {
    begin();
    add_bezier(points_, map_(at_), map_(c1), map_(c2), map_(to), tolerance_);
    control_ = c2;
    at_ = to;
  }
  void square(PlanPoint c, PlanPoint to) {
    const PlanPoint from = at_;
    cubic(from + 2.0 / 3 * (c - from), to + 2.0 / 3 * (c - to), to);
    control_ = c;
  }
  bool arc(bool relative) {
    const auto rx = in_.number();
    in_.skip_comma();
    const auto ry = rx ? in_.number() : std::nullopt;
    in_.skip_comma();
    const auto turn = ry ? in_.number() : std::nullopt;
    in_.skip_comma();
    const auto large = turn ? in_.flag() : std::nullopt;
    in_.skip_comma();
    const auto sweep = large ? in_.flag() : std::nullopt;
    in_.skip_comma();
    const auto to = sweep ? point(relative) : std::nullopt;
    if (!to) return false;
    if (*to == at_) return true;
    if (*rx == 0 || *ry == 0) {
      line_to(*to);
      return true;
    }
    begin();
    const EllipseArc e =
        svg_arc(at_, *to, std::fabs(*rx), std::fabs(*ry), *turn * std::numbers::pi / 180, *large, *sweep);
    add_arc(points_, mapped(e, map_), tolerance_);
    points_.back() = map_(*to);
    at_ = *to;
    return true;
  }
  void close() {
    if (!points_.empty()) {
      const PlanPoint first = points_.front();
      if (points_.back() != first) points_.push_back(first);
      if (points_.size() > 2) all_.push_back({std::move(points_), true});
      points_.clear();
    }
    at_ = start_;
  }
  void end() {
    if (points_.size() > 1) all_.push_back({std::exchange(points_, {}), false});
    points_.clear();
  }

  SvgCursor in_;
  Affine map_;
  double tolerance_;
  std::vector<SvgSubpath> all_;
  std::vector<PlanPoint> points_;
  PlanPoint at_, start_, control_;
  char command_ = 0, last_ = 0;
};

}  // namespace

std::optional<SvgLength> svg_length(std::string_view text) {
  SvgCursor in(text);
  in.skip();
  const auto value = in.number();
  if (!value) return std::nullopt;
  constexpr std::array<std::pair<std::string_view, double>, 7> units{{{"mm", px_per_inch / 25.4},
                                                                      {"cm", px_per_inch / 2.54},
                                                                      {"in", px_per_inch},
                                                                      {"pt", px_per_inch / 72},
                                                                      {"pc", px_per_inch / 6},
                                                                      {"px", 1},
                                                                      {"em", 16}}};
  if (in.peek() == '%') return SvgLength{*value, false, true};
  const std::string_view unit = in.word();
  if (!in.done()) return std::nullopt;
  if (unit.empty()) return SvgLength{*value};
  for (const auto& [name, px] : units)
    if (unit == name) return SvgLength{*value * px, name != "px" && name != "em"};
  return std::nullopt;
}

std::optional<std::vector<double>> svg_numbers(std::string_view text) {
  SvgCursor in(text);
  std::vector<double> all;
  while (!in.done()) {
    const auto value = in.number();
    if (!value) return std::nullopt;
    all.push_back(*value);
    in.skip_comma();
  }
  return all;
}

std::optional<Affine> svg_transform(std::string_view text) {
  SvgCursor in(text);
  Affine all;
  while (!in.done()) {
    const std::string_view name = in.word();
    in.skip();
    if (in.peek() != '(') return std::nullopt;
    in.next();
    std::vector<double> v;
    for (in.skip(); in.peek() != ')'; in.skip_comma()) {
      const auto value = in.number();
      constexpr std::size_t most = 6;
      if (!value || v.size() == most) return std::nullopt;
      v.push_back(*value);
    }
    in.next();
    in.skip_comma();
    Affine now;
    const std::size_t n = v.size();
    constexpr double degree = std::numbers::pi / 180;
    if (name == "matrix" && n == 6) {
      now = from_matrix(v[0], v[1], v[2], v[3], v[4], v[5]);
    } else if (name == "translate" && (n == 1 || n == 2)) {
      now.shift = {v[0], n == 2 ? v[1] : 0};
    } else if (name == "scale" && (n == 1 || n == 2)) {
      now = from_matrix(v[0], 0, 0, n == 2 ? v[1] : v[0], 0, 0);
    } else if (name == "rotate" && (n == 1 || n == 3)) {
      now.turn = std::polar(1.0, v[0] * degree);
      if (n == 3) now.shift = PlanPoint(v[1], v[2]) - now.turn * PlanPoint(v[1], v[2]);
    } else if (name == "skewX" && n == 1) {
      now = from_matrix(1, 0, std::tan(v[0] * degree), 1, 0, 0);
    } else if (name == "skewY" && n == 1) {
      now = from_matrix(1, std::tan(v[0] * degree), 0, 1, 0, 0);
    } else {
      return std::nullopt;
    }
    all = all.after(now);
  }
  return all;
}

std::optional<std::vector<SvgSubpath>> svg_path(std::string_view data, const Affine& map, double tolerance) {
  return PathReader(data, map, tolerance).read();
}

}  // namespace ypsi
