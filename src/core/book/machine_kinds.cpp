#include "core/book/machine_kinds.h"

namespace ypsi {
namespace {

/// One axis of a kind: what is usual. Steps per mm follow from the drive.
AxisSetup usual_axis(double travel, const Transmission& transmission, bool home_at_max, double rate, double accel) {
  AxisSetup axis;
  axis.drive.transmission = transmission;
  axis.steps_per_mm = steps_per_unit(axis.drive).value().steps_per_unit;
  axis.travel = travel;
  axis.home_at_max = home_at_max;
  axis.max_rate = rate;
  axis.acceleration = accel;
  return axis;
}

MachineKind kind(const char* id, MachineForm form, AxisSetup x, AxisSetup y, AxisSetup z) {
  MachineSetup usual;
  usual.kind = id;
  usual.axes = {std::move(x), std::move(y), std::move(z)};
  return {id, form, std::move(usual)};
}

}  // namespace

const std::vector<MachineKind>& machine_kinds() {
  static const std::vector<MachineKind> kinds{
      kind("moving_gantry", MachineForm::moving_gantry, usual_axis(800, Belt{2, 20}, false, 6000, 400),
           usual_axis(600, Belt{2, 20}, false, 6000, 400), usual_axis(110, Screw{4}, true, 1500, 200)),
      kind("moving_bed", MachineForm::moving_bed, usual_axis(300, Screw{5}, false, 2500, 200),
           usual_axis(200, Screw{5}, false, 2500, 200), usual_axis(80, Screw{4}, true, 1200, 150)),
      kind("engraver", MachineForm::moving_bed, usual_axis(160, Screw{4}, false, 1500, 100),
           usual_axis(100, Screw{4}, false, 1500, 100), usual_axis(45, Screw{4}, true, 800, 60)),
      kind("cutting_table", MachineForm::moving_gantry, usual_axis(1600, Rack{1, 20}, false, 20000, 1500),
           usual_axis(2500, Rack{1, 20}, false, 20000, 1500), usual_axis(50, Screw{4}, true, 3000, 400)),
      kind("vertical_panel", MachineForm::vertical_panel, usual_axis(2500, Rack{1.25, 20}, false, 12000, 600),
           usual_axis(1250, Belt{3, 20}, true, 8000, 400), usual_axis(60, Screw{4}, true, 1500, 200)),
  };
  return kinds;
}

const MachineKind& machine_kind(const std::string& id) {
  for (const auto& k : machine_kinds())
    if (id == k.id) return k;
  return machine_kinds().front();
}

}  // namespace ypsi
