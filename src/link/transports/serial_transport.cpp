#include "link/transports/serial_transport.h"

#include <fcntl.h>
#include <termios.h>
#include <unistd.h>

namespace ypsi::link {
namespace {

/// Qt puts a line's settings back as it found them when it closes it, so this is said before it opens it. A line that
/// cannot be opened here is refused there, with its reason.
void say_what_becomes_of(ReadyLine ready, const QSerialPort& port) {
  const QString name = port.portName();
  const QByteArray device = (name.startsWith('/') ? name : "/dev/" + name).toLocal8Bit();
  const int line = ::open(device.constData(), O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
  if (line < 0) return;
  if (termios settings{}; tcgetattr(line, &settings) == 0) {
    const tcflag_t hang_up = HUPCL;
    settings.c_cflag = ready == ReadyLine::falls ? settings.c_cflag | hang_up : settings.c_cflag & ~hang_up;
    tcsetattr(line, TCSANOW, &settings);
  }
  ::close(line);
}

}  // namespace

SerialTransport::SerialTransport(const QString& port, int baud, ReadyLine ready) : baud_(baud), ready_(ready) {
  port_.setPortName(port);
  clock_.start();
}

Result<void> SerialTransport::open() {
  close();
  port_.clearError();
  say_what_becomes_of(ready_, port_);
  port_.setBaudRate(baud_);
  if (port_.open(QIODevice::ReadWrite)) {
    port_.clearError();
    return {};
  }
  QString why;
  switch (port_.error()) {
    case QSerialPort::DeviceNotFoundError:
      why = QStringLiteral("There is no serial line %1. Plug the controller in, or choose another line.");
      break;
    case QSerialPort::PermissionError:
      why = QStringLiteral(
          "The serial line %1 may not be opened: another program has it, or this user is not in the group that may "
          "(dialout on Debian). Close the other program, or have the user added to the group.");
      break;
    case QSerialPort::UnsupportedOperationError:
      why = QStringLiteral("The serial line %1 cannot run at this speed. Choose another speed.");
      break;
    default:
      why = QStringLiteral("The serial line %1 cannot be opened: ") + port_.errorString() + QStringLiteral(".");
  }
  return fail("offline", why.arg(port_.portName()).toStdString());
}

/// Only what tells of a line that is gone counts: a wait in which nothing came, or a full buffer, is daily life.
bool SerialTransport::is_open() const {
  if (!port_.isOpen()) return false;
  switch (port_.error()) {
    case QSerialPort::ResourceError:
    case QSerialPort::DeviceNotFoundError:
    case QSerialPort::PermissionError:
      return false;
    default:
      return true;
  }
}

void SerialTransport::close() {
  if (port_.isOpen()) port_.close();
}

void SerialTransport::write(std::string_view bytes) {
  if (!port_.isOpen()) return;
  port_.write(bytes.data(), static_cast<qint64>(bytes.size()));
  port_.flush();
}

std::string SerialTransport::read() {
  if (!is_open()) {
    close();  // what was pulled out would keep its name from whoever is plugged in under it
    return {};
  }
  if (port_.bytesAvailable() == 0) port_.waitForReadyRead(0);
  if (port_.bytesToWrite() > 0) port_.flush();
  return port_.readAll().toStdString();
}

void SerialTransport::wait(double seconds) {
  if (port_.isOpen()) port_.waitForReadyRead(static_cast<int>(seconds * 1000));
}

}  // namespace ypsi::link
