#pragma once
// What of a book still holds: which results are current, which are out of date and why. Derived from the history and
// from what depends on what; nothing of it is stored.
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/tasks/all_tasks.h"

namespace ypsi {

enum class Standing { current, out_of_date, never_done, failed };

struct SheetStanding {
  Standing standing = Standing::never_done;
  std::optional<std::size_t> entry;  ///< the newest entry that counts
  std::optional<std::size_t> cause;  ///< with out_of_date: the upstream entry that changed something later
};

/// Tasks that are out of date, directly or through others, once `id` changes something; in the order of work.
std::vector<const Task*> downstream(std::string_view id, const Tasks& tasks = all_tasks());

/// Standing of one task: of the worst of its axes, failed before out of date before current; with `axis`, of what was
/// found of that one.
/// Whose newest entry says that it has lapsed (a head was taken off) is out of date by that entry itself.
/// An entry counts unless a later one withdraws it; an entry changes something where as_found differs from as_left; a
/// change of one axis touches what was found of that axis, and what was found of the machine as a whole.
SheetStanding standing_of(const Book& book, std::string_view task, std::optional<Axis> axis = {});

/// The same for many tasks: the record is looked through once. For as long as the book is not changed.
class Standings {
 public:
  explicit Standings(const Book& book, const Tasks& tasks = all_tasks());
  SheetStanding of(std::string_view task, std::optional<Axis> only = {}) const;
  /// Whether a change on `upstream` may make `task` out of date, directly or through others.
  bool depends(std::string_view task, std::string_view upstream) const;

 private:
  using Edges = std::uint64_t;  ///< bits by the order of edges_
  struct Edge {
    std::string_view task;
    Upstream upstream;
  };
  struct Fact {
    std::size_t at;  ///< in the record
    const std::string* sheet;
    Edges edges;  ///< that it goes along, being a change
    bool counts;  ///< a finding that holds: no undo, and not undone
  };
  std::map<std::string_view, Edges> upstream_of(std::string_view id) const;
  Edges edges_of(const Entry& change) const;
  const std::vector<Entry>& history_;
  const Tasks& tasks_;
  std::vector<Edge> edges_;
  std::vector<Fact> facts_;  ///< newest first
};

}  // namespace ypsi
