#pragma once
#include <QString>
#include <string>

#include "core/result.h"

namespace ypsi::app {

/// Whole file, or `unreadable`.
Result<std::string> read_file(const QString& path);
/// Whole or not at all: what was there stays where it fails. Error: `not_written`.
Result<void> write_file(const QString& path, const std::string& text);

}  // namespace ypsi::app
