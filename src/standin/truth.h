#pragma once
// For tests alone: what is behind the link.
#include "standin/served_machine.h"
#include "standin/standin.h"

namespace ypsi::standin {

StandIn& truth_of(ServedMachine& machine);

}  // namespace ypsi::standin
