#pragma once

namespace ypsi {

/// What another finding told: value and standard uncertainty, in the value's unit.
struct Known {
  double value = 0, u = 0;
};

}  // namespace ypsi
