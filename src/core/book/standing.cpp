#include "core/book/standing.h"

#include <algorithm>
#include <map>
#include <set>
#include <string_view>
#include <utility>

namespace ypsi {
namespace {

const std::string any;

/// Walks the record from its end, so that what was withdrawn is known before it is met.
class Backwards {
 public:
  explicit Backwards(const Book& book) : history_(book.history), at_(book.history.size()) {}
  /// False at the beginning of the record.
  bool step() {
    if (at_ == 0) return false;
    --at_;
    withdrawn_ = !gone_.empty() && gone_.erase(at_) > 0;
    // An undo that was itself undone gives its entry back.
    if (const auto& w = entry().withdraws; w && *w < at_ && !withdrawn_) gone_.insert(*w);
    return true;
  }
  std::size_t at() const { return at_; }
  const Entry& entry() const { return history_[at_]; }
  /// Whether it is a finding that holds, not an undo and not undone.
  bool counts() const { return !withdrawn_ && !entry().withdraws; }

 private:
  const std::vector<Entry>& history_;
  std::size_t at_;
  std::set<std::size_t> gone_;
  bool withdrawn_ = false;
};

bool changed_something(const Entry& entry) {
  return entry.as_found != entry.as_left;
}

bool is_about(const Entry& change, std::string_view about) {
  if (about.empty()) return true;
  const auto named = [&](const nlohmann::json& values) {
    if (!values.is_object()) return false;
    for (auto item = values.begin(); item != values.end(); ++item)
      if (item.key().find(about) != std::string::npos) return true;
    return false;
  };
  return named(change.as_left) || named(change.as_found);
}

/// The sheets upstream of one, and by which edges a change there counts: bits by the order of dependencies().
using Edges = std::uint32_t;
using Upstream = std::map<std::string_view, Edges>;

Upstream upstream_of(std::string_view sheet) {
  Upstream all;
  std::vector<std::string_view> open{sheet};
  while (!open.empty()) {
    const std::string_view at = open.back();
    open.pop_back();
    for (std::size_t i = 0; i < dependencies().size(); ++i) {
      const Dependency& d = dependencies()[i];
      if (at != d.sheet) continue;
      if (!all.contains(d.upstream) && d.upstream != sheet) open.emplace_back(d.upstream);
      all[d.upstream] |= Edges{1} << i;
    }
  }
  return all;
}

/// The edges that a change goes along: none where it changed nothing.
Edges edges_of(const Entry& change) {
  Edges edges = 0;
  if (!changed_something(change)) return edges;
  for (std::size_t i = 0; i < dependencies().size(); ++i)
    if (const Dependency& d = dependencies()[i]; change.sheet == d.upstream && is_about(change, d.about))
      edges |= Edges{1} << i;
  return edges;
}

int rank(Standing standing) {
  return standing == Standing::failed ? 2 : standing == Standing::out_of_date ? 1 : 0;
}

}  // namespace

std::vector<bool> findings_that_hold(const Book& book) {
  std::vector<bool> holds(book.history.size());
  for (Backwards walk(book); walk.step();) holds[walk.at()] = walk.counts();
  return holds;
}

Standings::Standings(const Book& book) : history_(book.history) {
  for (Backwards walk(book); walk.step();)
    if (const Edges edges = edges_of(walk.entry()); edges || walk.counts())
      facts_.push_back({walk.at(), &walk.entry().sheet, edges, walk.counts()});
}

SheetStanding Standings::of(std::string_view sheet, std::optional<Axis> only) const {
  const Upstream upstream = upstream_of(sheet);
  Edges leading_here = 0;
  for (const auto& [name, edges] : upstream) leading_here |= edges;
  SheetStanding result;
  std::array<std::optional<std::size_t>, axis_count> changed;  // newest change upstream that touches an axis
  std::optional<std::size_t> changed_any;
  std::set<std::string, std::less<>> subjects;  // whose newest entry was met
  std::array<bool, axis_count> met{};
  const auto take = [&](std::size_t at, const Entry& entry, const std::optional<std::size_t>& cause) {
    const Standing standing = entry.result.is_object() && entry.result.value("failed", false) ? Standing::failed
                              : cause                                                         ? Standing::out_of_date
                                                                                              : Standing::current;
    if (result.entry && rank(standing) <= rank(result.standing)) return;
    result = {standing, at, standing == Standing::out_of_date ? cause : std::nullopt};
  };
  for (const Fact& fact : facts_) {
    const bool all_changed = changed_any && changed[0] && changed[1] && changed[2];
    if (!all_changed && fact.edges & leading_here) {
      if (!changed_any) changed_any = fact.at;
      for (const Axis a : axes_of(history_[fact.at]))
        if (!changed[index(a)]) changed[index(a)] = fact.at;
    }
    if (!fact.counts || *fact.sheet != sheet) continue;
    const Entry& entry = history_[fact.at];
    const auto axes = axes_of(entry);
    const bool whole = axes.size() == axis_count && entry.subject.size() != axis_count;
    // Of what is cut only the last counts, whichever program it was.
    const std::string& of = sheet == "cut" || sheet == "ready_check" ? any : entry.subject;
    if (whole && !only && subjects.insert(of).second) take(fact.at, entry, changed_any);
    if (whole && !only) continue;
    for (const Axis a : axes)
      if ((!only || *only == a) && !std::exchange(met[index(a)], true)) take(fact.at, entry, changed[index(a)]);
    if (only && met[index(*only)]) break;
  }
  return result;
}

const std::vector<Dependency>& dependencies() {
  static const std::vector<Dependency> edges{
      {"steps_per_unit", "build", "drive"},
      {"steps_per_unit", "build", "steps_per_mm"},
      {"inputs", "build", "home"},
      {"lost_motion", "steps_per_unit"},
      {"squareness", "lost_motion"},
      {"squareness", "steps_per_unit"},
      {"squareness", "build", "beam"},
      {"squareness", "build", "second_switch"},
      {"measure_cut", "squareness"},
      {"limits", "steps_per_unit"},
      {"limits", "homing"},
      {"homing", "inputs"},
      {"homing", "build", "home"},
      {"bed_spindle", "build", "shim"},
      {"tool_setter", "steps_per_unit"},
      {"tool_setter", "bed_spindle"},
      {"touch_plate", "steps_per_unit"},
      {"touch_plate", "bed_spindle"},
      {"tools", "tool_setter"},
      {"tools", "touch_plate"},
      {"work_zero", "steps_per_unit"},
      {"work_zero", "homing"},
      {"work_zero", "tools"},
      {"work_zero", "squareness"},
      {"certificate", "measure_cut"},
      {"certificate", "limits"},
      {"certificate", "tools"},
  };
  return edges;
}

std::vector<std::string> downstream(const std::string& sheet) {
  std::vector<std::string> found;
  for (const char* candidate : {"lost_motion", "squareness", "limits", "homing", "bed_spindle", "touch_plate",
                                "tool_setter", "tools", "work_zero", "measure_cut", "certificate"})
    if (candidate != sheet && upstream_of(candidate).contains(sheet)) found.emplace_back(candidate);
  return found;
}

std::vector<Axis> axes_of(const Entry& entry) {
  std::vector<Axis> axes;
  for (const Axis a : all_axes)
    if (entry.subject.find(letter(a)) != std::string::npos) axes.push_back(a);
  return !axes.empty() && axes.size() == entry.subject.size() ? axes
                                                              : std::vector<Axis>(all_axes.begin(), all_axes.end());
}

std::optional<std::size_t> newest(const Book& book, const std::string& sheet, const std::string& subject) {
  for (Backwards walk(book); walk.step();)
    if (const Entry& e = walk.entry(); e.sheet == sheet && (subject.empty() || e.subject == subject) && walk.counts())
      return walk.at();
  return std::nullopt;
}

// An undo changes the machine as much as what it undoes, so every later entry upstream counts.
SheetStanding standing_of(const Book& book, const std::string& sheet) {
  return Standings(book).of(sheet);
}

SheetStanding standing_of(const Book& book, const std::string& sheet, Axis axis) {
  return Standings(book).of(sheet, axis);
}

}  // namespace ypsi
