#pragma once
#include <QString>
#include <string>

#include "core/result.h"

namespace ypsi::app {

inline constexpr qint64 longest_file = qint64{1} << 29;  ///< bytes; longer than any program or book
/// Whole file. Errors: `unreadable`; `not_a_file` for a folder, a pipe or a device; `too_long`.
Result<std::string> read_file(const QString& path, qint64 longest = longest_file);
/// Whole or not at all: what was there stays where it fails. Error: `not_written`.
Result<void> write_file(const QString& path, const std::string& text);
/// Writes a file that this program has made by itself, and returns its path: `path`, or with a number behind its name
/// where something else stands there, since nobody was asked whether that may go. Error: `not_written`.
Result<QString> write_beside(const QString& path, const std::string& text);

}  // namespace ypsi::app
