#pragma once

class QCoreApplication;

namespace ypsi::standin {

/// Serves the simulated machine that the command line describes until it is stopped. Returns the program's exit code: 2
/// with a sentence on standard error where it cannot be served. Example: `ypsilograph-standin --scenario x.json`.
int standin_command(const QCoreApplication& app);

}  // namespace ypsi::standin
