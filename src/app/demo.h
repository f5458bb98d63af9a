#pragma once
// The demo workshop, Quillfeather Dials: its files are copied to a folder of the owner's and live there.
#include <QString>
#include <vector>

#include "core/result.h"

namespace ypsi::app {

struct DemoFiles {
  QString book, scenario, settings, program;
};

/// A simulated machine to learn on.
struct DemoMachine {
  QString id;    ///< "oriel": its files begin with it
  QString name;  ///< "Oriel"
  QString what;  ///< what it is, and what there is to find, in a sentence
};
/// The router Oriel, the engraver Tansy, the cutting table Fathom.
const std::vector<DemoMachine>& demo_machines();

/// Copies what is not there yet from `data`, where the demo's files ship (everything when `fresh`) of `machine`, which
/// is one of demo_machines(). Error: `unreadable` where files are missing or the folder cannot be written.
Result<DemoFiles> prepare_demo(const QString& data, const QString& folder, bool fresh,
                               const QString& machine = QStringLiteral("oriel"));

}  // namespace ypsi::app
