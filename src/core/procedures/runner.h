#pragma once
// The one place from which procedures are driven: one at a time, ticked whichever sheet is shown, ended on every way
// out.
#include <functional>
#include <memory>

#include "core/procedures/procedure.h"

namespace ypsi {

class Runner {
 public:
  /// Begins `procedure` by `begin`, which is its own start(). Errors: `busy` while another is under way, which goes on;
  /// those of `begin`, and then nothing has begun.
  Result<void> start(std::shared_ptr<Procedure> procedure, const std::function<Result<void>()>& begin);
  /// Call it with every tick of the connection. True where the procedure ended just now.
  bool tick();
  /// Ends what is under way, if anything is: Procedure::cancel().
  void cancel(Error why);
  /// The same where the link is gone or is about to go.
  void part_from_link(const Error& why);
  bool running() const { return current_ && current_->running(); }
  /// The one under way, or the last. May be null.
  const std::shared_ptr<Procedure>& current() const { return current_; }
  /// What controllers were lent and not given back, since their line was lost; the caller gives it back and clears it.
  std::vector<LentSetting>& owed() { return owed_; }

 private:
  void collect();
  std::shared_ptr<Procedure> current_;
  std::vector<LentSetting> owed_;
};

}  // namespace ypsi
