#pragma once
// TCP to this computer or to one that was named.
#include <QElapsedTimer>
#include <QTcpSocket>

#include "link/transport.h"

namespace ypsi::link {

inline constexpr quint16 default_port = 7125;

class TcpTransport final : public Transport {
 public:
  TcpTransport(QString host, quint16 port);
  Result<void> open() override;
  Result<bool> opened() override;
  bool is_open() const override { return socket_.state() == QAbstractSocket::ConnectedState; }
  void close() override { socket_.abort(); }
  void write(std::string_view bytes) override;
  std::string read() override;
  void wait(double seconds) override;
  double now_s() const override { return static_cast<double>(clock_.nsecsElapsed()) * 1e-9; }
  std::string name() const override;
  QIODevice& device() { return socket_; }

 private:
  QString host_;
  quint16 port_;
  QTcpSocket socket_;
  QElapsedTimer clock_, opening_;
};

}  // namespace ypsi::link
