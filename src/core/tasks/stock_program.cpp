#include "core/tasks/stock_program.h"
#include "core/book/machine_kinds.h"
#include "core/rehearsal/parts.h"

namespace ypsi {
namespace {

class StockProgramTask final : public Task {
 public:
  StockProgramTask() : Task(stock_program_id, "Stock and program", TaskGroup::job) {}
  const char* title_at(const MachineSetup& m) const override {
    return cuts_drawings(m.kind) ? "Stock and drawing" : title();
  }
  bool has_standing() const override { return false; }
  Words overview(const Book& book) const override {
    return {{as_it_is, {book.job.program.substr(book.job.program.find_last_of('/') + 1)}}};
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::stock_and_program}}; }
};

}  // namespace

const Task& stock_program_task() {
  static const StockProgramTask task;
  return task;
}

}  // namespace ypsi
