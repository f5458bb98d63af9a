#include "core/tasks/work_zero.h"

#include <cctype>

#include "core/book/record.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/homing.h"
#include "core/tasks/squareness.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/tools.h"

namespace ypsi {
namespace {

class WorkZeroTask final : public Task {
 public:
  WorkZeroTask() : Task(work_zero_id, "Work zero", TaskGroup::job) {}
  std::vector<Upstream> depends_on() const override {
    return {{steps_per_unit_id}, {homing_id}, {tools_id}, {squareness_id}};
  }
  bool commissions() const override { return true; }
  bool is_carried_over(std::string_view upstream) const override { return upstream == steps_per_unit_id; }
  Words summary(const Entry& e) const override {
    if (e.subject == turn_subject) {
      const auto found = finding_of<TurnEntry>(e);
      return {{"turned",
               {SaidNumber{found.rotation_mrad.value_or(0), 2}, SaidNumber{found.U_rotation_mrad.value_or(0), 2}}}};
    }
    Words all;
    for (const auto& [key, value] : e.as_left.items())
      if (value.is_number())
        all.push_back({all.empty() ? "axis_length" : "next_axis_length",
                       {std::string(1, static_cast<char>(std::toupper(static_cast<unsigned char>(key.back())))),
                        SaidLength{value.get<double>(), 3, false}}});
    return all;
  }
  Words overview(const Book& book) const override {
    const auto i = newest(book, id());
    return i ? summary(book.history[*i]) : Words{};
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::work_zero}}; }
};

}  // namespace

const Task& work_zero_task() {
  static const WorkZeroTask task;
  return task;
}

}  // namespace ypsi
