#pragma once
// What is behind the link: for tests, and for what judges a rehearsal after its end.
#include "standin/served_machine.h"
#include "standin/standin.h"

namespace ypsi::standin {

StandIn& truth_of(ServedMachine& machine);

}  // namespace ypsi::standin
