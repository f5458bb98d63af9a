// Speeds of the link and the stand-in, as JSON: how soon Hold is felt, blocks a second through TCP, and how long a job
// takes that runs as fast as it goes. Needs ypsilograph-standin beside it.
#include <QCoreApplication>
#include <QFile>
#include <QProcess>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>

#include "link/client.h"
#include "link/in_process.h"
#include "link/lines/line_link.h"
#include "link/transports/tcp_transport.h"
#include "link/transports/token.h"
#include "standin/served_machine.h"
#include "standin/standin.h"
#include "standin/truth.h"

namespace {

using namespace ypsi;

double now_s() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

/// A fast machine, so that short blocks are what limits it.
constexpr const char* scenario_text = R"({"format":"ypsilograph-scenario","version":1,
  "axes":{"X":{"true_steps_per_mm":80,"stops_mm":[-3,815]},"Y":{"true_steps_per_mm":80,"stops_mm":[-3,615]},
          "Z":{"true_steps_per_mm":400,"stops_mm":[-110,3],"switch":{"end":"max"}}},
  "controller":{"X":{"max_rate_mm_min":12000,"accel_mm_s2":6000},"Y":{"max_rate_mm_min":12000,"accel_mm_s2":6000},
                "Z":{"home_seek_mm_min":3000}},
  "stock":{"size_mm":[600,400,18],"corner_mm":[60,45]},"tools":[{"number":1,"diameter_mm":6,"stickout_mm":30}]})";

struct Program {
  QProcess process;
  quint16 port = 0;
  explicit Program(const char* speed) {
    const QString path = QCoreApplication::applicationDirPath() + "/bench.scenario.json";
    QFile file(path);
    if (file.open(QIODevice::WriteOnly)) file.write(scenario_text);
    file.close();
    process.start(QStringLiteral(YPSI_BIN) + "/ypsilograph-standin",
                  {"--scenario", path, "--port", "0", "--speed", speed});
    process.waitForReadyRead(5000);
    port = QString(process.readAllStandardOutput()).split('\n').first().split(':').last().toUShort();
  }
  ~Program() {
    process.kill();
    process.waitForFinished();
  }
};

template <class Until>
bool pump(link::Client& client, double limit_s, Until until) {
  for (const double begin = now_s(); now_s() - begin < limit_s;) {
    client.poll();
    if (until()) return true;
  }
  return false;
}

bool home(link::Client& client) {
  client.set_speed(0);
  return client.home() &&
         pump(client, 30, [&] { return client.status().all_homed() && client.status().state == MachineState::ready; });
}

/// From the act's first byte to the first word of the controller that it goes slower than it was told.
int measure_hold() {
  Program program("1");
  link::Client client(std::make_unique<link::TcpTransport>("127.0.0.1", program.port));
  client.set_token(link::token_of("127.0.0.1", program.port).toStdString());
  if (!client.open() || !home(client)) return 1;
  client.set_speed(1);
  std::vector<double> took;
  if (!client.begin_program() || !client.send("G21 G91 F3000", 1)) return 1;
  constexpr std::size_t holds = 200, holds_a_stroke = 4;
  while (took.size() < holds) {
    // Hold anywhere in a steady stretch of a stroke; go on; hold again. There and back by turns.
    if (took.size() % holds_a_stroke == 0 &&
        !client.send(took.size() / holds_a_stroke % 2 == 0 ? "G1 X600" : "G1 X-600", 2))
      return 1;
    const double wait_until = now_s() + 0.35 + 0.003 * static_cast<double>(took.size() % 17);
    if (!pump(client, 15, [&] { return now_s() > wait_until && client.status().feed > 2990; })) return 1;
    const double begin = now_s();
    client.hold();
    if (!pump(client, 2, [&] { return client.status().feed < 2990; })) return 1;
    took.push_back((now_s() - begin) * 1000);
    if (!pump(client, 2, [&] { return client.status().state == MachineState::held; })) return 1;
    client.go_on();
  }
  std::sort(took.begin(), took.end());
  std::printf("\"holds\": %zu, \"hold_median_ms\": %.2f, \"hold_worst_ms\": %.2f,\n", took.size(),
              took[took.size() / 2], took.back());
  return 0;
}

