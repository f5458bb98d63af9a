// What the owner's word on a card means.
#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "link/by_hand/hand_link.h"
#include "link/setting_range.h"

namespace ypsi::link {

using Kind = HandCard::Kind;
using CardWord = HandAnswer::Word;

Result<void> HandLink::answer(std::uint32_t number, const HandAnswer& answer) {
  if (cards_.empty() || cards_.front().number != number)
    return fail("gone", "That card is not the one in hand any more; read the one that is there now.");
  if (auto ok = sensible(answer.at); !ok) return ok;
  ++changes_;
  return settle(cards_.front(), answer);
}

/// The card in hand is done with.
void HandLink::end_motion() {
  cards_.pop_front();
  stopped_ = false;
  message_.clear();
}

Result<void> HandLink::settle(HandCard& card, const HandAnswer& answer) {
  if (card.kind == Kind::settings) return settle_settings(card, answer);
  if (card.kind == Kind::look_up) return settle_look_up(card, answer), Result<void>{};
  if (answer.word == CardWord::switched_off) return was_switched_off(), Result<void>{};
  if (card.kind == Kind::program) return settle_program(card, answer);
  if (card.kind == Kind::whereabouts) {
    if (answer.word != CardWord::did_not_move && !answer.at)
      return fail("missing", "Say where its screen shows that it stands.", "at");
    position_ = answer.at.value_or(card.from);
    end_motion();
    return {};
  }
  const bool homes = card.kind == Kind::home;
  const Axis axis = card.axis;
  const char which = letter(axis);
  switch (answer.word) {
    case CardWord::done:
      position_ = answer.at.value_or(card.to);
      if (homes) {
        set_homed(true);
        ++homing_.count;
      }
      inputs_.home_switch[index(axis)] = inputs_.far_switch[index(axis)] = false;
      break;
    case CardWord::switch_stopped: {
      if (!answer.at) return fail("missing", "Say where its screen shows that it stands.", "at");
      const bool towards_plus = card.to[axis] > card.from[axis],
                 home_at_max = value_of(axis_setting(axis, "home_at_max")) != 0;
      (towards_plus == home_at_max ? inputs_.home_switch : inputs_.far_switch)[index(axis)] = true;
      position_ = *answer.at;
      set_homed(false);
      end_motion();
      stopped_ = true;
      message_ = fmt::format("A switch of {} ended the move.", which);
      return {};
    }
    case CardWord::did_not_move:
      refusal_ = Error{"did_not_move",
                       homes ? std::string("It did not home: nothing moved. See what its screen says.")
                             : fmt::format("{} did not move, though it was told to. See whether its controller shows "
                                           "an alarm, and whether its motors have power.",
                                           which),
                       ""};
      break;
    case CardWord::refused:
      refusal_ = card.beyond ? Error{"limit", fmt::format("Its controller does not go beyond {}'s limit.", which), ""}
                             : Error{"refused", "Its controller does not do that; see what its screen says.", ""};
      break;
    default:
      if (!answer.at && !homes) return fail("missing", "Say where its screen shows that it stands.", "at");
      position_ = answer.at.value_or(position_);
      refusal_ = Error{"stopped", "It was stopped at the machine.", ""};
  }
  end_motion();
  return {};
}

Result<void> HandLink::settle_program(HandCard& card, const HandAnswer& answer) {
  const auto in_line = [&] { return answer.line > 0 ? fmt::format(" in line {}", answer.line) : std::string(); };
  if (answer.line > 0) block_in_hand_ = answer.line;
  switch (answer.word) {
    case CardWord::started:
      card.started = true;
      if (block_in_hand_ == 0) block_in_hand_ = card.first_line;
      return {};
    case CardWord::held:
      card.started = card.held = true;
      card.hold_wanted = false;
      return {};
    case CardWord::went_on:
      card.held = false;
      return {};
    case CardWord::touched:
    case CardWord::met_nothing:
    case CardWord::done:
      if (answer.word == CardWord::touched && !answer.at)
        return fail("missing", "Say where its screen showed that it touched.", "at");
      break;
    default: {
      if (answer.word == CardWord::stopped && !answer.at)
        return fail("missing", "Say where its screen shows that it stands.", "at");
      position_ = answer.at.value_or(card.from);
      refusal_ =
          Error{answer.word == CardWord::refused ? "refused" : "stopped",
                answer.word == CardWord::refused        ? "Its controller does not take that; see what it says."
                : answer.word == CardWord::did_not_move ? std::string("It did not start; see what its screen says.")
                                                        : "It was stopped at the machine" + in_line() + ".",
                ""};
      program_ = false;
      end_motion();
      return {};
    }
  }
  position_ = answer.at.value_or(card.to);
  block_in_hand_ = card.first_line + card.lines - 1;
  if (card.touches) probe_ = {probe_.count + 1, answer.word == CardWord::touched, position_};
  const ModalState& state = interpreter_.state();
  spindle_rpm_ = state.spindle_on ? state.speed : 0;
  tool_ = state.tool;
  tool_offset_ = state.tool_offset;
  settings_["work.frame"] = state.frame;
  for (int frame = 0; frame < static_cast<int>(work_frame_count); ++frame)
    for (const Axis axis : all_axes)
      settings_[work_zero_setting(frame, axis)] = interpreter_.frames().zeros[static_cast<std::size_t>(frame)][axis];
  interpreter_.state().at = to_work(position_, base_);
  const bool last = all_sent_ || (card.touches && answer.word != CardWord::touched);
  end_motion();
  if (last) program_ = false;
  return {};
}

Result<void> HandLink::settle_settings(const HandCard& card, const HandAnswer& answer) {
  for (const SettingChange& each : card.settings) {
    const bool refused = answer.word != CardWord::done || std::find(answer.not_taken.begin(), answer.not_taken.end(),
                                                                    each.name) != answer.not_taken.end();
    if (!refused) continue;
    settings_[each.name] = each.before;
    refusals_.push_back({each.name, {"refused", "Its controller does not take that; it stays as it was.", ""}});
  }
  cards_.pop_front();
  return {};
}

void HandLink::settle_look_up(const HandCard& card, const HandAnswer& answer) {
  for (const SettingChange& each : card.settings)
    if (const auto told = answer.values.find(each.name);
        told != answer.values.end() && holds_in_range(each.name, told->second))
      settings_[each.name] = told->second;
  looked_up_ = true;
  std::vector<SettingChange> zeros;
  if (answer.word == CardWord::refused)  // what nobody can look up is set, so that it is known
    std::copy_if(card.settings.begin(), card.settings.end(), std::back_inserter(zeros),
                 [](const SettingChange& each) { return each.name.starts_with("work."); });
  cards_.pop_front();
  if (!zeros.empty()) add_settings(std::move(zeros));
}

}  // namespace ypsi::link
