#pragma once
// Every switch and the probe seen to change before anything moves.
#include "core/book/book.h"
#include "core/procedures/input_watch.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* inputs_id = "inputs";

/// The inputs that a machine has: no switch where an axis is set by hand, no probe or emergency stop where it is said.
std::vector<InputId> inputs_of(const MachineSetup& machine);
inline constexpr const char* input_not_there = "not_there";  ///< in place of a verdict

/// What each input was seen to do.
struct InputsEntry {
  std::string words{};
  std::array<std::string, all_inputs.size()> verdicts;
  bool failed = false;
};
template <class V>
void describe(V& v, InputsEntry& f) {
  v.text("words", f.words);
  v.group("inputs", [&f](auto& each) {
    for (std::size_t i = 0; i < all_inputs.size(); ++i) each.text(input_key(all_inputs[i]), f.verdicts[i]);
  });
  v.flag("failed", f.failed, Written::where_not_usual);
}

const Task& inputs_task();

}  // namespace ypsi
