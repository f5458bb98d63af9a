#include "app/session/connection.h"

#include <QSaveFile>
#include <algorithm>
#include <tuple>
#include <utility>

#include "app/session/book_store.h"
#include "app/session/described_controllers.h"
#include "app/session/text_file.h"
#include "app/to_q.h"
#include "core/procedures/procedure.h"
#include "core/program/own_blocks.h"
#include "link/by_hand/hand_link.h"
#include "link/describing/describing_bench.h"
#include "link/in_process.h"
#include "link/lines/line_link.h"
#include "link/transports/serial_transport.h"
#include "link/transports/tcp_transport.h"
#include "link/transports/token.h"
#include "standin/served_machine.h"

namespace ypsi::app {
namespace {
constexpr int tick_ms = 10, hands_tick_ms = 30, quiet_tick_ms = 20;
constexpr double longest_catch_up_s = 0.2;
constexpr double slice_s = 0.1;  // of the machine's time at once, so that the program can feed it
constexpr qint64 free_running_budget_ms = 8;
}  // namespace

namespace {
constexpr QLatin1String as(" as "), left_up(":stays-up");

/// Where its bytes go, without what it is that answers.
QString way_text(const Line& line) {
  switch (line.kind) {
    case Line::Kind::stand_in:
      break;
    case Line::Kind::by_hand:
      return QStringLiteral("by-hand");
    case Line::Kind::tcp:
      return QStringLiteral("tcp:%1:%2").arg(line.address).arg(line.number);
    case Line::Kind::serial:
      return QStringLiteral("serial:%1:%2").arg(line.address).arg(line.number) +
             (line.stays_up ? left_up : QLatin1String());
  }
  return QStringLiteral("stand-in");
}
}  // namespace

QString Line::to_text() const {
  return controller.isEmpty() ? way_text(*this) : way_text(*this) + as + controller;
}

std::optional<Line> Line::from_text(const QString& text) {
  if (const qsizetype at = text.indexOf(as); at >= 0) {
    auto line = from_text(text.left(at));
    if (!line || line->kind == Kind::by_hand || text.size() <= at + as.size()) return std::nullopt;
    line->controller = text.mid(at + as.size());
    return line;
  }
  if (text == QLatin1String("stand-in")) return Line{};
  if (text == QLatin1String("by-hand")) return Line{Line::Kind::by_hand, {}, 0};
  if (text.endsWith(left_up)) {
    auto line = from_text(text.chopped(left_up.size()));
    if (!line || line->kind != Kind::serial || line->stays_up) return std::nullopt;
    line->stays_up = true;
    return line;
  }
  const qsizetype first = text.indexOf(':'), last = text.lastIndexOf(':');
  if (first < 0 || last <= first + 1) return std::nullopt;
  bool is_number = false;
  const Line line{text.startsWith(QLatin1String("tcp:")) ? Kind::tcp : Kind::serial,
                  text.mid(first + 1, last - first - 1), text.mid(last + 1).toInt(&is_number)};
  const QString kind = text.left(first);
  if (!is_number || line.number <= 0 || (kind != QLatin1String("tcp") && kind != QLatin1String("serial")) ||
      (line.kind == Kind::tcp && line.number > 65535))
    return std::nullopt;
  return line;
}

namespace {
/// The stand-in in this window, with what it has kept.
Result<std::unique_ptr<standin::ServedMachine>> stand_in_of(const StandInFiles& files, std::string* kept = nullptr) {
  const auto text = read_file(files.scenario);
  if (!text) return tl::make_unexpected(text.error());
  auto machine = standin::ServedMachine::from_scenario(*text);
  if (!machine) return machine;
  if (const auto memory = read_file(files.settings)) {
    (*machine)->restore_settings(*memory);
    if (kept) *kept = *memory;
  }
  return machine;
}

/// What was told of a machine before, else what the book says.
link::HandMemory told_of(const Book& book, const QString& memory, QString* damaged) {
  const auto text = read_file(memory);
  if (!text) return link::first_memory(book);
  auto kept = link::HandMemory::from_text(*text);
  if (kept) return std::move(*kept);
  if (damaged) *damaged = to_q(kept.error().message);
  return link::first_memory(book);
}

std::unique_ptr<link::Transport> way_to(standin::ServedMachine& machine) {
  return std::make_unique<link::InProcess>(machine, "the stand-in in this window");
}
}  // namespace

Result<std::unique_ptr<Connection>> Connection::to_stand_in(const StandInFiles& files) {
  std::string kept;
  auto machine = stand_in_of(files, &kept);
  if (!machine) return tl::make_unexpected(machine.error());
  auto transport = way_to(**machine);
  std::unique_ptr<Connection> connection(new Connection(std::move(*machine), std::move(transport), {}));
  connection->machine_settings_path_ = files.settings;
  connection->saved_settings_ = std::move(kept);
  if (auto opened = connection->client_->open(); !opened) return tl::make_unexpected(opened.error());
  return connection;
}

namespace {
/// The way to a line, and what tells that something has come on it.
std::pair<std::unique_ptr<link::Transport>, QIODevice*> transport_of(const Line& line) {
  if (line.kind == Line::Kind::serial) {
    auto serial = std::make_unique<link::SerialTransport>(
        line.address, line.number, line.stays_up ? link::ReadyLine::stays_up : link::ReadyLine::falls);
    QIODevice* device = &serial->device();
    return {std::move(serial), device};
  }
  auto tcp = std::make_unique<link::TcpTransport>(line.address, static_cast<quint16>(line.number));
  QIODevice* device = &tcp->device();
  return {std::move(tcp), device};
}
}  // namespace

namespace {
struct Way {
  std::unique_ptr<standin::ServedMachine> machine;  ///< the stand-in in this window, wearing a face
  std::unique_ptr<link::Transport> transport;
  QIODevice* device = nullptr;  ///< what tells that something has come
};

/// To a controller that takes G-code a line at a time.
Result<Way> way_of(const Line& line, const std::optional<StandInFiles>& files) {
  Way way;
  if (line.kind != Line::Kind::stand_in) {
    std::tie(way.transport, way.device) = transport_of(line);
    return way;
  }
  if (!files) return fail("offline", "There is no stand-in in this window.");
  auto made = stand_in_of(*files);
  if (!made) return tl::make_unexpected(made.error());
  way.machine = std::move(*made);
  if (auto worn = way.machine->wear(line.controller.toStdString()); !worn) return tl::make_unexpected(worn.error());
  way.transport = way_to(*way.machine);
  return way;
}
}  // namespace

std::unique_ptr<Connection> Connection::to_line(const Line& line, const QString& token) {
  auto [transport, device] = transport_of(line);
  std::unique_ptr<Connection> connection(new Connection(nullptr, std::move(transport), line));
  connection->typed_token_ = token;
  connection->follow(device);
  return connection;
}

/// What comes is read when it comes: a fast program must not wait for the next tick. Queued, since it may be told in
/// the middle of one.
void Connection::follow(QIODevice* device) {
  connect(device, &QIODevice::readyRead, this, &Connection::tick, Qt::QueuedConnection);
}

Result<std::unique_ptr<Connection>> Connection::described(const Line& line, const Book& book, const QString& memory,
                                                          const std::optional<StandInFiles>& files, QString* damaged) {
  auto description = read_described(line.controller);
  if (!description) return tl::make_unexpected(description.error());
  auto way = way_of(line, files);
  if (!way) return tl::make_unexpected(way.error());
  link::HandMemory known = told_of(book, memory, damaged);
  known.broken_off = false;  // where it stands it tells, or it is homed
  auto lines = std::make_unique<link::LineLink>(std::move(way->transport), std::move(*description), std::move(known));
  lines->know_blocks(own_blocks(book.machine.heads));
  std::unique_ptr<Connection> connection(new Connection(std::move(way->machine), std::move(lines), line));
  connection->settings_path_ = memory;
  if (connection->machine_) connection->machine_settings_path_ = files->settings;
  if (way->device) connection->follow(way->device);
  return connection;
}

Result<std::unique_ptr<Connection>> Connection::to_describe(const Line& line, const Book& book,
                                                            const std::optional<StandInFiles>& files,
                                                            std::shared_ptr<link::ControllerDescription> draft) {
  auto way = way_of(line, files);
  if (!way) return tl::make_unexpected(way.error());
  std::unique_ptr<Connection> connection(new Connection(
      std::move(way->machine),
      std::make_unique<link::DescribingBench>(std::move(way->transport), link::first_memory(book), std::move(draft)),
      line));
  if (way->device) connection->follow(way->device);
  return connection;
}

Connection::Connection(std::unique_ptr<standin::ServedMachine> machine,
                       std::unique_ptr<link::DescribingBench> describing, Line line)
    : line_(std::move(line)), machine_(std::move(machine)), describing_(std::move(describing)) {
  timer_.setTimerType(Qt::PreciseTimer);
  begin_ticking(tick_ms);
}

Connection::Connection(std::unique_ptr<standin::ServedMachine> machine, std::unique_ptr<link::LineLink> lines,
                       Line line)
    : line_(std::move(line)), machine_(std::move(machine)), lines_(std::move(lines)) {
  timer_.setTimerType(Qt::PreciseTimer);
  begin_ticking(tick_ms);
}

Connection::Connection(std::unique_ptr<standin::ServedMachine> machine, std::unique_ptr<link::Transport> transport,
                       Line line)
    : line_(std::move(line)),
      machine_(std::move(machine)),
      client_(std::make_unique<link::Client>(std::move(transport))) {
  timer_.setTimerType(Qt::PreciseTimer);
  begin_ticking(tick_ms);
}

std::unique_ptr<Connection> Connection::by_hand(const Book& book, const QString& memory, QString* damaged) {
  std::unique_ptr<Connection> connection(
      new Connection(std::make_unique<link::HandLink>(told_of(book, memory, damaged))));
  connection->settings_path_ = memory;
  connection->hands_->ask_what_it_has();
  return connection;
}

Connection::Connection(std::unique_ptr<link::HandLink> hands)
    : line_{Line::Kind::by_hand, {}, 0}, hands_(std::move(hands)) {
  begin_ticking(hands_tick_ms);
}

void Connection::begin_ticking(int every_ms) {
  connect(&timer_, &QTimer::timeout, this, &Connection::tick);
  timer_.start(every_ms);
}

Connection::~Connection() = default;

MachineLink& Connection::link() {
  if (hands_) return *hands_;
  if (lines_) return *lines_;
  return *client_;
}

link::HandLink* Connection::cards() {
  return lines_ ? &lines_->hands() : hands_.get();
}

Bench* Connection::bench() {
  if (!simulated()) return nullptr;
  return client_ ? static_cast<Bench*>(client_.get()) : &machine_->bench();
}

Result<bool> Connection::opened() const {
  if (hands_) return true;
  if (describing_) return describing_->opened();
  return lines_ ? lines_->opened() : client_->opened();
}

std::size_t Connection::bad_lines() const {
  if (lines_) return lines_->talk().bad_lines();
  return client_ ? client_->wire().bad_lines() : 0;
}

QString Connection::name() const {
  if (hands_) return tr("by hand");
  if (describing_) return QString::fromStdString(describing_->line().name());
  return QString::fromStdString(lines_ ? lines_->talk().transport().name() : client_->wire().name());
}

Result<void> Connection::open() {
  if (hands_) return {};
  if (lines_) return lines_->begin();
  if (describing_) return describing_->begin();
  // Asked for anew each time: a machine that was started again has another.
  if (line_.kind == Line::Kind::tcp)
    client_->set_token(
        (typed_token_.isEmpty() ? link::token_of(line_.address, static_cast<quint16>(line_.number)) : typed_token_)
            .toStdString());
  return client_->begin();
}

QString Connection::description() const {
  if (hands_) return tr("a machine that is worked by hand");
  if (describing_) return name();
  if (lines_) return QStringLiteral("%1 · %2").arg(to_q(lines_->description().name), name());
  const auto& who = client_->wire().identity();
  return QStringLiteral("%1 %2 · %3")
      .arg(QString::fromStdString(who.name), QString::fromStdString(who.version),
           QString::fromStdString(client_->wire().name()));
}

void Connection::tick() {
  step();
  if (!hands_ && !describing_) keep_pace();
}

/// Nobody notices how often a machine is looked at that stands; a computer that looks a hundred times a second grows
/// warm. What comes over a line is read when it comes.
void Connection::keep_pace() {
  const bool by_the_clock = !machine_ || machine_->speed() == 1;
  const int pace = by_the_clock && up() && stands(link().status().state) ? quiet_tick_ms : tick_ms;
  if (timer_.interval() != pace) timer_.setInterval(pace);
}

void Connection::step() {
  if (hands_) {
    save_settings();  // who is killed loses nothing that was told
    emit ticked();
    return;
  }
  if (lines_) save_settings();
  if (!machine_) {
    poll_line();
    emit ticked();
    return;
  }
  const double now = now_s(), passed = std::min(longest_catch_up_s, now - std::exchange(advanced_at_, now));
  const auto slice = [&](double seconds) {
    machine_->advance(seconds);
    machine_->poll(now_s());
    poll_line();
    emit ticked();
  };
  if (const double speed = machine_->speed(); speed > 0) {
    // In short slices, so that the program is fed in between and its look-ahead never runs dry.
    for (double left = passed * speed; left > 0; left -= slice_s) slice(std::min(left, slice_s));
    return;
  }
  QElapsedTimer budget;
  budget.start();
  do slice(slice_s);
  while (budget.elapsed() < free_running_budget_ms);
}

void Connection::poll_line() {
  if (lines_)
    lines_->poll();
  else if (describing_)
    describing_->poll();
  else
    client_->poll();
}

double Connection::now_s() const {
  if (describing_) return describing_->line().now_s();
  return lines_ ? lines_->talk().now_s() : client_->wire().now_s();
}

void Connection::advance(double seconds) {
  if (machine_) machine_->advance(seconds);
}

void Connection::set_speed(double factor) {
  if (machine_)
    machine_->set_speed(factor);
  else if (Bench* at = bench())
    at->set_speed(factor);
}

bool Connection::save_settings() {
  if (link::HandLink* told = cards(); told && saved_changes_ != told->changes()) {
    if (!write_file(settings_path_, told->memory().to_text())) return false;
    saved_changes_ = told->changes();
  }
  if (!machine_) return true;
  const std::string text = machine_->settings();
  if (text == saved_settings_) return true;
  QSaveFile file(machine_settings_path_);
  if (!file.open(QIODevice::WriteOnly) ||
      file.write(text.data(), static_cast<qint64>(text.size())) != static_cast<qint64>(text.size()) || !file.commit())
    return false;
  saved_settings_ = text;
  return true;
}

}  // namespace ypsi::app
