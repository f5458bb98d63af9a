#include "standin_program/serve.h"

#include <QFile>
#include <QRandomGenerator>
#include <algorithm>

#include "core/procedures/procedure.h"
#include "link/frame.h"
#include "link/transports/token.h"

namespace ypsi::standin {
namespace {
constexpr int tick_ms = 5, quiet_tick_ms = 15;  // an act takes effect by the next tick at the latest
constexpr double longest_catch_up_s = 0.2, slice_s = 0.05, free_running_slice_s = 0.1;
constexpr qint64 free_running_budget_ms = 4;
constexpr qint64 greet_within_ms = 2000, longest_hello = 4096, most_at_once = 65536;
constexpr std::size_t most_strangers = 8, most_in_a_second = 16U << 20U;
}  // namespace

Serve::Serve(std::unique_ptr<ServedMachine> machine, QObject* parent) : QObject(parent), machine_(std::move(machine)) {
  connect(&server_, &QTcpServer::newConnection, this, &Serve::let_in);
  connect(&serial_, &QSerialPort::readyRead, this, &Serve::read);
  connect(&timer_, &QTimer::timeout, this, &Serve::tick);
  timer_.setTimerType(Qt::PreciseTimer);
  clock_.start();
  second_.start();
  hosted_.start();
  timer_.start(tick_ms);
}

Result<quint16> Serve::listen(quint16 port) {
  if (!server_.listen(QHostAddress::LocalHost, port))
    return fail("offline", QStringLiteral("Port %1 cannot be listened at: %2. Choose another with --port.")
                               .arg(port)
                               .arg(server_.errorString())
                               .toStdString());
  token_ = QString::number(QRandomGenerator::system()->generate64(), 36).rightJustified(13, '0');
  machine_->require_token(token_.toStdString());
  token_file_ = link::token_path(server_.serverPort());
  QFile file(token_file_);
  QFile::remove(token_file_);
  if (file.open(QIODevice::WriteOnly | QIODevice::NewOnly, QFileDevice::ReadOwner | QFileDevice::WriteOwner))
    file.write(token_.toUtf8());
  return server_.serverPort();
}

Result<void> Serve::use_serial(const QString& port) {
  serial_.setPortName(port);
  serial_.setBaudRate(QSerialPort::Baud115200);
  machine_->set_line_rate(115200 / 10.0);  // ten bits a byte
  if (serial_.open(QIODevice::ReadWrite)) return {};
  return fail(
      "offline",
      QStringLiteral("The serial line %1 cannot be opened: %2.").arg(port, serial_.errorString()).toStdString());
}

Serve::~Serve() {
  if (!token_file_.isEmpty()) QFile::remove(token_file_);
}

void Serve::let_in() {
  while (QTcpSocket* next = server_.nextPendingConnection()) {
    connect(next, &QTcpSocket::disconnected, next, &QObject::deleteLater);
    if (serial_.isOpen() || !machine_->line_up() || strangers_.size() >= most_strangers) {
      show_out(next);
      continue;
    }
    next->setSocketOption(QAbstractSocket::LowDelayOption, 1);
    strangers_.push_back({next, {}, {}});
    strangers_.back().since.start();
    if (machine_->wears_face()) {  // such a controller knows of no hello
      if (client_)
        show_out(next);
      else
        take_as_host(strangers_.back());
    }
    connect(next, &QTcpSocket::readyRead, this, [this, next] {
      for (Stranger& each : strangers_)
        if (each.socket == next) return hear(each);
    });
    connect(next, &QTcpSocket::disconnected, this, [this, next] {
      strangers_.remove_if([next](const Stranger& each) { return each.socket == next; });
      if (client_ != next) return;
      client_ = nullptr;
      machine_->closed();
    });
  }
}

/// The first line must be a hello; empty ones before it set it apart from what went before.
void Serve::hear(Stranger& stranger) {
  stranger.heard += stranger.socket->read(longest_hello).toStdString();
  link::DownDecoder decoder;
  const auto said = decoder.feed(stranger.heard);
  if (said.empty() && stranger.heard.size() < longest_hello) return;
  const auto* first = said.empty() ? nullptr : std::get_if<link::DownLine>(&said.front());
  if (!first || first->number != 0 || !first->payload.starts_with("{\"hello\"")) return show_out(stranger.socket);
  take_as_host(stranger);
}

void Serve::take_as_host(Stranger& stranger) {
  QTcpSocket* next = stranger.socket;
  if (client_ && machine_->has_host())
    return show_out(
        next,
        link::up_line(
            R"({"refused":{"code":"taken","message":"Another program is connected to this machine. Close it there first.","where":""}})"));
  const std::string heard = std::move(stranger.heard);
  strangers_.remove_if([next](const Stranger& each) { return each.socket == next; });
  if (QTcpSocket* gone = std::exchange(client_, nullptr)) gone->abort();
  client_ = next;
  connect(client_, &QTcpSocket::readyRead, this, &Serve::read);
  machine_->poll(now_s());
  machine_->receive(heard);
  write();
  if (!machine_->has_host()) show_out(std::exchange(client_, nullptr));  // it was told why
}

void Serve::show_out(QTcpSocket* socket, const std::string& why) {
  strangers_.remove_if([socket](const Stranger& each) { return each.socket == socket; });
  if (!why.empty()) socket->write(why.data(), static_cast<qint64>(why.size()));
  socket->disconnectFromHost();
}

void Serve::show_out_the_silent() {
  std::vector<QTcpSocket*> silent;
  for (const Stranger& each : strangers_)
    if (each.since.elapsed() > greet_within_ms) silent.push_back(each.socket);
  for (QTcpSocket* each : silent) show_out(each);
  // A host that has fallen silent has lost the machine; one whose machine was started again greets it anew.
  if (machine_->has_host()) hosted_.restart();
  if (client_ && hosted_.elapsed() > greet_within_ms) client_->abort();
}

void Serve::read() {
  if (QIODevice* from = host()) {
    const std::string bytes = from->read(most_at_once).toStdString();
    if (second_.elapsed() > 1000) {
      second_.restart();
      heard_ = 0;
    }
    heard_ += bytes.size();
    machine_->poll(now_s());
    machine_->receive(bytes);
    if (client_ && heard_ > most_in_a_second) client_->abort();  // no host says so much
  }
  write();
}

void Serve::write() {
  const std::string out = machine_->take_output();
  if (QIODevice* to = host(); to && !out.empty()) to->write(out.data(), static_cast<qint64>(out.size()));
}

double Serve::now_s() const {
  return static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
}

void Serve::tick() {
  const double now = now_s();
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
  if (const QIODevice* from = host(); from && from->bytesAvailable() > 0) read();
  show_out_the_silent();
  // One that stands need not be moved; what a host says is heard when it comes.
  const bool quiet = machine_->speed() == 1 && stands(machine_->link().status().state);
  if (const int pace = quiet ? quiet_tick_ms : tick_ms; timer_.interval() != pace) timer_.setInterval(pace);
}

}  // namespace ypsi::standin
