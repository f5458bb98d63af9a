#include "core/rehearsal/workshop.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {

constexpr double across_mm_min = 3000, lowering_mm_min = 600, arrived_mm = 0.02;

}  // namespace

double reach_of(const std::string& name) {
  // A magnifier lies on lines, and spans no way.
  return name == magnifier ? 0.0 : name == "indicator" ? 9.0 : name == "caliper" ? 190.0 : 1e6;
}

Workshop::Workshop(MachineLink& l, Bench& b, std::function<void(double)> wait, Book known)
    : link(l), bench(b), book(std::move(known)), wait_(std::move(wait)) {}

tl::unexpected<Error> Workshop::too_long() {
  return fail("too_long", "The machine was still moving after hours; it was given up.");
}

Result<void> Workshop::run(Procedure& procedure, const std::function<Result<void>()>& answer) {
  ++moves;
  for (double t = 0; procedure.running(); t += tick_s) {
    if (t > longest_s) return too_long();
    wait(tick_s);
    procedure.tick();
    const WaitsFor waits = procedure.waits_for();
    if (!answer || (waits != WaitsFor::reading && waits != WaitsFor::act)) continue;
    if (auto ok = answer(); !ok) {
      procedure.cancel();
      return ok;
    }
  }
  if (procedure.phase() == Procedure::Phase::done) return {};
  return tl::make_unexpected(procedure.error());
}

Result<void> Workshop::settle() {
  for (double t = 0; t < longest_s; t += tick_s) {
    wait(tick_s);
    const MachineStatus now = link.status();
    if (!stands(now.state)) continue;
    if (now.state == MachineState::ready || now.state == MachineState::not_homed) return {};
    return fail("stopped", now.message.empty() ? "The machine has stopped and does not say why." : now.message);
  }
  return too_long();
}

Result<void> Workshop::arm() {
  for (const std::string& point : book.machine.arming)
    if (auto ok = bench.arm(point); !ok) return ok;
  return {};
}

Result<void> Workshop::home() {
  if (auto ok = link.home(); !ok) return ok;
  if (auto ok = settle(); !ok) return ok;
  const MachineStatus now = link.status();
  if (now.all_homed()) return {};
  return fail("not_homed", now.message.empty() ? "Homing did not find every switch." : now.message);
}

double Workshop::setting(Axis axis, std::string_view what) const {
  return link.setting(axis_setting(axis, what)).value_or(0);
}

Result<void> Workshop::set_soft_limits(Axis axis, double low_mm, double high_mm) {
  const bool upper_first = low_mm > high(axis);
  for (const bool upper : {upper_first, !upper_first})
    if (auto ok = link.set_setting(axis_setting(axis, upper ? "soft_max_mm" : "soft_min_mm"), upper ? high_mm : low_mm);
        !ok)
      return ok;
  return {};
}

double Workshop::low(Axis axis) const {
  return setting(axis, "soft_min_mm");
}

double Workshop::high(Axis axis) const {
  return setting(axis, "soft_max_mm");
}

double Workshop::safe_z() const {
  const double wanted = book.machine.safe_height;
  return wanted < low(Axis::z) ? high(Axis::z) : std::min(wanted, high(Axis::z));
}

Result<void> Workshop::go(Axis axis, double place) {
  const double at = link.status().position[axis], to = std::clamp(place, low(axis), high(axis));
  if (std::fabs(to - at) < arrived_mm) return {};
  ++moves;
  if (auto ok = link.jog(axis, to - at, axis == Axis::z ? lowering_mm_min : across_mm_min); !ok) return ok;
  if (auto ok = settle(); !ok) return ok;
  if (arrived(link, link.status(), axis, to)) return {};
  return fail("stopped", "A move was ended before its place.");
}

Result<void> Workshop::go_over(double x, double y) {
  if (auto ok = go(Axis::z, std::max(safe_z(), link.status().position.z)); !ok) return ok;
  if (auto ok = go(Axis::x, x); !ok) return ok;
  return go(Axis::y, y);
}

Result<void> Workshop::down_to_gap(double gap) {
  // Coarse far away, small steps near the surface: what is seen is seen to half a millimetre.
  for (int i = 0; i < 6; ++i) {
    const double left = bench.gap_seen() - gap;
    if (left < 0.5) return {};
    if (auto ok = go(Axis::z, link.status().position.z - (left > 10 ? left - 5 : left)); !ok) return ok;
  }
  return {};
}

std::optional<Chosen> Workshop::best_for(double room) const {
  std::optional<Chosen> best;
  double least = 1e9;
  for (const Instrument& i : book.instruments) {
    const double reach = std::min(room, reach_of(i.name)), relative = i.u_mm(reach) / reach;
    if (relative >= least) continue;
    least = relative;
    best = Chosen{i, reach};
  }
  return best;
}

std::optional<Instrument> finest_for(const std::vector<Instrument>& instruments, double size) {
  std::optional<Instrument> best;
  for (const Instrument& i : instruments)
    if (reach_of(i.name) >= size && (!best || i.u_mm(size) < best->u_mm(size))) best = i;
  return best;
}

const Instrument* Workshop::instrument(std::string_view name) const {
  return book.instrument(std::string(name));
}

}  // namespace ypsi
