// What is switched on before the first move, one after the other, each looked at before the next.
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"

namespace ypsi::app {
namespace {

struct ArmingWords {
  Q_DECLARE_TR_FUNCTIONS(ArmingWords)
};

QString stops_of(const MachineSetup& machine) {
  QStringList places;
  for (const std::string& place : machine.emergency_stops) places << to_q(place);
  return places.isEmpty() ? QString() : ArmingWords::tr(" (%1)").arg(places.join(QStringLiteral(", ")));
}

/// What to look at while it is switched on.
QString seen_by(const std::string& point, const MachineSetup& machine) {
  if (point == "air") return ArmingWords::tr("Look at the gauge: it shows what the machine wants.");
  if (point == "drives")
    return ArmingWords::tr("Every emergency stop is released%1; the carriage holds when it is pushed.")
        .arg(stops_of(machine));
  if (point == "reset") return ArmingWords::tr("Its lamp goes out, and stays out.");
  return ArmingWords::tr("Look that it is there.");
}

/// What is the matter where it does not come on.
QString fault_of(const std::string& point, const MachineSetup& machine) {
  if (point == "air")
    return ArmingWords::tr("Look at the compressor, the main valve, the hose and the pressure switch.");
  if (point == "drives")
    return ArmingWords::
        tr("Look for an emergency stop that is still pressed%1, an open door, the main switch, a fuse. A drive that "
           "blinks tells its fault by how often it does.")
            .arg(stops_of(machine));
  if (point == "reset")
    return ArmingWords::tr("What stopped the machine is still there: an emergency stop%1, a limit switch, or no air.")
        .arg(stops_of(machine));
  return ArmingWords::tr("Look at its switch, its fuse and its plug.");
}

}  // namespace

void MachineSession::ask_to_arm(const std::function<void()>& then) {
  const MachineSetup& machine = editor_.book().machine;
  if (armed_ >= machine.arming.size()) return;
  const std::string point = machine.arming[armed_];
  notices_.notify({NoticeLevel::attention,
                   tr("Before the first move, %1 of %2: %3. %4")
                       .arg(armed_ + 1)
                       .arg(machine.arming.size())
                       .arg(to_q(point), seen_by(point, machine)),
                   {{tr("It is on"), [this, then] { armed_next(then); }},
                    {tr("It does not come on"), [this, point] { does_not_come_on(point); }}},
                   [this, at = armed_, here = which_machine()] { return which_machine() == here && armed_ == at; }});
}

void MachineSession::armed_next(const std::function<void()>& then) {
  const MachineSetup& machine = editor_.book().machine;
  if (armed_ >= machine.arming.size()) return;
  const std::string point = machine.arming[armed_];
  if (Bench* at = bench()) {
    // What this simulated machine has not is the owner's alone to see.
    if (const auto on = at->arm(point); !on && on.error().code != "unknown_point")
      return does_not_come_on(point, to_q(on.error().message));
  }
  ++armed_;
  if (armed_ < machine.arming.size()) return ask_to_arm(then);
  emit status_changed();
  then();
}

void MachineSession::does_not_come_on(const std::string& point, const QString& why) {
  notices_.notify({NoticeLevel::attention,
                   tr("Not on: %1, so nothing moved. %2")
                       .arg(to_q(point), why.isEmpty() ? fault_of(point, editor_.book().machine) : why),
                   {}});
}

}  // namespace ypsi::app
