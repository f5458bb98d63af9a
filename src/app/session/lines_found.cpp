#include "app/session/lines_found.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QSerialPortInfo>
#include <QSettings>

#include "link/transports/serial_transport.h"
#include "link/transports/tcp_transport.h"

namespace ypsi::app {
namespace {
struct FoundWords {
  Q_DECLARE_TR_FUNCTIONS(lines_found)
};
}  // namespace

QString lasting_name(const QString& device, const QString& folder) {
  const QString there = QFileInfo(device).canonicalFilePath();
  for (const QFileInfo& each : QDir(folder).entryInfoList(QDir::Files | QDir::System | QDir::NoDotAndDotDot))
    if (!there.isEmpty() && each.canonicalFilePath() == there) return each.absoluteFilePath();
  return device;
}

std::vector<FoundLine> lines_found(const std::optional<Line>& last) {
  std::vector<FoundLine> found{{{Line::Kind::tcp, QStringLiteral("127.0.0.1"), link::default_port},
                                FoundWords::tr("A controller on this computer or network, by TCP")}};
  for (const auto& port : QSerialPortInfo::availablePorts()) {
    const QString what = port.description().isEmpty() ? FoundWords::tr("serial line") : port.description();
    found.push_back({{Line::Kind::serial, lasting_name(port.systemLocation()), link::default_baud},
                     FoundWords::tr("%1 · %2").arg(port.systemLocation(), what)});
  }
  const QString named = last && last->kind == Line::Kind::serial ? last->address : QStringLiteral("/dev/ttyUSB0");
  found.push_back({{Line::Kind::serial, named, link::default_baud}, FoundWords::tr("Another serial line, by name")});
  return found;
}

QString place_text(const Line& line) {
  return line.kind == Line::Kind::tcp ? QStringLiteral("%1:%2").arg(line.address).arg(line.number) : line.address;
}

std::optional<Line> with_place(const Line& chosen, const QString& typed, int baud) {
  std::optional<Line> line = chosen;
  const QString place = typed.trimmed();
  if (chosen.kind == Line::Kind::tcp)
    line = Line::from_text(place.contains(':') ? "tcp:" + place
                                               : QStringLiteral("tcp:%1:%2").arg(place).arg(link::default_port));
  else if (chosen.kind == Line::Kind::serial)
    line = Line::from_text(QStringLiteral("serial:%1:%2").arg(place).arg(baud));
  return line;
}

QString no_place_words() {
  return FoundWords::tr(
             "This is no place to connect to. Write a computer and a port, as in 127.0.0.1:%1, or the name "
             "of a serial line.")
      .arg(link::default_port);
}

std::optional<Line> last_line() {
  return Line::from_text(QSettings().value(QStringLiteral("connect/last")).toString());
}

void remember_line(const Line& line) {
  QSettings().setValue(QStringLiteral("connect/last"), line.to_text());
}

}  // namespace ypsi::app
