#pragma once
// Every input seen to change before anything moves: the owner is asked to press one after the other, and what answers
// is named. Source: handbook of the trade, 2.
#include <array>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/procedures/machine_link.h"

namespace ypsi {

enum class InputId : unsigned char { switch_x, switch_y, switch_z, probe, emergency_stop };
inline constexpr std::array all_inputs{InputId::switch_x, InputId::switch_y, InputId::switch_z, InputId::probe,
                                       InputId::emergency_stop};
bool is_on(const MachineInputs& inputs, InputId input);
const char* input_key(InputId input);  ///< "switch_x", for the record
/// The controller's setting that turns the input round; empty for the emergency stop, which is wired, not set.
std::string inverting_setting(InputId input);

enum class InputVerdict { not_tried, works, reversed, stuck_off, stuck_on, swapped };
const char* name(InputVerdict verdict);

class InputWatch {
 public:
  struct Seen {
    bool now = false, off = false, on = false;  ///< on now; seen off, seen on since the start
    InputVerdict verdict = InputVerdict::not_tried;
    std::optional<InputId> answered_by;  ///< with `swapped`
  };

  /// Which inputs there are; all of them until it is said. The others are not asked for and are no fault.
  void expect(std::vector<InputId> there) { there_ = std::move(there); }
  const std::vector<InputId>& there() const { return there_; }
  /// What the controller tells now.
  void see(const MachineInputs& now);
  /// The owner is asked to press this one and let it go. What was found about it before is forgotten.
  void ask(InputId input);
  /// The owner says that it was pressed and let go. Precondition: something is asked for.
  void pressed();

  const Seen& operator[](InputId input) const { return seen_[static_cast<std::size_t>(input)]; }
  std::optional<InputId> asked() const { return asked_; }
  /// The next that was not tried; none when all were.
  std::optional<InputId> next() const;
  bool complete() const { return !next(); }
  bool sound() const;

 private:
  void settle(InputVerdict verdict, std::optional<InputId> by = std::nullopt);
  Seen& at(InputId input) { return seen_[static_cast<std::size_t>(input)]; }
  std::vector<InputId> there_{all_inputs.begin(), all_inputs.end()};
  std::array<Seen, all_inputs.size()> seen_;
  std::array<bool, all_inputs.size()> when_asked_{}, changed_{};
  std::optional<InputId> asked_;
};

}  // namespace ypsi
