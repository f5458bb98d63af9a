#pragma once
// What an owner is asked to do at a machine that nothing but hands reaches, and what is told back. Lengths mm, rates
// mm/min. Source: handbook of the trade, 30.
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/geometry.h"

namespace ypsi::link {

/// A setting of the controller that is to be another, or to be looked up.
struct SettingChange {
  std::string name;   ///< ours: "axis.x.steps_per_mm"
  double before = 0;  ///< as it is there, by the owner's word
  double value = 0;   ///< as it is wanted; of what is looked up: as the book has it
  bool operator==(const SettingChange&) const = default;
};

struct HandCard {
  enum class Kind {
    look_up,     ///< what the controller's settings are
    settings,    ///< to be typed there
    move,        ///< of one axis
    home,        ///< every axis: at its switch, or set at its mark by hand
    program,     ///< blocks to be carried there and started
    whereabouts  ///< something was broken off: where does it stand?
  };
  std::uint32_t number = 0;  ///< counts up: an answer to a card that is gone reaches no other
  Kind kind = Kind::whereabouts;
  std::vector<SettingChange> settings;
  Axis axis = Axis::x;
  MachinePosition from, to;  ///< where it stands, and where it will where everything goes as it should
  double rate = 0;
  bool homed = true;    ///< before: places mean something
  bool beyond = false;  ///< a move that its own limit should refuse: asked for to see that it does
  std::string block;    ///< exactly what is typed there, or carried by stick; empty where there is nothing to type
  std::uint32_t first_line = 0, lines = 0;  ///< of the program that is carried
  bool touches = false;                     ///< its last block searches until the probe's input changes
  bool started = false, held = false;
  bool hold_wanted = false;  ///< Hold was pressed here, and only the owner can hold it there
};

/// What the owner says.
struct HandAnswer {
  enum class Word {
    done,            ///< it is set; it stands where it should, or at `at`
    did_not_move,    ///< it stands where it did
    refused,         ///< its controller does not do it; of settings: `not_taken`, or none of them
    touched,         ///< its probe's input changed at `at`
    met_nothing,     ///< it stands at `at`, or where the search was to end
    switch_stopped,  ///< a switch ended it at `at`
    stopped,         ///< it was stopped at `at`, a program in `line`
    started,         ///< it has begun
    held,            ///< it stands held, in `line` where that is not 0
    went_on,         ///< after it was held
    switched_off     ///< it was without power, or nobody knows where it stands
  };
  Word word = Word::done;
  std::optional<MachinePosition> at{};
  std::uint32_t line = 0;
  std::vector<std::string> not_taken{};    ///< of a card with settings: which it has not
  std::map<std::string, double> values{};  ///< of a card that looks up: what is there
};

/// The block that sends one axis to a place, as RS274/NGC (NISTIR 6556) has it: in machine coordinates (G53) where the
/// axis is homed, else by a distance. "G21 G90 G53 G1 X705.000 F1500"
std::string block_of_move(Axis axis, double from, double to, double rate, bool homed);
/// The blocks that set work zeros and tool lengths among `settings` (G10 L2, G10 L1) and choose a frame; empty where
/// there is one that no block sets.
std::string block_of_settings(const std::vector<SettingChange>& settings);

}  // namespace ypsi::link
