#pragma once
// The record of a book walked from its end: what holds, what was undone, what is the newest.
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/book/book.h"

namespace ypsi {

/// Walks the record from its end, so that what was withdrawn is known before it is met.
class RecordWalk {
 public:
  explicit RecordWalk(const Book& book) : history_(book.history), at_(book.history.size()) {}
  /// False at the beginning of the record.
  bool step();
  std::size_t at() const { return at_; }
  const Entry& entry() const { return history_[at_]; }
  /// Whether it is a finding that holds: not an undo and not undone.
  bool counts() const { return !withdrawn_ && !entry().withdraws; }

 private:
  const std::vector<Entry>& history_;
  std::size_t at_;
  std::set<std::size_t> gone_;
  bool withdrawn_ = false;
};

/// For each entry of the record, whether it is a finding that holds.
std::vector<bool> findings_that_hold(const Book& book);

/// Newest entry of a sheet and subject (axis letter, or empty for any) that was not withdrawn.
std::optional<std::size_t> newest(const Book& book, std::string_view sheet, const std::string& subject = {});

/// Axes that an entry is about: the letters of its subject; all where the subject names none ("", "T2").
std::vector<Axis> axes_of(const Entry& entry);

}  // namespace ypsi
