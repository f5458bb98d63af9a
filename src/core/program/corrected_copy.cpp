#include "core/program/corrected_copy.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>
#include <numbers>
#include <optional>
#include <utility>

#include "core/program/interpreter.h"
#include "core/program/place_map.h"
#include "core/program/text_lines.h"
#include "core/program/unroll.h"
#include "core/program/words.h"

namespace ypsi {
namespace {

constexpr int mm_decimals = 5, inch_decimals = 6;

/// A number as a program writes it: no exponent, no idle zeros.
std::string plain(double value, int decimals) {
  std::string text = fmt::format("{:.{}f}", value, decimals);
  text.erase(text.find_last_not_of('0') + 1);
  if (text.back() == '.') text.pop_back();
  return text == "-0" ? "0" : text;
}

/// The comments of a line, as they stand.
std::string comments_of(const LineReader& line) {
  std::string found;
  for (const std::string_view comment : line.comments()) {
    const bool to_the_end = *(comment.data() - 1) == ';';
    found += (to_the_end ? ";" : "(") + std::string(comment) + (to_the_end ? "" : ")");
  }
  return found;
}

/// Why a line cannot be copied place by place: it says where places are counted from, or feeds by time.
Result<void> may_be_copied(const SortedWords& words, std::uint32_t number) {
  const bool by_time = words.feed_mode && code_of(*words.feed_mode) == 930;
  if (!by_time && (!words.once || code_of(*words.once) == 40)) return {};
  const Word& word = by_time ? *words.feed_mode : *words.once;
  return program_error(number, word.column,
                       fmt::format("G{:g} cannot be carried into a copy; take it out, or have the program written "
                                   "without it.",
                                   word.value),
                       "frames");
}

/// X and Y into X and Y, linear: about work zero, which stays where it is.
class PlaneMap final : public PlaceMap {
 public:
  PlaneMap(double xx, double xy, double yx, double yy) : xx_(xx), xy_(xy), yx_(yx), yy_(yy) {}
  std::vector<WorkPosition> way(const WorkPosition&, const WorkPosition& p, bool) override {
    return {{xx_ * p.x + xy_ * p.y, yx_ * p.x + yy_ * p.y, p.z}};
  }

 private:
  double xx_, xy_, yx_, yy_;
};

class TableMap final : public PlaceMap {
 public:
  TableMap(const std::array<std::optional<ErrorTable>, 2>& tables, const WorkZero& zero)
      : tables_(tables), zero_(zero) {}

  std::vector<WorkPosition> way(const WorkPosition& from, const WorkPosition& wanted, bool cuts) override {
    std::vector<WorkPosition> out;
    // Nobody knows from where the first move comes, so which way the axes were left stays open.
    bool turned = false;
    for (const Axis a : {Axis::x, Axis::y})
      if (moved_ && wanted[a] != from[a]) {
        const int now = wanted[a] > from[a] ? 1 : -1;
        turned = turned || (direction_[index(a)] != 0 && direction_[index(a)] != now);
        direction_[index(a)] = now;
      }
    moved_ = true;
    // What is lost on turning round is taken up on the spot, or it would be spread over the way.
    if (cuts && turned) out.push_back(command(from));
    if (cuts)
      for (const double part : breaks(from, wanted)) {
        WorkPosition between;
        for (const Axis a : all_axes) between[a] = from[a] + part * (wanted[a] - from[a]);
        out.push_back(command(between));
      }
    out.push_back(command(wanted));
    return out;
  }

 private:
  /// To add at a target, as the axis moves.
  double at_target(std::size_t axis, std::size_t row) const {
    const ErrorTable::Row& r = tables_[axis]->rows[row];
    return direction_[axis] > 0 ? r.plus : direction_[axis] < 0 ? r.minus : (r.plus + r.minus) / 2;
  }
  /// The same at a commanded place of the machine, linear between targets.
  double to_add(std::size_t axis, double commanded) const {
    const auto& rows = tables_[axis]->rows;
    const auto after = std::find_if(rows.begin(), rows.end(), [&](const auto& r) { return r.target > commanded; });
    if (after == rows.begin()) return at_target(axis, 0);
    if (after == rows.end()) return at_target(axis, rows.size() - 1);
    const auto i = static_cast<std::size_t>(after - rows.begin());
    const double part = (commanded - rows[i - 1].target) / (rows[i].target - rows[i - 1].target);
    return at_target(axis, i - 1) + part * (at_target(axis, i) - at_target(axis, i - 1));
  }
  WorkPosition command(const WorkPosition& wanted) const {
    constexpr int turns = 4;  // of the fixed point: an error changes by less than a hundredth of the way
    MachinePosition to = to_machine(wanted, zero_);
    for (const Axis a : {Axis::x, Axis::y}) {
      if (!tables_[index(a)]) continue;
      const double place = to[a];
      for (int i = 0; i < turns; ++i) to[a] = place + to_add(index(a), to[a]);
    }
    return to_work(to, zero_);
  }
  /// Parts of a way, rising, at which an axis arrives at one of its targets.
  std::vector<double> breaks(const WorkPosition& from, const WorkPosition& wanted) const {
    std::vector<double> parts;
    for (const Axis a : {Axis::x, Axis::y}) {
      const double goes = wanted[a] - from[a];
      if (!tables_[index(a)] || goes == 0) continue;
      for (std::size_t i = 0; i < tables_[index(a)]->rows.size(); ++i) {
        const double place = tables_[index(a)]->rows[i].target - at_target(index(a), i) - zero_[a];
        const double part = (place - from[a]) / goes;
        if (part > 0 && part < 1) parts.push_back(part);
      }
    }
    std::sort(parts.begin(), parts.end());
    return parts;
  }

