#pragma once
#include <QString>

#include "core/procedures/probe_circuit.h"

namespace ypsi::app {

/// What the owner is asked for while the circuit is checked; empty where nothing is asked.
QString circuit_words(ProbeCircuit::Stage stage);

}  // namespace ypsi::app
