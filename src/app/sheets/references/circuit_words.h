#pragma once
#include <QString>

#include "core/procedures/touch.h"

namespace ypsi::app {

/// What the owner is asked for while the circuit is checked; empty where nothing is asked.
QString circuit_words(CircuitCheck::Stage stage);

}  // namespace ypsi::app
