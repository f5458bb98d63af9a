#include "core/book/standing.h"

#include <algorithm>
#include <set>

namespace ypsi {
namespace {

std::set<std::size_t> withdrawn(const Book& book) {
  std::set<std::size_t> gone;
  // Later entries first: an undo that was itself undone gives its entry back.
  for (std::size_t i = book.history.size(); i-- > 0;)
    if (const auto& w = book.history[i].withdraws; w && *w < i && !gone.contains(i)) gone.insert(*w);
  return gone;
}

bool changed_something(const Entry& entry) {
  return entry.as_found != entry.as_left;
}

std::set<std::string> upstream_of(const std::string& sheet) {
  std::set<std::string> all;
  std::vector<std::string> open{sheet};
  while (!open.empty()) {
    const std::string at = open.back();
    open.pop_back();
    for (const auto& d : dependencies())
      if (at == d.sheet && all.insert(d.upstream).second) open.emplace_back(d.upstream);
  }
  return all;
}

}  // namespace

const std::vector<Dependency>& dependencies() {
  static const std::vector<Dependency> edges{
      {"steps_per_unit", "build"},
      {"lost_motion", "steps_per_unit"},
      {"squareness", "lost_motion"},
      {"squareness", "steps_per_unit"},
      {"measure_cut", "squareness"},
      {"limits", "steps_per_unit"},
      {"limits", "homing"},
      {"homing", "inputs"},
      {"tool_setter", "steps_per_unit"},
      {"touch_plate", "steps_per_unit"},
      {"tools", "tool_setter"},
      {"tool_setter", "bed_spindle"},
      {"touch_plate", "bed_spindle"},
      {"directions", "build"},
      {"work_zero", "steps_per_unit"},
  };
  return edges;
}

std::vector<std::string> downstream(const std::string& sheet) {
  std::vector<std::string> found;
  for (const char* candidate : {"lost_motion", "squareness", "limits", "homing", "bed_spindle", "touch_plate",
                                "tool_setter", "tools", "work_zero", "measure_cut"})
    if (candidate != sheet && upstream_of(candidate).contains(sheet)) found.emplace_back(candidate);
  return found;
}

std::optional<std::size_t> newest(const Book& book, const std::string& sheet, const std::string& subject) {
  const auto gone = withdrawn(book);
  for (std::size_t i = book.history.size(); i-- > 0;) {
    const Entry& e = book.history[i];
    if (e.sheet == sheet && (subject.empty() || e.subject == subject) && !e.withdraws && !gone.contains(i)) return i;
  }
  return std::nullopt;
}

SheetStanding standing_of(const Book& book, const std::string& sheet) {
  SheetStanding result;
  result.entry = newest(book, sheet);
  if (!result.entry) return result;
  const Entry& mine = book.history[*result.entry];
  result.standing = mine.result.value("failed", false) ? Standing::failed : Standing::current;
  const auto upstream = upstream_of(sheet);
  // An undo changes the machine as much as what it undoes, so every later entry upstream counts.
  for (std::size_t i = book.history.size(); i-- > *result.entry + 1;) {
    const Entry& e = book.history[i];
    if (upstream.contains(e.sheet) && changed_something(e)) {
      result.standing = Standing::out_of_date;
      result.cause = i;
      break;
    }
  }
  return result;
}

}  // namespace ypsi
