#include "app/sheets/references/circuit_words.h"

#include <QCoreApplication>

namespace ypsi::app {
namespace {
struct CircuitWords {
  Q_DECLARE_TR_FUNCTIONS(circuit)
};
}  // namespace

QString circuit_words(ProbeCircuit::Stage stage) {
  switch (stage) {
    case ProbeCircuit::Stage::touch:
      return CircuitWords::tr("Touch the plate to the tool by hand: the input must be seen to change.");
    case ProbeCircuit::Stage::let_go:
      return CircuitWords::tr("Seen. Take it off again.");
    default:
      return {};
  }
}

}  // namespace ypsi::app
