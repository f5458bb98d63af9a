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

/// Speeds of a serial line; the slow ones do not carry the states of the project's own link.
inline constexpr int bauds[] = {115200, 250000, 500000, 1000000, 57600};
inline constexpr int slow_bauds[] = {38400, 19200, 9600, 4800, 2400};

/// What stands in the field of its place: "127.0.0.1:7125", a serial line's name.
QString place_text(const Line& line);
/// `chosen` with what was typed into that field, and a speed. None where that is no place: no_place_words() says so.
std::optional<Line> with_place(const Line& chosen, const QString& typed, int baud);
QString no_place_words();

/// The name of a serial line that stays with the device, whatever else is plugged in: what leads to `device` in
/// `folder` (/dev/serial/by-id); `device` itself where none does.
QString lasting_name(const QString& device, const QString& folder = QStringLiteral("/dev/serial/by-id"));

/// The line that was connected to last, as kept on this computer; none at first.
std::optional<Line> last_line();
void remember_line(const Line& line);

}  // namespace ypsi::app
