#include "app/sheets/build/build_draft.h"

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/to_q.h"
#include "core/tasks/build_entries.h"

namespace ypsi::app {

void BuildDraft::change_drive(Axis axis, const std::function<void(DriveTrain&)>& edit) {
  DriveTrain drive = machine().axis(axis).drive;
  edit(drive);
  const auto steps = steps_after_drive_change(session_.editor().book(), axis, drive);
  if (!steps) {
    session_.notices().notify({NoticeLevel::attention, to_q(steps.error().message), {}});
    return;
  }
  change(BuildPage::tr("Change the drive of %1").arg(QChar(letter(axis))), [&](MachineSetup& m) {
    m.axis(axis).drive = drive;
    m.axis(axis).steps_per_mm = *steps;
  });
}

}  // namespace ypsi::app
