#include "core/tasks/bed_spindle.h"

#include <algorithm>
#include <cmath>

#include "core/book/record.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/build.h"

namespace ypsi {
namespace {

class BedSpindleTask final : public Task {
 public:
  BedSpindleTask() : Task(bed_spindle_id, "Bed and spindle", TaskGroup::calibrate) {}
  std::vector<Upstream> depends_on() const override { return {{build_id, "shim"}}; }
  Words summary(const Entry& e) const override {
    if (e.subject == tram_subject) {
      const auto found = finding_of<TramEntry>(e);
      return {{"tram", {SaidNumber{lean_of(found).value_or(0), 2}, SaidLength{found.ridge.value_or(0), 3}}}};
    }
    if (e.subject == map_subject)
      return {{"uneven", {SaidLength{finding_of<MapEntry>(e).peak_to_valley.value_or(0), 2}}}};
    if (e.subject == edge_subject)
      return {{"mm_per_m", {SaidNumber{finding_of<EdgeEntry>(e).mm_per_m.value_or(0), 2}}}};
    if (stands_beside(e)) {
      const auto found = finding_of<ZTravelEntry>(e);
      return {{"z_travel", {SaidNumber{found.lean.value_or(0), 2}, SaidNumber{found.U_lean.value_or(0), 2}}}};
    }
    return Task::summary(e);
  }
  bool stands_beside(const Entry& e) const override {
    return e.subject == blade_subject(Axis::x) || e.subject == blade_subject(Axis::y);
  }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    BudgetShare share{.entry = newest(q.book, id(), tram_subject)};
    if (share.entry)
      if (const auto ridge = finding_of<TramEntry>(q.book.history[*share.entry]).ridge) share.off = OffBy{*ridge, 0};
    return {share};
  }
  std::vector<CertifiedLine> certificate(const Book& book) const override {
    std::vector<CertifiedLine> lines{{.code = "certified_tram",
                                      .subject = tram_subject,
                                      .unit = CertifiedUnit::mrad,
                                      .value = [](const Entry& e) { return lean_of(finding_of<TramEntry>(e)); },
                                      .U = [](const Entry& e) { return U_lean_of(finding_of<TramEntry>(e)); },
                                      .k = [](const Entry& e) { return finding_of<TramEntry>(e).k; }}};
    for (const Axis a : {Axis::x, Axis::y})
      if (newest(book, id(), blade_subject(a)))
        lines.push_back({.code = "certified_z_travel",
                         .subject = blade_subject(a),
                         .unit = CertifiedUnit::mrad,
                         .value = [](const Entry& e) { return finding_of<ZTravelEntry>(e).lean; },
                         .U = [](const Entry& e) { return finding_of<ZTravelEntry>(e).U_lean; },
                         .k = [](const Entry& e) { return finding_of<ZTravelEntry>(e).k; }});
    return lines;
  }
  std::vector<rehearsal::Step> rehearsal() const override {
    return {{.title = title(), .run = rehearsal::tram, .beside = true}};
  }
};

}  // namespace

TramEntry tram_entry(const TramResult& result) {
  constexpr double to_mrad = 1000;
  TramEntry entry{.tilt_x = result.tilt_x * to_mrad,
                  .tilt_y = result.tilt_y * to_mrad,
                  .shim_x = result.shim_x,
                  .shim_y = result.shim_y,
                  .ridge = result.ridge,
                  .hollow = result.hollow,
                  .k = result.k};
  if (result.U_tilt) {
    entry.U_tilt_x = (*result.U_tilt)[0] * to_mrad;
    entry.U_tilt_y = (*result.U_tilt)[1] * to_mrad;
  }
  return entry;
}

std::optional<double> lean_of(const TramEntry& entry) {
  if (!entry.tilt_x || !entry.tilt_y) return std::nullopt;
  return std::hypot(*entry.tilt_x, *entry.tilt_y);
}

std::optional<double> U_lean_of(const TramEntry& entry) {
  if (!entry.U_tilt_x || !entry.U_tilt_y) return std::nullopt;
  return std::max(*entry.U_tilt_x, *entry.U_tilt_y);
}

std::string blade_subject(Axis along) {
  return std::string("Z along ") + letter(along);
}

std::optional<BedSlope> bed_slope_of(const Book& book) {
  const auto mapped = newest(book, bed_spindle_id, map_subject),
             surfaced = newest(book, bed_spindle_id, surface_subject);
  if (surfaced && (!mapped || *surfaced > *mapped)) return BedSlope{};
  if (!mapped) return std::nullopt;
  const auto map = finding_of<MapEntry>(book.history[*mapped]);
  if (!map.slope_x || !map.slope_y || !map.u_slope_x || !map.u_slope_y) return std::nullopt;
  constexpr double per_m = 1e-3;
  return BedSlope{{*map.slope_x * per_m, *map.slope_y * per_m}, {*map.u_slope_x * per_m, *map.u_slope_y * per_m}};
}

const Task& bed_spindle_task() {
  static const BedSpindleTask task;
  return task;
}

}  // namespace ypsi
