// Blocks of a program: interpreted, checked against the limits, queued, and taken in their turn.
#include <fmt/format.h>

#include <cmath>

#include "standin/controller.h"

namespace ypsi::standin {
namespace {

constexpr std::size_t queue_capacity = 512;

}  // namespace

Result<void> Controller::check_limits(const Extents& reach, const WorkPosition& from, std::uint32_t tag) const {
  const WorkZero& zero = base_zero_;
  for (const Axis a : all_axes) {
    // An axis that stands is not moved beyond its limit: homed, it may stand a step outside of it.
    if (reach.low[a] == from[a] && reach.high[a] == from[a]) continue;
    const AxisBelief& b = belief(a);
    const double low = reach.low[a] + zero[a], high = reach.high[a] + zero[a], grace = 0.5 / b.steps_per_mm;
    if (low < b.soft_min - grace || high > b.soft_max + grace)
      return fail("limit", fmt::format("Line {}: {} would reach {:.2f} of the machine, and the soft limit is {:.2f}. "
                                       "The machine stops before it.",
                                       tag, letter(a), low < b.soft_min - grace ? low : high,
                                       low < b.soft_min - grace ? b.soft_min : b.soft_max));
  }
  return {};
}

Result<void> Controller::send(std::string_view block, std::uint32_t tag) {
  if (!program_ || abandoning_) return fail("not_running", "No program is running; start it first.");
  // Where a probing move ends is not known before it has: nothing after it is read until then.
  if (queue_.size() >= queue_capacity || probing_)
    return fail("full", "The look-ahead is full; send the block again in a moment.");
  const ModalState before = interpreter_.state();
  scratch_.motions.clear();
  scratch_.arcs.clear();
  scratch_.events.clear();
  scratch_.centre = {};
  scratch_.cut = {};
  if (auto ok = interpreter_.line(block, tag, scratch_); !ok) return ok;
  if (!scratch_.motions.empty())
    if (auto ok = check_limits(scratch_.centre, before.at, tag); !ok) {
      interpreter_.state() = before;
      return ok;
    }
  const auto queue_event = [&](const Event& e) {
    queue_.push_back({tag, e.kind, e.value, {}, false, own_act_of(e)});
    if (e.kind == EventKind::probe) probing_ = Probing{e.value != 0};
  };
  const WorkZero& zero = base_zero_;
  std::size_t event = 0;
  WorkPosition from = before.at;
  for (std::size_t i = 0; i < scratch_.motions.size(); ++i) {
    const Motion& m = scratch_.motions[i];
    for (; event < scratch_.events.size() && scratch_.events[event].before <= i; ++event)
      queue_event(scratch_.events[event]);
    Segment s = make_segment(scratch_, from, m, kinematics());
    from = m.end;
    for (const Axis a : all_axes) {
      s.start[index(a)] += zero[a];
      s.end[index(a)] += zero[a];
    }
    s.centre_first += zero[static_cast<Axis>(s.first)];
    s.centre_second += zero[static_cast<Axis>(s.second)];
    queue_.push_back({tag, std::nullopt, 0, s, is_cut(m)});
  }
  for (; event < scratch_.events.size(); ++event) queue_event(scratch_.events[event]);
  return {};
}

void Controller::forget_queue() {
  queue_.clear();
  ahead_.clear();
  planned_ = 0;
}

void Controller::fill_look_ahead() {
  while (planned_ < queue_.size() && !queue_[planned_].event) ahead_.add(queue_[planned_++].segment);
}

void Controller::do_event(const Queued& e) {
  tag_in_hand_ = e.tag;
  switch (*e.event) {
    case EventKind::spindle_on:
      plant_.set_spindle(spindle_ = std::fabs(e.value));
      break;
    case EventKind::spindle_off:
      plant_.set_spindle(spindle_ = 0);
      break;
    case EventKind::tool_change:
      plant_.set_spindle(spindle_ = 0);
      plant_.put_beams_out();
      if (static_cast<int>(e.value) == tool_) break;
      wanted_tool_ = static_cast<int>(e.value);
      state_ = MachineState::tool_change;
      message_ = fmt::format("Put tool {} in, then continue.", wanted_tool_);
      break;
    case EventKind::stop:
    case EventKind::optional_stop:
      hold_ = true;
      plant_.put_beams_out();
      state_ = MachineState::held;
      message_ = fmt::format("The program asks to stop here (line {}); continue when you are ready.", e.tag);
      break;
    case EventKind::end:
      program_all_sent_ = true;
      break;
    case EventKind::dwell:
      dwell_left_ = e.value;
      break;
    case EventKind::work_frame:
      work_frame_ = static_cast<int>(e.value);
      break;
    case EventKind::tool_offset:
      tool_offset_ = e.value;
      break;
    case EventKind::zero_set: {
      const auto frame = static_cast<std::size_t>(e.value);
      settings_.frames.zeros[frame] = interpreter_.frames().zeros[frame];
      break;
    }
    case EventKind::coolant:
    case EventKind::reference:
      break;
    case EventKind::head_act:
      plant_.act_on_head(static_cast<std::size_t>(e.act.head), e.act.act, e.act.level.value_or(0));
      break;
    case EventKind::probe:
      if (!probing_) break;
      if (probe_on()) {
        refusal_ = Error{"probe_on",
                         fmt::format("Line {}: the probe's input is on before the search, so nothing moved. Take the "
                                     "tool off the plate, and look at the clip and the wire.",
                                     e.tag),
                         ""};
        message_ = refusal_->message;
        become_idle();
        break;
      }
      probing_->waiting = false;
      break;
  }
}

/// Takes what comes next from the queue; false where there is nothing to do now.
bool Controller::start_next() {
  if (state_ == MachineState::tool_change || hold_ || dwell_left_ > 0) return false;
  while (program_ && !queue_.empty() && queue_.front().event) {
    const Queued e = queue_.front();
    queue_.pop_front();
    if (planned_ > 0) --planned_;
    do_event(e);
    if (state_ == MachineState::tool_change || hold_ || dwell_left_ > 0) return false;
  }
  if (!program_) return false;
  if (queue_.empty()) {
    if (program_all_sent_) {
      become_idle();
    } else if (!std::exchange(dry_, true)) {
      ++ran_dry_;
      plant_.shade_beams(true);  // it would burn a hole where it waits
    }
    return false;
  }
  if (std::exchange(dry_, false)) plant_.shade_beams(false);
  fill_look_ahead();
  const auto planned = ahead_.take(v_);
  active_ = ActiveMove{planned.segment, planned.profile, 0, queue_.front().tag, queue_.front().cutting};
  tag_in_hand_ = active_->tag;
  state_ = active_->cutting || spindle_ > 0 ? MachineState::cutting : MachineState::moving;
  queue_.pop_front();
  --planned_;
  return true;
}

}  // namespace ypsi::standin
