#pragma once
// Rates and accelerations as the book has them, for the planner.
#include "core/book/book.h"
#include "core/motion/planner.h"

namespace ypsi {

inline Kinematics kinematics_of(const MachineSetup& machine) {
  Kinematics k;
  for (const Axis a : all_axes) k[index(a)] = {machine.axis(a).max_rate / 60, machine.axis(a).acceleration};
  return k;
}

}  // namespace ypsi
