#include "standin/served_machine.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "link/server.h"
#include "standin/faces/face.h"
#include "standin/truth.h"
#include "standin/wire.h"

namespace ypsi::standin {
namespace {

link::Identity identity_of(std::uint32_t boot) {
  return {"Stand-in",
          YPSI_VERSION,
          {"x", "y", "z"},
          {"probe", "work_frames", "tool_offsets", "feed_override", "second_switch_y", "simulated"},
          link::server_look_ahead,
          boot};
}

}  // namespace

struct ServedMachine::Parts {
  explicit Parts(Scenario scenario)
      : machine(std::move(scenario)),
        server({&machine.controller(), &machine.bench(), [this] { return identity_of(machine.controller().boots()); },
                [this] { machine.controller().link_lost(); }}),
        wire(machine.scenario().seed) {}

  /// Every line of the project's own link answers.
  bool is_answer(std::string_view line) const { return !face || face->is_answer(line); }

  StandIn machine;
  link::Server server;
  std::unique_ptr<Face> face;  ///< in place of the server
  Wire wire;
  std::uint32_t boots_told = 1;
};

StandIn& truth_of(ServedMachine& machine) {
  return machine.parts_->machine;
}

ServedMachine::ServedMachine(std::unique_ptr<Parts> parts) : parts_(std::move(parts)) {}
ServedMachine::~ServedMachine() = default;

Result<std::unique_ptr<ServedMachine>> ServedMachine::from_scenario(std::string_view text) {
  auto scenario = read_scenario(text);
  if (!scenario) return tl::make_unexpected(scenario.error());
  return from(std::move(*scenario));
}

std::unique_ptr<ServedMachine> ServedMachine::from(Scenario scenario) {
  return std::unique_ptr<ServedMachine>(new ServedMachine(std::make_unique<Parts>(std::move(scenario))));
}

void ServedMachine::receive(std::string_view bytes) {
  Parts& p = *parts_;
  if (!line_up()) return;
  const std::string heard = p.wire.to_machine(bytes);
  if (p.face)
    p.face->receive(heard);
  else
    p.server.receive(heard);
}

std::string ServedMachine::take_output() {
  Parts& p = *parts_;
  const std::string out = p.face ? p.face->take_output() : p.server.take_output();
  return p.wire.to_host(out, [&p](std::string_view line) { return p.is_answer(line); });
}

void ServedMachine::poll(double now_s) {
  Parts& p = *parts_;
  p.wire.poll(now_s);
  if (const auto fault = p.machine.take_wire_fault()) {
    if (*fault != FaultKind::buffer_full)
      p.wire.break_down(*fault);
    else if (p.face)
      p.face->fill_up();
    if (!p.wire.up()) closed();
  }
  const std::uint32_t boots = p.machine.controller().boots();
  const bool restarted = std::exchange(p.boots_told, boots) != boots;
  if (p.face) {
    if (restarted) p.face->started_again();
    p.face->poll(now_s);
    return;
  }
  if (restarted) p.server.restarted();
  p.server.poll(now_s);
}

void ServedMachine::closed() {
  if (!parts_->face) parts_->server.closed();  // a face does not mind
}

Result<void> ServedMachine::wear(std::string_view name) {
  auto face = make_face(name, parts_->machine.controller());
  if (!face) return fail("out_of_range", "There is no face “" + std::string(name) + "”; it is bare, asked or telling.");
  parts_->face = std::move(face);
  return {};
}

bool ServedMachine::wears_face() const {
  return parts_->face != nullptr;
}

void ServedMachine::set_line_rate(double bytes_per_s) {
  parts_->server.set_line_rate(bytes_per_s);
}

void ServedMachine::require_token(std::string token) {
  parts_->server.require(std::move(token));
}

bool ServedMachine::has_host() const {
  return parts_->face || parts_->server.has_host();
}

bool ServedMachine::line_up() const {
  return parts_->wire.up();
}

void ServedMachine::advance(double seconds) {
  parts_->machine.advance(seconds);
}

double ServedMachine::now_s() const {
  return parts_->machine.now_s();
}

double ServedMachine::speed() const {
  return parts_->machine.bench().speed();
}

void ServedMachine::set_speed(double factor) {
  parts_->machine.bench().set_speed(factor);
}

MachineLink& ServedMachine::link() {
  return parts_->machine.link();
}

Bench& ServedMachine::bench() {
  return parts_->machine.bench();
}

OwnerKnows ServedMachine::known() const {
  // What is written on shanks and plates: whole sizes.
  constexpr std::array sizes{0.5, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 25.0};
  constexpr double thickness_told_to_mm = 0.05, walls_told_to_mm = 0.01, gauge_ends_at = 30, dial_ends_at = 25;
  const Scenario& s = parts_->machine.scenario();
  OwnerKnows known;
  for (const auto& [name, instrument] : s.instruments) known.instruments.push_back(instrument);
  std::vector<PhysicalTool> tools = s.tools;
  if (tools.empty()) tools.push_back(parts_->machine.plant().tool());  // what is in the collet
  for (const PhysicalTool& t : tools) {
    Tool tool;
    tool.number = t.number;
    tool.diameter = *std::min_element(sizes.begin(), sizes.end(), [&](double a, double b) {
      return std::fabs(a - t.diameter) < std::fabs(b - t.diameter);
    });
    if (t.angle > 0) {
      constexpr double tip_told_to_mm = 0.1;
      tool.kind = "engraver";
      tool.angle = std::round(t.angle * 180 / std::numbers::pi);
      tool.tip = std::round(t.tip / tip_told_to_mm) * tip_told_to_mm;
    }
    known.tools.push_back(tool);
  }
  const auto told = [](double mm, double to) { return std::round(mm / to) * to; };
  known.plate = TouchPlate{"",
                           told(s.plate.thickness, thickness_told_to_mm),
                           told(s.plate.wall_x, walls_told_to_mm),
                           told(s.plate.wall_y, walls_told_to_mm),
                           {}};
  known.rail_spacing = s.rail_spacing;
  known.arming = s.arming.points;
  known.emergency_stops = s.emergency_stops;
  known.vacuum = s.vacuum;
  known.cap_mm = s.stock.cap;
  known.plate_mm = s.stock.size[2];
  for (const PhysicalHead& h : s.heads) {
    Head head = told_head(h);
    if (!h.lower.empty()) head.gauge_high = gauge_ends_at;
    if (s.nose && h.kind == HeadKind::spindle) {
      head.gauge = "ticks";
      head.gauge_high = dial_ends_at;
    }
    known.heads.push_back(std::move(head));
  }
  return known;
}

std::string ServedMachine::settings() const {
  return parts_->machine.settings();
}

void ServedMachine::restore_settings(std::string_view json) {
  parts_->machine.restore_settings(json);
}

}  // namespace ypsi::standin
