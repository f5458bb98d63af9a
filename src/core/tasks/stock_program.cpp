#include "core/tasks/stock_program.h"
#include "core/rehearsal/parts.h"

namespace ypsi {
namespace {

class StockProgramTask final : public Task {
 public:
  StockProgramTask() : Task(stock_program_id, "Stock and program", TaskGroup::job) {}
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