  const std::array<std::optional<ErrorTable>, 2>& tables_;
  WorkZero zero_;
  std::array<int, 2> direction_{};
  bool moved_ = false;
};

class Copier {
 public:
  Copier(PlaceMap& map, double tolerance) : map_(map), tolerance_(tolerance) {}

  Result<void> line(std::string_view text, std::uint32_t number) {
    while (!text.empty() && text.back() == '\r') text.remove_suffix(1);
    const ModalState before = interpreter_.state();
    const auto words = reader_.read(text, number, interpreter_.parameters());
    if (!words) return tl::make_unexpected(words.error());
    Program moved;
    if (auto ok = interpreter_.line(text, number, moved); !ok) return ok;
    SortedWords sorted;
    if (auto ok = sort_words(*words, number, sorted); !ok) return ok;
    if (auto ok = may_be_copied(sorted, number); !ok) return ok;
    for (const Event& e : moved.events)
      if (e.kind == EventKind::work_frame && std::exchange(frame_, e.value).value_or(e.value) != e.value)
        return program_error(number, 1, "this program works in more than one work frame; correct its parts one by one.",
                             "frames");
    if (moved.motions.empty()) {
      out_.text.append(text).push_back('\n');
      return {};
    }
    if (auto ok = know_start(*words, moved, number); !ok) return ok;
    if (before.inches != interpreter_.state().inches)
      for (const Axis a : all_axes) written_[a] *= before.inches ? 25.4 : 1 / 25.4;
    // A cycle is written out as its moves, so its own words go.
    const bool drills = interpreter_.state().cycle.number != 0;
    const char* const dropped = drills ? "XYZIJKRQPL" : "XYZIJKR";
    std::string kept;
    std::string stops;  // M0 to M2 and M30 come after all of the line's moves
    for (const Word& w : *words)
      if (sorted.stop && w.column == sorted.stop->column)
        stops = fmt::format(" M{}", plain(w.value, inch_decimals));
      else if (!std::strchr(dropped, w.letter) && (!sorted.motion || w.column != sorted.motion->column))
        kept += fmt::format("{}{} ", w.letter, plain(w.value, inch_decimals));
    deleted_ = reader_.block_delete();
    for (const Axis a : all_axes) named_[index(a)] = sorted.of(letter(a)) != nullptr;
    if (deleted_) out_.text += "/";
    out_.text += kept;
    const bool probes = sorted.motion && code_of(*sorted.motion) / 10 == 38;
    const bool with_z = drills || sorted.of('Z') || (!moved.arcs.empty() && moved.arcs.front().plane != Plane::xy);
    WorkPosition from = before.at;
    std::size_t event = 0;
    for (std::size_t i = 0; i < moved.motions.size(); ++i) {
      const Motion& motion = moved.motions[i];
      if (i > 0) next_line();
      for (; drills && event < moved.events.size() && moved.events[event].before <= i; ++event)
        if (moved.events[event].kind == EventKind::dwell)
          out_.text += fmt::format("G4 P{}\n{}", plain(moved.events[event].value, inch_decimals), deleted_ ? "/" : "");
      const std::string way = motion.kind == MotionKind::rapid ? "G0"
                              : probes                         ? "G" + plain(sorted.motion->value, 1)
                                                               : "G1";
      if (is_arc(motion))
        go_along(arc_way(from, motion, moved.arc_of(motion)), way, with_z);
      else
        go_to(from, motion.end, way, with_z);
      from = motion.end;
    }
    out_.text += stops;
    const std::string comments = comments_of(reader_);
    out_.text += comments.empty() ? "\n" : " " + comments + "\n";
    return {};
  }

