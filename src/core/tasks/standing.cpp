#include "core/tasks/standing.h"

#include <map>
#include <set>
#include <string_view>
#include <utility>

#include "core/book/record.h"

namespace ypsi {
namespace {

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

int rank(Standing standing) {
  return standing == Standing::failed ? 2 : standing == Standing::out_of_date ? 1 : 0;
}

bool said_to_be(const Entry& entry, const char* what) {
  const nlohmann::json& result = entry.result.get();
  if (!result.is_object()) return false;
  const auto said = result.find(what);
  return said != result.end() && said->is_boolean() && said->get<bool>();
}

}  // namespace

Standings::Standings(const Book& book, const Tasks& tasks) : history_(book.history), tasks_(tasks) {
  for (const Task* task : tasks)
    for (const Upstream& upstream : task->depends_on()) edges_.push_back({task->id(), upstream});
  for (RecordWalk walk(book); walk.step();)
    if (const Edges edges = edges_of(walk.entry()); edges || walk.counts())
      facts_.push_back({walk.at(), &walk.entry().sheet, edges, walk.counts()});
}

/// What a task depends on, directly or through others, and by which edges a change there counts.
std::map<std::string_view, Standings::Edges> Standings::upstream_of(std::string_view id) const {
  std::map<std::string_view, Edges> all;
  std::vector<std::string_view> open{id};
  while (!open.empty()) {
    const std::string_view at = open.back();
    open.pop_back();
    for (std::size_t i = 0; i < edges_.size(); ++i) {
      const Edge& edge = edges_[i];
      if (at != edge.task) continue;
      if (!all.contains(edge.upstream.id) && edge.upstream.id != id) open.emplace_back(edge.upstream.id);
      all[edge.upstream.id] |= Edges{1} << i;
    }
  }
  return all;
}

/// The edges that a change goes along: none where it changed nothing.
Standings::Edges Standings::edges_of(const Entry& change) const {
  Edges edges = 0;
  if (!changed_something(change)) return edges;
  for (std::size_t i = 0; i < edges_.size(); ++i)
    if (change.sheet == edges_[i].upstream.id && is_about(change, edges_[i].upstream.about)) edges |= Edges{1} << i;
  return edges;
}

bool Standings::depends(std::string_view task, std::string_view upstream) const {
  return upstream_of(task).contains(upstream);
}

SheetStanding Standings::of(std::string_view sheet, std::optional<Axis> only) const {
  const Task* task = find_task(tasks_, sheet);
  const bool newest_alone = task && task->newest_alone();
  Edges leading_here = 0;
  for (const auto& [name, edges] : upstream_of(sheet)) leading_here |= edges;
  SheetStanding result;
  std::array<std::optional<std::size_t>, axis_count> changed;  // newest change upstream that touches an axis
  std::optional<std::size_t> changed_any;
  std::set<std::string, std::less<>> subjects;  // whose newest entry was met
  std::array<bool, axis_count> met{};
  const auto take = [&](std::size_t at, const Entry& entry, const std::optional<std::size_t>& cause) {
    const bool lapsed = said_to_be(entry, "lapsed");  // what it was about is not there any more as it was
    const Standing standing = said_to_be(entry, "failed") ? Standing::failed
                              : cause || lapsed           ? Standing::out_of_date
                                                          : Standing::current;
    if (result.entry && rank(standing) <= rank(result.standing)) return;
    result = {standing, at, standing == Standing::out_of_date ? (lapsed ? at : cause) : std::nullopt};
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
    if (task && task->stands_beside(entry)) continue;
    const auto axes = axes_of(entry);
    const bool whole = axes.size() == axis_count && entry.subject.size() != axis_count;
    const std::string of = newest_alone ? std::string() : entry.subject;
    if (whole && !only && subjects.insert(of).second) take(fact.at, entry, changed_any);
    if (whole && !only) continue;
    for (const Axis a : axes)
      if ((!only || *only == a) && !std::exchange(met[index(a)], true)) take(fact.at, entry, changed[index(a)]);
    if (only && met[index(*only)]) break;
  }
  return result;
}

std::vector<const Task*> downstream(std::string_view id, const Tasks& tasks) {
  const Book empty;
  const Standings standings(empty, tasks);
  std::vector<const Task*> found;
  for (const Task* task : tasks)
    if (id != task->id() && standings.depends(task->id(), id)) found.push_back(task);
  return found;
}

// An undo changes the machine as much as what it undoes, so every later entry upstream counts.
SheetStanding standing_of(const Book& book, std::string_view sheet, std::optional<Axis> axis) {
  return Standings(book).of(sheet, axis);
}

}  // namespace ypsi
