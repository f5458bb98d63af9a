#pragma once

namespace ypsi::cli {

/// Does what the command line says, and prints it to standard output. Returns the program's exit code: 0 done, 1 done
/// and found wanting, 2 not done (docs of `ypsilo help`). Example: `ypsilo calc scale --in readings.json`.
int ypsilo(int argc, char** argv);

}  // namespace ypsi::cli