/// 0.01 mm a block at 100 mm/s is 10,000 blocks a second of the machine's own time.
int measure_blocks() {
  Program program("1");
  link::Client client(std::make_unique<link::TcpTransport>("127.0.0.1", program.port));
  client.set_token(link::token_of("127.0.0.1", program.port).toStdString());
  if (!client.open() || !home(client)) return 1;
  client.set_speed(1);
  constexpr int blocks = 50000;
  if (!client.begin_program() || !client.send("G21 G91 F6000", 1)) return 1;
  const double begin = now_s();
  for (int sent = 0; sent < blocks;) {
    if (client.send("G1X0.01", 2))
      ++sent;
    else
      client.poll();
    if (!client.wire().up()) return 1;
  }
  client.end_program();
  if (!pump(client, 30, [&] { return client.status().state == MachineState::ready; })) return 1;
  const double took = now_s() - begin;
  std::printf("\"blocks_a_second\": %.0f, \"ran_dry\": %u,\n", blocks / took, client.status().ran_dry);

  client.set_speed(0);
  if (!client.begin_program() || !client.send("G21 G91 F6000", 1)) return 1;
  const double free_begin = now_s();
  for (int sent = 0; sent < 200000;) {
    if (client.send(sent / 20000 % 2 ? "G1X0.01" : "G1X-0.01", 2))
      ++sent;
    else
      client.poll();
    if (!client.wire().up()) return 1;
  }
  std::printf("\"blocks_a_second_free\": %.0f,\n", 200000 / (now_s() - free_begin));
  return 0;
}

/// A described controller in this process, at real time; `face` empty: the project's own link.
struct Here {
  std::unique_ptr<standin::ServedMachine> machine;
  std::unique_ptr<link::LineLink> lines;
  std::unique_ptr<link::Client> client;
  double seen_s = now_s();

  explicit Here(const std::string& face) : machine(standin::ServedMachine::from_scenario(scenario_text).value()) {
    if (!face.empty() && !machine->wear(face)) return;
    auto way = std::make_unique<link::InProcess>(*machine, "here");
    if (face.empty()) {
      client = std::make_unique<link::Client>(std::move(way));
      (void)client->open();
      return;
    }
    QFile file(QStringLiteral(YPSI_CONTROLLERS) + "/" + QString::fromStdString(face) + ".controller.json");
    if (!file.open(QIODevice::ReadOnly)) return;
    link::HandMemory known;
    known.looked_up = true;
    known.settings = machine->link().settings();
    lines = std::make_unique<link::LineLink>(
        std::move(way), link::read_controller(file.readAll().toStdString()).value(), std::move(known));
    (void)lines->open();
  }
  MachineLink& link() { return client ? static_cast<MachineLink&>(*client) : *lines; }
  void poll() {
    const double now = now_s();
    machine->advance(now - std::exchange(seen_s, now));
    machine->poll(now);
    if (client)
      client->poll();
    else
      lines->poll();
  }
  template <class Until>
  bool pump(double limit_s, Until until) {
    for (const double begin = now_s(); now_s() - begin < limit_s;) {
      poll();
      if (until()) return true;
    }
    return false;
  }
  bool home() {
    if (!link().home()) return false;
    for (const double begin = now_s(); now_s() - begin < 60;) {
      machine->advance(0.05);
      seen_s = now_s();
      poll();
      if (link().status().all_homed() && link().status().state == MachineState::ready) return true;
    }
    return false;
  }
  double true_feed() { return standin::truth_of(*machine).controller().status().feed; }
};

