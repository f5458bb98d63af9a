#include "core/procedures/runner.h"

#include <utility>

namespace ypsi {

Result<void> Runner::start(std::shared_ptr<Procedure> procedure, const std::function<Result<void>()>& begin) {
  if (running()) return fail("busy", "Something else is under way at the machine; wait for it, or end it first.");
  if (auto ok = begin(); !ok) return ok;
  current_ = std::move(procedure);
  return {};
}

bool Runner::tick() {
  if (!running()) return false;
  current_->tick();
  collect();
  return !current_->running();
}

void Runner::cancel(Error why) {
  if (!running()) return;
  current_->cancel(std::move(why));
  collect();
}

void Runner::part_from_link(const Error& why) {
  if (!running()) return;
  current_->part_from_link(why);
  collect();
}

void Runner::collect() {
  if (current_->running()) return;
  owed_.insert(owed_.end(), current_->owed().begin(), current_->owed().end());
}

}  // namespace ypsi
