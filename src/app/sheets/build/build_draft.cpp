#include "app/sheets/build/build_draft.h"

#include "core/book/build.h"

namespace ypsi::app {

void BuildDraft::change_drive(Axis axis, const std::function<void(DriveTrain&)>& edit) {
  DriveTrain drive = machine().axis(axis).drive;
  edit(drive);
  const auto steps = steps_after_drive_change(session_.book(), axis, drive);
  if (!steps) {
    session_.notify({NoticeLevel::attention, to_q(steps.error().message), {}});
    return;
  }
  change(Session::tr("Change the drive of %1").arg(QChar(letter(axis))), [&](MachineSetup& m) {
    m.axis(axis).drive = drive;
    m.axis(axis).steps_per_mm = *steps;
  });
}

}  // namespace ypsi::app
