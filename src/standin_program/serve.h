#pragma once
// Serves the stand-in to one host at a time, over TCP on the loopback or over a serial line. Over TCP anybody on this
// computer can knock, a web page too: whoever does not begin with a good hello is shown out at once.
#include <QElapsedTimer>
#include <QSerialPort>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>
#include <list>
#include <memory>

#include "standin/served_machine.h"

namespace ypsi::standin {

class Serve : public QObject {
  Q_OBJECT
 public:
  explicit Serve(std::unique_ptr<ServedMachine> machine, QObject* parent = nullptr);
  /// Removes the file with the token.
  ~Serve() override;
  /// Port 0: any that is free. Returns the port. Hosts must tell token(), which is also written to a file that only its
  /// owner can read (link::token_path). Error: `offline`.
  Result<quint16> listen(quint16 port);
  const QString& token() const { return token_; }
  /// Error: `offline`.
  Result<void> use_serial(const QString& port);
  ServedMachine& machine() { return *machine_; }

 private:
  /// Somebody who has not said a good hello yet.
  struct Stranger {
    QTcpSocket* socket = nullptr;
    QElapsedTimer since;
    std::string heard;
  };
  void let_in();
  void hear(Stranger& stranger);
  void take_as_host(Stranger& stranger);
  void show_out(QTcpSocket* socket, const std::string& why = {});
  void show_out_the_silent();
  void read();
  void write();
  void tick();
  double now_s() const;
  QIODevice* host() { return serial_.isOpen() ? static_cast<QIODevice*>(&serial_) : client_; }

  std::unique_ptr<ServedMachine> machine_;
  QTcpServer server_;
  QTcpSocket* client_ = nullptr;
  std::list<Stranger> strangers_;
  QString token_, token_file_;
  std::size_t heard_ = 0;  ///< bytes in this second, of the host
  QElapsedTimer second_, hosted_;
  QSerialPort serial_;
  QTimer timer_;
  QElapsedTimer clock_;
  double advanced_at_ = 0;
};

}  // namespace ypsi::standin
