#pragma once
// What of a book still holds: which results are current, which are out of date and why. Derived from the history and
// from what depends on what; nothing of it is stored.
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/book/book.h"

namespace ypsi {

enum class Standing { current, out_of_date, never_done, failed };

struct SheetStanding {
  Standing standing = Standing::never_done;
  std::optional<std::size_t> entry;  ///< the newest entry that counts
  std::optional<std::size_t> cause;  ///< with out_of_date: the upstream entry that changed something later
};

/// One edge of the order of work: a change on `upstream` makes `sheet` out of date.
struct Dependency {
  std::string_view sheet, upstream;
  /// Where not empty: only a change of something whose name holds this ("drive") counts, since `upstream` changes more.
  std::string_view about{};
};
const std::vector<Dependency>& dependencies();

/// Sheets that are out of date, directly or through others, once `sheet` changes something.
std::vector<std::string> downstream(const std::string& sheet);

/// Axes that an entry is about: the letters of its subject; all where the subject names none ("", "T2").
std::vector<Axis> axes_of(const Entry& entry);

/// Standing of one sheet: of the worst of its axes, failed before out of date before current.
/// An entry counts unless a later one withdraws it; an entry changes something where as_found differs from as_left; a
/// change of one axis touches what was found of that axis, and what was found of the machine as a whole.
SheetStanding standing_of(const Book& book, const std::string& sheet);
/// The same of what was found of one axis.
SheetStanding standing_of(const Book& book, const std::string& sheet, Axis axis);

/// The same for many sheets: the record is looked through once. For as long as the book is not changed.
class Standings {
 public:
  explicit Standings(const Book& book);
  SheetStanding of(std::string_view sheet, std::optional<Axis> only = {}) const;

 private:
  struct Fact {
    std::size_t at;  ///< in the record
    const std::string* sheet;
    std::uint32_t edges;  ///< that it goes along, being a change; bits by the order of dependencies()
    bool counts;          ///< a finding that holds: no undo, and not undone
  };
  const std::vector<Entry>& history_;
  std::vector<Fact> facts_;  ///< newest first
};

/// For each entry of the record, whether it is a finding that holds: not undone, and no undo itself.
std::vector<bool> findings_that_hold(const Book& book);

/// Newest entry of a sheet and subject (axis letter, or empty for any) that was not withdrawn.
std::optional<std::size_t> newest(const Book& book, const std::string& sheet, const std::string& subject = {});

}  // namespace ypsi
