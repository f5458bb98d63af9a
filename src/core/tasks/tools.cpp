#include "core/tasks/tools.h"
#include "core/book/record.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/tool_setter.h"
#include "core/tasks/touch_plate.h"

namespace ypsi {
namespace {

class ToolsTask final : public Task {
 public:
  ToolsTask() : Task(tools_id, "Tools", TaskGroup::references) {}
  std::vector<Upstream> depends_on() const override { return {{tool_setter_id}, {touch_plate_id}}; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<ToolEntry>(e);
    if (!found.offset) return Task::summary(e);
    return {{as_it_is, {SaidLength{*found.offset, 3}}}};
  }
  std::vector<CertifiedLine> certificate(const Book& book) const override {
    std::vector<CertifiedLine> all;
    for (const Tool& t : book.tools)
      if (const std::string subject = "T" + std::to_string(t.number); newest(book, id(), subject))
        all.push_back({.code = "certified_tool",
                       .subject = subject,
                       .value = [](const Entry& e) { return finding_of<ToolEntry>(e).offset; },
                       .U = [](const Entry& e) { return finding_of<ToolEntry>(e).U_offset; }});
    return all;
  }
  std::vector<rehearsal::Step> rehearsal() const override {
    return {{.title = title(), .run = rehearsal::tools, .beside = true}};
  }
};

}  // namespace

const Task& tools_task() {
  static const ToolsTask task;
  return task;
}

}  // namespace ypsi