  bool has_end() const { return interpreter_.state().ended; }
  bool ended() const { return interpreter_.state().ended || interpreter_.text_ends(); }
  CorrectedCopy take() { return std::move(out_); }

 private:
  Result<void> know_start(std::span<const Word> words, const Program& moved, std::uint32_t number) {
    const bool knew = known_x_ && known_y_;
    for (const Word& w : words) {
      known_x_ = known_x_ || w.letter == 'X';
      known_y_ = known_y_ || w.letter == 'Y';
    }
    const bool cuts = std::any_of(moved.motions.begin(), moved.motions.end(), is_cut);
    // A hole needs both; else the line that names the last of them is a place to begin from.
    const bool drills = interpreter_.state().cycle.number != 0 && known_x_ && known_y_;
    if (knew || drills || (!cuts && !interpreter_.state().incremental)) return {};
    return program_error(number, 1,
                         "it cuts, or moves by increments, before X and Y were given, so nobody can say where; begin "
                         "it with G90 and a rapid to X and Y.",
                         "no_start");
  }

  /// Chords that stay within the tolerance of an arc.
  void go_along(const ArcWay& arc, const std::string& way, bool with_z) {
    ++out_.arcs;
    const int chords = arc.chords(tolerance_);
    WorkPosition from = arc.from;
    for (int i = 1; i <= chords; ++i) {
      const WorkPosition to = i == chords ? arc.to : arc.at(static_cast<double>(i) / chords);
      go_to(from, to, way, with_z);
      if (i < chords) next_line();
      from = to;
    }
  }

  /// A block that is deleted stays deleted in all its parts.
  void next_line() { out_.text += deleted_ ? "\n/" : "\n"; }

  void go_to(const WorkPosition& from, const WorkPosition& wanted, const std::string& way, bool named_z) {
    known_z_ = known_z_ || named_z;
    const bool with_z = named_z || (known_z_ && map_.moves_heights());
    if (!(known_x_ && known_y_)) return write(wanted, way, with_z);
    const auto commands = map_.way(from, wanted, way == "G1");
    for (std::size_t i = 0; i < commands.size(); ++i) {
      if (i > 0) next_line();
      write(commands[i], way, with_z);
    }
    const WorkPosition& to = commands.back();
    out_.largest_change = std::max(out_.largest_change, std::hypot(to.x - wanted.x, to.y - wanted.y, to.z - wanted.z));
  }

  /// One straight move in the units and the way of counting that hold now. An axis that the line does not name is
  /// moved only where the map needs it, and X and Y not at all before both are known: from wherever the tool stands,
  /// what lifts it only lifts.
  void write(const WorkPosition& to, const std::string& way, bool with_z) {
    const ModalState& now = interpreter_.state();
    const double unit = now.inches ? 25.4 : 1;
    const int decimals = now.inches ? inch_decimals : mm_decimals;
    const double digits = std::pow(10.0, decimals);
    out_.text += way;
    for (const Axis a : all_axes) {
      if (a == Axis::z ? !with_z : !(known_x_ && known_y_)) continue;
      const double rounded = std::round(to[a] / unit * digits) / digits;
      if (a != Axis::z && rounded == written_[a] && !named_[index(a)]) continue;
      out_.text += fmt::format(" {}{}", letter(a), plain(now.incremental ? rounded - written_[a] : rounded, decimals));
      written_[a] = rounded;
    }
  }

