#pragma once
// Serves the stand-in to one host at a time, over TCP on the loopback or over a serial line.
#include <QElapsedTimer>
#include <QSerialPort>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>
#include <memory>

#include "standin/served_machine.h"

namespace ypsi::standin {

class Serve : public QObject {
  Q_OBJECT
 public:
  explicit Serve(std::unique_ptr<ServedMachine> machine, QObject* parent = nullptr);
  /// Port 0: any that is free. Returns the port. Error: `offline`.
  Result<quint16> listen(quint16 port);
  /// Error: `offline`.
  Result<void> use_serial(const QString& port);
  ServedMachine& machine() { return *machine_; }

 private:
  void greet_next();
  void read();
  void write();
  void tick();
  QIODevice* host() { return serial_.isOpen() ? static_cast<QIODevice*>(&serial_) : client_; }

  std::unique_ptr<ServedMachine> machine_;
  QTcpServer server_;
  QTcpSocket* client_ = nullptr;
  QSerialPort serial_;
  QTimer timer_;
  QElapsedTimer clock_;
  double advanced_at_ = 0;
};

}  // namespace ypsi::standin
