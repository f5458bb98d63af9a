#pragma once
// The demo workshop, Quillfeather Dials: its files are copied to a folder of the owner's and live there.
#include <QString>

#include "core/result.h"

namespace ypsi::app {

struct DemoFiles {
  QString book, scenario, settings, program;
};

/// Where the demo's files ship: beside the program's build, or installed. Empty when they are not there.
QString find_demo_data();

/// Copies what is not there yet (everything when `fresh`). Error: `unreadable` where files are missing or the folder
/// cannot be written.
Result<DemoFiles> prepare_demo(const QString& data, const QString& folder, bool fresh);

}  // namespace ypsi::app
