#pragma once
// What there is to connect to.
#include <QString>
#include <vector>

#include "app/session/connection.h"

namespace ypsi::app {

struct FoundLine {
  Line line;
  QString text;  ///< what it is called in a list
};

/// A controller by TCP, every serial line that is there, and one to be named. `last`: what was connected last.
std::vector<FoundLine> lines_found(const std::optional<Line>& last);

/// The name of a serial line that stays with the device, whatever else is plugged in: what leads to `device` in
/// `folder` (/dev/serial/by-id); `device` itself where none does.
QString lasting_name(const QString& device, const QString& folder = QStringLiteral("/dev/serial/by-id"));

/// The line that was connected to last, as kept on this computer; none at first.
std::optional<Line> last_line();
void remember_line(const Line& line);

}  // namespace ypsi::app
