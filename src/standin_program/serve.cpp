#include "standin_program/serve.h"

#include <algorithm>

#include "link/frame.h"

namespace ypsi::standin {
namespace {
constexpr int tick_ms = 5;  // an act takes effect by the next tick at the latest
constexpr double longest_catch_up_s = 0.2, slice_s = 0.05, free_running_slice_s = 0.1;
constexpr qint64 free_running_budget_ms = 4;
}  // namespace

Serve::Serve(std::unique_ptr<ServedMachine> machine, QObject* parent) : QObject(parent), machine_(std::move(machine)) {
  connect(&server_, &QTcpServer::newConnection, this, &Serve::greet_next);
  connect(&serial_, &QSerialPort::readyRead, this, &Serve::read);
  connect(&timer_, &QTimer::timeout, this, &Serve::tick);
  timer_.setTimerType(Qt::PreciseTimer);
  clock_.start();
  timer_.start(tick_ms);
}

Result<quint16> Serve::listen(quint16 port) {
  if (!server_.listen(QHostAddress::LocalHost, port))
    return fail("offline", QStringLiteral("Port %1 cannot be listened at: %2. Choose another with --port.")
                               .arg(port)
                               .arg(server_.errorString())
                               .toStdString());
  return server_.serverPort();
}

Result<void> Serve::use_serial(const QString& port) {
  serial_.setPortName(port);
  serial_.setBaudRate(QSerialPort::Baud115200);
  if (serial_.open(QIODevice::ReadWrite)) return {};
  return fail(
      "offline",
      QStringLiteral("The serial line %1 cannot be opened: %2.").arg(port, serial_.errorString()).toStdString());
}

void Serve::greet_next() {
  QTcpSocket* next = server_.nextPendingConnection();
  if (client_ || serial_.isOpen() || !machine_->line_up()) {
    const auto busy = link::up_line(
        R"({"refused":{"code":"taken","message":"Another program is connected to this machine. Close it there first.","where":""}})");
    next->write(busy.data(), static_cast<qint64>(busy.size()));
    next->disconnectFromHost();
    connect(next, &QTcpSocket::disconnected, next, &QObject::deleteLater);
    return;
  }
  client_ = next;
  client_->setSocketOption(QAbstractSocket::LowDelayOption, 1);
  connect(client_, &QTcpSocket::readyRead, this, &Serve::read);
  connect(client_, &QTcpSocket::disconnected, this, [this, gone = client_] {
    gone->deleteLater();
    if (client_ != gone) return;
    client_ = nullptr;
    machine_->closed();
  });
}

void Serve::read() {
  if (QIODevice* from = host()) machine_->receive(from->readAll().toStdString());
  write();
}

void Serve::write() {
  const std::string out = machine_->take_output();
  if (QIODevice* to = host(); to && !out.empty()) to->write(out.data(), static_cast<qint64>(out.size()));
}

void Serve::tick() {
  const double now = static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
  const double passed = std::min(now - std::exchange(advanced_at_, now), longest_catch_up_s);
  if (const double speed = machine_->speed(); speed > 0) {
    for (double left = passed * speed; left > 0; left -= slice_s) {
      machine_->advance(std::min(left, slice_s));
      machine_->poll(now);
    }
  } else {
    QElapsedTimer budget;
    budget.start();
    do {
      machine_->advance(free_running_slice_s);
      machine_->poll(now);
    } while (budget.elapsed() < free_running_budget_ms);
  }
  machine_->poll(now);
  write();
  if (client_ && !machine_->line_up()) client_->abort();
}

}  // namespace ypsi::standin
