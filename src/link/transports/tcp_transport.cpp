#include "link/transports/tcp_transport.h"

namespace ypsi::link {
namespace {
constexpr int connect_within_ms = 2000;
}

TcpTransport::TcpTransport(QString host, quint16 port) : host_(std::move(host)), port_(port) {
  clock_.start();
}

std::string TcpTransport::name() const {
  return QStringLiteral("%1:%2").arg(host_).arg(port_).toStdString();
}

Result<void> TcpTransport::open() {
  socket_.abort();
  socket_.connectToHost(host_, port_);
  if (socket_.waitForConnected(connect_within_ms)) {
    socket_.setSocketOption(QAbstractSocket::LowDelayOption, 1);
    return {};
  }
  const QString at = QString::fromStdString(name());
  QString why;
  switch (socket_.error()) {
    case QAbstractSocket::ConnectionRefusedError:
      why = QStringLiteral("Nobody listens at %1. Start the controller or the stand-in there, or mend the number.");
      break;
    case QAbstractSocket::HostNotFoundError:
      why = QStringLiteral("There is no computer of the name in %1. Mend the name.");
      break;
    case QAbstractSocket::SocketTimeoutError:
      why = QStringLiteral("%1 did not answer within two seconds. See that it has power and is on this network.");
      break;
    default:
      why = QStringLiteral("%1 cannot be reached: ") + socket_.errorString() + QStringLiteral(".");
  }
  socket_.abort();
  return fail("offline", why.arg(at).toStdString());
}

void TcpTransport::write(std::string_view bytes) {
  socket_.write(bytes.data(), static_cast<qint64>(bytes.size()));
  socket_.flush();
}

std::string TcpTransport::read() {
  // Without an event loop nothing else would fetch what has come or carry off what waits.
  if (socket_.bytesAvailable() == 0) socket_.waitForReadyRead(0);
  if (socket_.bytesToWrite() > 0) socket_.flush();
  return socket_.readAll().toStdString();
}

void TcpTransport::wait(double seconds) {
  socket_.waitForReadyRead(static_cast<int>(seconds * 1000));
}

}  // namespace ypsi::link
