#include "core/tasks/touch_plate.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/bed_spindle.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace {

class TouchPlateTask final : public Task {
 public:
  TouchPlateTask() : Task(touch_plate_id, "Touch plate", TaskGroup::references) {}
  bool applies_to(const MachineSetup& machine) const override { return !machine.no_probe; }
  std::vector<Upstream> depends_on() const override { return {{steps_per_unit_id}, {bed_spindle_id}}; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<PlateEntry>(e);
    if (!found.thickness) return Task::summary(e);
    return {{as_it_is, {SaidLength{*found.thickness, 3}}}};
  }
  std::vector<CertifiedLine> certificate(const Book&) const override {
    return {{.code = "certified_plate",
             .value = [](const Entry& e) { return finding_of<PlateEntry>(e).thickness; },
             .U = [](const Entry& e) { return finding_of<PlateEntry>(e).U_thickness; },
             .an_act_says = true}};
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::touch_plate}}; }
};

}  // namespace

const Task& touch_plate_task() {
  static const TouchPlateTask task;
  return task;
}

}  // namespace ypsi
