#include "core/book/record.h"

namespace ypsi {

bool RecordWalk::step() {
  if (at_ == 0) return false;
  --at_;
  withdrawn_ = !gone_.empty() && gone_.erase(at_) > 0;
  // An undo that was itself undone gives its entry back.
  if (const auto& w = entry().withdraws; w && *w < at_ && !withdrawn_) gone_.insert(*w);
  return true;
}

std::vector<bool> findings_that_hold(const Book& book) {
  std::vector<bool> holds(book.history.size());
  for (RecordWalk walk(book); walk.step();) holds[walk.at()] = walk.counts();
  return holds;
}

std::optional<std::size_t> newest(const Book& book, std::string_view sheet, const std::string& subject) {
  for (RecordWalk walk(book); walk.step();)
    if (const Entry& e = walk.entry(); e.sheet == sheet && (subject.empty() || e.subject == subject) && walk.counts())
      return walk.at();
  return std::nullopt;
}

std::vector<Axis> axes_of(const Entry& entry) {
  std::vector<Axis> axes;
  for (const Axis a : all_axes)
    if (entry.subject.find(letter(a)) != std::string::npos) axes.push_back(a);
  return !axes.empty() && axes.size() == entry.subject.size() ? axes
                                                              : std::vector<Axis>(all_axes.begin(), all_axes.end());
}

}  // namespace ypsi
