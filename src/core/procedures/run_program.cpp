#include "core/procedures/run_program.h"

#include <fmt/format.h>

#include <iterator>

#include "core/program/text_lines.h"

namespace ypsi {

void ProgramRun::watch_beams(const std::vector<Head>& heads) {
  beams_.clear();
  for (const Head& h : heads)
    if (h.kind == HeadKind::beam) beams_.push_back(h);
  beam_blocks_ = own_blocks(beams_);
}

std::optional<std::string> ProgramRun::over_cap(std::string_view block) const {
  const auto act = find_own_act(beam_blocks_, block);
  if (!act || act->act != HeadAct::on || !act->level) return std::nullopt;
  const Head& beam = beams_[static_cast<std::size_t>(act->head)];
  if (!above_cap(beam, *act->level)) return std::nullopt;
  return fmt::format(
      "Line {} would switch the {} on at {:g}, and {:g} is the most that it may have (Build, Heads). "
      "The run was ended before it.",
      next_line_, beam.name, *act->level, beam.cap);
}

Result<void> ProgramRun::start(MachineLink& link, std::string_view text, std::uint32_t first,
                               std::vector<std::string> lead_in, std::uint32_t until) {
  if (auto ok = link.begin_program(); !ok) return ok;
  link_ = &link;
  text_ = text;
  lead_in_.clear();
  for (const Head& beam : beams_)
    if (!beam.off.empty()) lead_in_.push_back(own_block(beam, HeadAct::off, 0));
  lead_in_.insert(lead_in_.end(), std::make_move_iterator(lead_in.begin()), std::make_move_iterator(lead_in.end()));
  lead_in_at_ = 0;
  until_ = until;
  at_ = 0;
  for (next_line_ = 1; next_line_ < first && at_ < text_.size(); ++next_line_) take_line(text_, at_);
  all_sent_ = false;
  line_in_hand_ = 0;
  why_.clear();
  state_ = RunState::running;
  return {};
}

std::optional<std::string_view> ProgramRun::next_block() const {
  if (lead_in_at_ < lead_in_.size()) return lead_in_[lead_in_at_];
  if (at_ >= text_.size() || (until_ > 0 && next_line_ >= until_)) return std::nullopt;
  std::size_t at = at_;
  return take_line(text_, at);
}

void ProgramRun::fail_with(std::string why) {
  why_ = std::move(why);
  state_ = RunState::failed;
}

void ProgramRun::tick() {
  if (state_ != RunState::running) return;
  while (!all_sent_) {
    const auto block = next_block();
    if (!block) {
      all_sent_ = true;
      link_->end_program();
      break;
    }
    if (auto why = over_cap(*block)) {
      link_->abandon();
      return fail_with(std::move(*why));
    }
    const auto sent = link_->send(*block, next_line_);
    if (!sent) {
      if (sent.error().code == "full") break;
      link_->abandon();
      return fail_with(sent.error().message);
    }
    if (lead_in_at_ < lead_in_.size()) {
      ++lead_in_at_;
    } else {
      take_line(text_, at_);
      ++next_line_;
    }
  }
  const MachineStatus now = link_->status();
  if (now.block_in_hand > 0) line_in_hand_ = now.block_in_hand;
  if (now.refusal) {
    link_->abandon();
    return fail_with(now.refusal->message);
  }
  switch (now.state) {
    case MachineState::ready:
      state_ = RunState::finished;
      break;
    case MachineState::stopped:
    case MachineState::not_homed:
    case MachineState::offline:
    case MachineState::emergency_stop:
      fail_with(now.message);
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