  PlaceMap& map_;
  double tolerance_;
  Interpreter interpreter_;
  LineReader reader_;
  CorrectedCopy out_;
  /// Rounded, in the program's units; X and Y are not known before they are written.
  WorkPosition written_{std::numeric_limits<double>::quiet_NaN(), std::numeric_limits<double>::quiet_NaN(), 0};
  std::array<bool, axis_count> named_{};  ///< by the line in hand
  bool known_x_ = false, known_y_ = false, known_z_ = false, deleted_ = false;
  std::optional<double> frame_;
};

/// As the first line of `text` ends.
void use_line_ends_of(std::string_view text, std::string& copy) {
  const std::size_t end = text.find('\n');
  std::erase(copy, '\r');
  if (end == std::string_view::npos || end == 0 || text[end - 1] != '\r') return;
  std::string with_returns;
  for (const char c : copy) with_returns += c == '\n' ? std::string("\r\n") : std::string(1, c);
  copy = std::move(with_returns);
}

}  // namespace

Result<CorrectedCopy> mapped_copy(std::string_view text, PlaceMap& map, double arc_tolerance,
                                  const std::string& remark) {
  if (!(arc_tolerance > 0) || !std::isfinite(arc_tolerance))
    return fail("out_of_range", "The tolerance for arcs must be above zero.", "arc_tolerance");
  std::string written_out;
  if (const auto read = read_program(text); read && read->unrolled) {
    auto unrolled = unroll(text);
    if (!unrolled) return tl::make_unexpected(unrolled.error());
    text = written_out = std::move(unrolled->text);
  }
  Copier copier(map, arc_tolerance);
  std::uint32_t number = 0;
  std::size_t at = 0;
  while (at < text.size() && !copier.ended())
    if (auto ok = copier.line(take_line(text, at), ++number); !ok) return tl::make_unexpected(ok.error());
  const bool has_end = copier.has_end();
  CorrectedCopy copy = copier.take();
  // Before the percent sign that ends it.
  const std::size_t end = number > 1 && copy.text.ends_with("\n%\n") ? copy.text.size() - 2 : copy.text.size();
  copy.text.insert(end, "(" + remark + ")\n");
  // What stands after the end, the second % as a rule, is nobody's to move.
  if (at < text.size() && has_end) copy.text += text.substr(at);
  use_line_ends_of(text, copy.text);
  auto read = read_program(copy.text);
  if (!read) return tl::make_unexpected(read.error());
  copy.program = std::move(*read);
  return copy;
}

WorkPosition landed(const WorkPosition& c, const PlaneErrors& e) {
  return {e.scale_x * c.x + e.scale_y * c.y * std::sin(e.skew), e.scale_y * c.y * std::cos(e.skew), c.z};
}

WorkPosition command_for(const WorkPosition& p, const PlaneErrors& e) {
  return {(p.x - p.y * std::tan(e.skew)) / e.scale_x, p.y / (e.scale_y * std::cos(e.skew)), p.z};
}

Result<CorrectedCopy> corrected_copy(std::string_view text, const PlaneErrors& errors, double arc_tolerance) {
  for (const double scale : {errors.scale_x, errors.scale_y})
    if (!(scale >= 0.5 && scale <= 2))
      return fail("out_of_range",
                  "A scale from a half to two can be taken out of a program; this one is mended on the "
                  "sheet Steps per unit.");
  if (!(std::fabs(errors.skew) <= 0.1))
    return fail("out_of_range", "A lean of more than 100 mrad is mended at the machine, not in a program.");
  const WorkPosition x = command_for({1, 0, 0}, errors), y = command_for({0, 1, 0}, errors);
  PlaneMap map(x.x, y.x, x.y, y.y);
  return mapped_copy(text, map, arc_tolerance,
                     fmt::format("corrected copy: a lean of {:.3f} mrad and scales X {:.6f}, Y {:.6f} taken out, arcs "
                                 "within {:g} mm",
                                 errors.skew * 1000, errors.scale_x, errors.scale_y, arc_tolerance));
}

Result<CorrectedCopy> tabled_copy(std::string_view text, const std::array<std::optional<ErrorTable>, 2>& tables,
                                  const WorkZero& zero, double arc_tolerance) {
  std::string of;
  for (const Axis a : {Axis::x, Axis::y}) {
    const auto& table = tables[index(a)];
    if (!table) continue;
    if (table->rows.size() < 2) return fail("out_of_range", "A table needs two targets at least.", "tables");
    if (table->period_too_short)
      return fail(
          "out_of_range",
          fmt::format("What {}'s drive repeats is shorter than four steps between the targets, so a table would "
                      "leave most of it; take more targets.",
                      letter(a)),
          "tables");
    of += fmt::format("{}{} ({} targets)", of.empty() ? "" : ", ", letter(a), table->rows.size());
  }
  if (of.empty()) return fail("out_of_range", "There is no table of positional errors.", "tables");
  TableMap map(tables, zero);
  return mapped_copy(text, map, arc_tolerance,
                     fmt::format("corrected copy: positional errors of {} taken out, for work zero X {:.3f} Y {:.3f}, "
                                 "arcs within {:g} mm",
                                 of, zero.x, zero.y, arc_tolerance));
}

Result<CorrectedCopy> turned_copy(std::string_view text, double rotation, double arc_tolerance) {
  if (!(std::fabs(rotation) <= std::numbers::pi))
    return fail("out_of_range", "A program is turned by half a turn at most.", "rotation");
  const double c = std::cos(rotation), s = std::sin(rotation);
  PlaneMap map(c, -s, s, c);
  return mapped_copy(text, map, arc_tolerance,
                     fmt::format("turned copy: by {:.4f} degrees about work zero, arcs within {:g} mm",
                                 rotation * 180 / std::numbers::pi, arc_tolerance));
}

}  // namespace ypsi
