#include "core/procedures/probe_circuit.h"

#include "core/procedures/readiness.h"

namespace ypsi {

Result<void> ProbeCircuit::start(const MachineLink& link) {
  const MachineStatus now = link.status();
  if (now.state == MachineState::offline) return fail("offline", "Connect to the machine first.");
  if (now.inputs.probe) return tl::make_unexpected(already_touching());
  stage_ = Stage::touch;
  return {};
}

void ProbeCircuit::tick(const MachineStatus& now) {
  if (now.state == MachineState::offline)
    forget();
  else if (stage_ == Stage::touch && now.inputs.probe)
    stage_ = Stage::let_go;
  else if (stage_ == Stage::let_go && !now.inputs.probe)
    stage_ = Stage::works;
}

}  // namespace ypsi
