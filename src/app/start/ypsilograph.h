#pragma once

class QApplication;

namespace ypsi::app {

/// Opens what the command line names (a book, the demo, or nothing: the start page) and runs until the last window is
/// closed. Returns the program's exit code. Example: `ypsilograph --demo --size 1280x800`.
int ypsilograph(QApplication& app);

}  // namespace ypsi::app
