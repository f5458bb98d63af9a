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
  opening_.start();
  return {};
}

Result<bool> TcpTransport::opened() {
  if (is_open()) {
    socket_.setSocketOption(QAbstractSocket::LowDelayOption, 1);
    return true;
  }
  const bool under_way =
      socket_.state() == QAbstractSocket::HostLookupState || socket_.state() == QAbstractSocket::ConnectingState;
  if (under_way && opening_.elapsed() <= connect_within_ms) return false;
  QString why;
  switch (under_way ? QAbstractSocket::SocketTimeoutError : socket_.error()) {
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
  return fail("offline", why.arg(QString::fromStdString(name())).toStdString());
}

void TcpTransport::write(std::string_view bytes) {
  socket_.write(bytes.data(), static_cast<qint64>(bytes.size()));
  socket_.flush();
}

std::string TcpTransport::read() {
  if (!is_open()) return socket_.readAll().toStdString();  // what came before it was cut
  // Without an event loop nothing else would fetch what has come or carry off what waits.
  if (socket_.bytesAvailable() == 0) socket_.waitForReadyRead(0);
  if (socket_.bytesToWrite() > 0) socket_.flush();
  return socket_.readAll().toStdString();
}

void TcpTransport::wait(double seconds) {
  const int ms = static_cast<int>(seconds * 1000);
  if (is_open())
    socket_.waitForReadyRead(ms);
  else
    socket_.waitForConnected(ms);
}

}  // namespace ypsi::link
