#pragma once
// A simulated owner: reads a card, carries it to a stand-in that has no line to the program, and tells what its screen
// shows, to three decimals.
#include <cmath>
#include <sstream>

#include "core/procedures/run_program.h"
#include "link/by_hand/hand_card.h"
#include "standin/standin.h"

namespace ypsi {

class Carrier {
 public:
  explicit Carrier(standin::StandIn& machine) : machine_(machine) {}

  link::HandAnswer carry(const link::HandCard& card) {
    using Kind = link::HandCard::Kind;
    switch (card.kind) {
      case Kind::look_up:
        return look_up(card);
      case Kind::settings:
        return set(card);
      case Kind::move:
        return move(card);
      case Kind::home:
        if (!there().home()) return {link::HandAnswer::Word::refused};
        run();
        return stands(there().status().all_homed() ? link::HandAnswer::Word::done : link::HandAnswer::Word::stopped);
      case Kind::program:
        return program(card);
      case Kind::whereabouts:
        break;
    }
    return stands(link::HandAnswer::Word::done);
  }
  MachinePosition shown() { return to_three_decimals(there().status().position); }
  void run(double limit_s = 4000) {
    for (double t = 0; t < limit_s; t += 0.05) {
      machine_.advance(0.05);
      const auto state = there().status().state;
      if (state == MachineState::tool_change) {
        (void)machine_.bench().put_tool(there().status().wanted_tool);
        there().tool_changed(there().status().wanted_tool);
      } else if (state != MachineState::moving && state != MachineState::cutting) {
        return;
      }
    }
  }

 private:
  static MachinePosition to_three_decimals(MachinePosition at) {
    for (const Axis axis : all_axes) at[axis] = std::round(at[axis] * 1000) / 1000;
    return at;
  }
  using Word = link::HandAnswer::Word;
  MachineLink& there() { return machine_.link(); }
  link::HandAnswer stands(Word word) { return {word, shown()}; }

  link::HandAnswer look_up(const link::HandCard& card) {
    link::HandAnswer answer;
    for (const auto& each : card.settings)
      if (const auto value = there().setting(each.name)) answer.values[each.name] = *value;
    return answer;
  }
  link::HandAnswer set(const link::HandCard& card) {
    link::HandAnswer answer;
    for (const auto& each : card.settings)
      if (!there().set_setting(each.name, each.value)) answer.not_taken.push_back(each.name);
    return answer;
  }
  /// "G21 G90 G53 G1 X705.000 F1500", or with G91 a distance.
  link::HandAnswer move(const link::HandCard& card) {
    std::istringstream words(card.block);
    std::string word;
    bool by_distance = false;
    double number = 0, rate = 0;
    Axis axis = Axis::x;
    while (words >> word) {
      if (word == "G91") by_distance = true;
      for (const Axis a : all_axes)
        if (word[0] == letter(a)) {
          axis = a;
          number = std::stod(word.substr(1));
        }
      if (word[0] == 'F') rate = std::stod(word.substr(1));
    }
    const double before = there().status().position[axis];
    if (const auto moved = there().jog(axis, by_distance ? number : number - before, rate); !moved)
      return {Word::refused};
    run();
    const auto now = there().status();
    return stands(now.state == MachineState::stopped ? Word::switch_stopped
                  : now.position[axis] == before     ? Word::did_not_move
                                                     : Word::done);
  }
  link::HandAnswer program(const link::HandCard& card) {
    ProgramRun job;
    const std::uint32_t touched_before = there().status().probe.count;
    if (!job.start(there(), card.block)) return {Word::refused};
    for (int i = 0; i < 2'000'000 && job.state() == RunState::running; ++i) {
      machine_.advance(0.02);
      job.tick();
    }
    link::HandAnswer answer = stands(Word::done);
    if (job.state() != RunState::finished) {
      answer.word = Word::stopped;
      answer.line = job.line_in_hand();
    }
    if (const auto probe = there().status().probe; card.touches && probe.count != touched_before) {
      answer.word = probe.contact ? Word::touched : Word::met_nothing;
      if (probe.contact) answer.at = to_three_decimals(probe.at);
    }
    return answer;
  }
  standin::StandIn& machine_;
};

}  // namespace ypsi
