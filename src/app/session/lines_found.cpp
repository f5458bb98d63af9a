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

std::optional<Line> last_line() {
  return Line::from_text(QSettings().value(QStringLiteral("connect/last")).toString());
}

void remember_line(const Line& line) {
  QSettings().setValue(QStringLiteral("connect/last"), line.to_text());
}

}  // namespace ypsi::app
