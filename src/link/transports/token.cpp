#include "link/transports/token.h"

#include <QFile>
#include <QHostAddress>
#include <QStandardPaths>

namespace ypsi::link {

QString token_path(quint16 port) {
  return QStringLiteral("%1/ypsilograph-%2.token")
      .arg(QStandardPaths::writableLocation(QStandardPaths::RuntimeLocation))
      .arg(port);
}

QString token_of(const QString& host, quint16 port) {
  if (host != QLatin1String("localhost") && !QHostAddress(host).isLoopback()) return {};
  QFile file(token_path(port));
  constexpr qint64 longest = 256;
  return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.read(longest)).trimmed() : QString();
}

}  // namespace ypsi::link
