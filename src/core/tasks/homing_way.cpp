#include "core/tasks/homing_way.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/procedures/homing_order.h"

namespace ypsi {

std::vector<HomingLeg> homing_way(const MachineSetup& machine) {
  std::array<int, axis_count> turns{};
  for (const Axis a : all_axes) turns[index(a)] = machine.axis(a).home_turn;
  std::vector<HomingLeg> legs;
  for (const Axis a : homing_order(turns))
    if (!machine.axis(a).zero_by_hand) legs.push_back({a, machine.axis(a).home_at_max});
  return legs;
}

LaidOut laid_in_homings_way(const Book& book) {
  const auto legs = homing_way(book.machine);
  const bool lifted = !legs.empty() && legs.front().axis == Axis::z && legs.front().to_max;
  const bool by_z_alone = std::all_of(book.machine.heads.begin(), book.machine.heads.end(),
                                      [](const Head& h) { return h.lower.empty() && h.raise.empty(); });
  LaidOut found;
  if (lifted && by_z_alone) return found;
  found.stock = book.job.stock_size[0] > 0 && book.job.stock_size[1] > 0;
  for (std::size_t i = 0; i < book.job.clamps.size(); ++i) {
    const std::string& name = book.job.clamps[i].name;
    found.clamps.push_back(name.empty() ? fmt::format("{}", i + 1) : name);
  }
  return found;
}

}  // namespace ypsi