/// From Hold to the machine's own slowing down, the median of some, ms; and blocks of 0.01 mm a second. -1: it cannot.
int measure_face(const char* name, const std::string& face) {
  Here here(face);
  if ((!here.client && !here.lines) || !here.home()) return 1;
  std::vector<double> took;
  const bool holds = here.client || here.lines->description().acts.hold.said();
  constexpr std::size_t enough = 16;
  for (int way = 0; holds && took.size() < enough; ++way) {
    if (!here.link().begin_program()) return 1;
    if (!here.link().send("G21 G91 F3000", 1) || !here.link().send(way % 2 == 0 ? "G1 X200" : "G1 X-200", 2)) return 1;
    here.link().end_program();
    for (int i = 0; i < 4; ++i) {
      const double wait_until = now_s() + 0.3 + 0.003 * static_cast<double>(took.size() % 17);
      if (!here.pump(5, [&] { return now_s() > wait_until && here.true_feed() > 2990; })) return 1;
      const double begin = now_s();
      here.link().hold();
      if (!here.pump(2, [&] { return here.true_feed() < 2990; })) return 1;
      took.push_back((now_s() - begin) * 1000);
      if (!here.pump(5, [&] { return here.link().status().state == MachineState::held; })) return 1;
      here.link().go_on();
    }
    if (!here.pump(30, [&] { return here.link().status().state == MachineState::ready; })) return 1;
  }
  std::sort(took.begin(), took.end());
  const int blocks = holds ? 20000 : 400;
  if (!here.link().begin_program() || !here.link().send("G21 G91 F6000", 1)) return 1;
  const double begin = now_s();
  for (int sent = 0; sent < blocks;) {
    if (here.link().send("G1X0.01", 2))
      ++sent;
    else
      here.poll();
    if (now_s() - begin > 60) return 1;
  }
  here.link().end_program();
  if (!here.pump(60, [&] { return here.link().status().state == MachineState::ready; })) return 1;
  std::printf("\"%s_blocks\": %.0f, \"%s_hold_ms\": %.2f,\n", name, blocks / (now_s() - begin), name,
              took.empty() ? -1.0 : took[took.size() / 2]);
  return 0;
}

int measure_faces() {
  return measure_face("own", "") + measure_face("asked", "asked") + measure_face("telling", "telling") +
         measure_face("bare", "bare");
}

/// Raster cutting at F1200 for ten minutes of the machine's time, with everything that cutting costs.
int measure_job() {
  auto scenario = standin::read_scenario(scenario_text);
  if (!scenario) return 1;
  standin::StandIn machine(*scenario);
  MachineLink& link = machine.link();
  if (!link.home()) return 1;
  machine.advance(120);
  if (!link.begin_program()) return 1;
  const double start = machine.now_s(), begin = now_s();
  std::vector<std::string> blocks{"G21 G91 S9000 M3", "G0 X60 Y50", "G0 Z-90", "G1 Z-6 F1200"};
  for (int i = 0; i < 50; ++i)
    for (const char* b : {"G1 X200 F1200", "G1 Y1.5", "G3 X2 Y2 J2 I0", "G1 X-202 Y-1", "G1 Y1"})
      blocks.emplace_back(b);
  for (std::size_t at = 0; machine.now_s() - start < 600;) {
    while (at < blocks.size() && link.send(blocks[at], static_cast<std::uint32_t>(at + 1))) ++at;
    machine.advance(0.1);
    if (link.status().state != MachineState::cutting && link.status().state != MachineState::moving) break;
  }
  std::printf("\"job_machine_s\": %.1f, \"job_took_s\": %.3f, \"job_sweeps\": %zu\n", machine.now_s() - start,
              now_s() - begin, machine.plant().cut().sweeps().size());
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  const QCoreApplication app(argc, argv);
  std::printf("{");
  const int failed = measure_hold() + measure_blocks() + measure_faces() + measure_job();
  std::printf("}\n");
  return failed;
}
