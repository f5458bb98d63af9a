#pragma once
// What ships beside the program.
#include <QString>

namespace ypsi::app {

/// "demo", "controllers": where that lies, beside the program's build or installed. Empty where it is not there.
QString shipped_folder(const QString& what);

}  // namespace ypsi::app
