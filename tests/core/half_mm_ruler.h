#pragma once
#include "core/metrology/instrument.h"

namespace ypsi {

/// Read to half a millimetre at both ends, and laid down anew with an s of 0.15 mm.
inline Instrument half_mm_ruler() {
  return {"ruler", 0.5, 2, 0.15, 0, 0};
}

}  // namespace ypsi
