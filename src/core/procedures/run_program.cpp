#include "core/procedures/run_program.h"

namespace ypsi {

Result<void> ProgramRun::start(MachineLink& link, std::string_view text, std::uint32_t first) {
  if (auto ok = link.begin_program(); !ok) return ok;
  link_ = &link;
  text_ = text;
  at_ = 0;
  for (next_line_ = 1; next_line_ < first && at_ < text_.size(); ++next_line_) {
    const std::size_t end = text_.find('\n', at_);
    at_ = end == std::string_view::npos ? text_.size() : end + 1;
  }
  all_sent_ = false;
  line_in_hand_ = 0;
  why_.clear();
  state_ = RunState::running;
  return {};
}

void ProgramRun::tick() {
  if (state_ != RunState::running) return;
  while (!all_sent_) {
    if (at_ >= text_.size()) {
      all_sent_ = true;
      link_->end_program();
      break;
    }
    std::size_t end = text_.find('\n', at_);
    if (end == std::string_view::npos) end = text_.size();
    const auto sent = link_->send(text_.substr(at_, end - at_), next_line_);
    if (!sent) {
      if (sent.error().code == "full") break;
      why_ = sent.error().message;
      state_ = RunState::failed;
      link_->abandon();
      return;
    }
    at_ = end + 1;
    ++next_line_;
  }
  const MachineStatus now = link_->status();
  line_in_hand_ = now.block_in_hand;
  switch (now.state) {
    case MachineState::ready:
      state_ = RunState::finished;
      break;
    case MachineState::stopped:
    case MachineState::not_homed:
    case MachineState::offline:
    case MachineState::emergency_stop:
      state_ = RunState::failed;
      why_ = now.message;
      break;
    default:
      break;
  }
}

void ProgramRun::abandon() {
  if (state_ != RunState::running) return;
  link_->abandon();
  state_ = RunState::abandoned;
}

}  // namespace ypsi
