#pragma once
// The probe's circuit seen to work before anything searches: the owner touches plate and tool together (or presses the
// setter), and lets go. One for all that touches.
#include "core/procedures/machine_link.h"

namespace ypsi {

class ProbeCircuit {
 public:
  enum class Stage { unknown, touch, let_go, works };
  /// Asks for it. Errors: `touching` where the input is on at rest; `offline`.
  Result<void> start(const MachineLink& link);
  /// Call it with every status.
  void tick(const MachineStatus& now);
  /// It is not known to work any more: a touch failed, another machine, another sheet.
  void forget() { stage_ = Stage::unknown; }
  Stage stage() const { return stage_; }
  bool waiting() const { return stage_ == Stage::touch || stage_ == Stage::let_go; }
  bool works() const { return stage_ == Stage::works; }

 private:
  Stage stage_ = Stage::unknown;
};

}  // namespace ypsi
