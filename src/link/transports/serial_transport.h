#pragma once
// A serial line, eight bits, no parity, one stop bit, without flow control: the link has its own.
#include <QElapsedTimer>
#include <QSerialPort>

#include "link/transport.h"

namespace ypsi::link {

inline constexpr int default_baud = 115200;

/// What becomes of the line that says "ready" (DTR) when a serial line is closed. Where it falls, many controllers
/// start again at the next opening, and lose where they stand; where it stays up, only plugging in starts them.
enum class ReadyLine { falls, stays_up };

class SerialTransport final : public Transport {
 public:
  explicit SerialTransport(const QString& port, int baud = default_baud, ReadyLine ready = ReadyLine::falls);
  Result<void> open() override;
  bool is_open() const override;
  void close() override;
  void write(std::string_view bytes) override;
  std::string read() override;
  void wait(double seconds) override;
  double now_s() const override { return static_cast<double>(clock_.nsecsElapsed()) * 1e-9; }
  std::string name() const override { return port_.portName().toStdString(); }
  QIODevice& device() { return port_; }

 private:
  QSerialPort port_;
  int baud_;
  ReadyLine ready_;
  QElapsedTimer clock_;
};

}  // namespace ypsi::link
