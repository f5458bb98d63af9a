#include "core/tasks/work_zero.h"
#include "core/book/machine_kinds.h"

#include <cctype>
#include <cmath>

#include "core/book/machine_kinds.h"
#include "core/book/record.h"
#include "core/book/worksheets/marks.h"
#include "core/heads/head_offset.h"
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
  const char* title_at(const MachineSetup& m) const override {
    return m.kind == cutting_table ? "Start point" : title();
  }
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

double stock_turn(const Book& book) {
  const auto turned = newest(book, work_zero_id, turn_subject), last = newest(book, work_zero_id);
  if (!turned) return 0;
  constexpr std::size_t day = 10;  // of RFC 3339
  if (book.history[*turned].time.substr(0, day) != book.history[*last].time.substr(0, day)) return 0;
  constexpr double thousandths = 1000;
  return finding_of<TurnEntry>(book.history[*turned]).rotation_mrad.value_or(0) / thousandths;
}

Result<MarksFit> evaluate_marks(const Book& book) {
  std::vector<FoundMark> found;
  for (const PrintedMark& m : book.worksheets[marks_worksheet].marks)
    if (m.found) found.push_back({{m.x_mm, m.y_mm}, {m.found->x_mm, m.found->y_mm}});
  return fit_marks(found, usual_placing_mm);
}

void keep_marks(Book& book, const MarksFit& fit, const std::string& instrument, const std::string& time) {
  Entry e;
  e.time = time;
  e.sheet = work_zero_id;
  e.subject = turn_subject;
  e.instrument = instrument;
  for (const PrintedMark& m : book.worksheets[marks_worksheet].marks)
    if (m.found)
      e.readings.push_back({{"drawn_mm", {m.x_mm, m.y_mm}}, {"found_mm", {m.found->x_mm.mm, m.found->y_mm.mm}}});
  // The turn's U is that of a place at the marks' own distance from their middle, over that distance.
  const double arm = std::sqrt(fit.spread);
  constexpr double thousandths = 1000;
  e.result = result_of(TurnEntry{fit.turn * thousandths, arm > 0 ? fit.k * fit.s / arm * thousandths : 0});
  book.history.push_back(std::move(e));
}

const Task& work_zero_task() {
  static const WorkZeroTask task;
  return task;
}

}  // namespace ypsi
