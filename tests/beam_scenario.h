#pragma once
// A machine that carries a beam beside its spindle, as the stand-in has it and as its owner's book has it.
#include <nlohmann/json.hpp>

#include "core/book/heads.h"

namespace ypsi {

/// Of a scenario.
inline nlohmann::json beam_heads() {
  return {{{"name", "spindle"}, {"kind", "spindle"}},
          {{"name", "beam"},
           {"kind", "beam"},
           {"offset_mm", {-40, 5}},
           {"on", "M178 P{level}"},
           {"off", "M179"},
           {"dot_threshold_percent", 7.4}}};
}

inline Head book_beam(double cap) {
  Head h;
  h.name = "beam";
  h.kind = HeadKind::beam;
  h.on = "M178 P{level}";
  h.off = "M179";
  h.gauge = "%";
  h.gauge_high = 100;
  h.cap = cap;
  return h;
}

}  // namespace ypsi
