#include "core/tasks/task.h"

#include "core/book/record.h"
#include "core/rehearsal/parts.h"

namespace ypsi {

Words Task::summary(const Entry& entry) const {
  const nlohmann::json& result = entry.result.get();
  if (!result.is_object()) return {};
  const auto words = result.find("words");
  return words != result.end() && words->is_string() ? Words{{as_it_is, {words->get<std::string>()}}} : Words{};
}

Words Task::overview(const Book& book) const {
  const auto i = newest(book, id_);
  if (!i) return {};
  const Entry& entry = book.history[*i];
  Words all;
  if (!entry.subject.empty()) all.push_back({"of_subject", {entry.subject}});
  const Words found = summary(entry);
  all.insert(all.end(), found.begin(), found.end());
  return all;
}

std::vector<rehearsal::Step> Task::rehearsal() const {
  return {};
}

std::vector<CertifiedLine> each_axis(const CertifiedLine& line) {
  std::vector<CertifiedLine> all(axis_count, line);
  for (const Axis a : all_axes) all[index(a)].subject = std::string(1, letter(a));
  return all;
}

const Task* find_task(const Tasks& tasks, std::string_view id) {
  for (const Task* task : tasks)
    if (id == task->id()) return task;
  return nullptr;
}

}  // namespace ypsi
