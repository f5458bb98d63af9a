#include "app/sheets/task_views.h"

#include "app/sheets/bed_sheet.h"
#include "app/sheets/build_sheet.h"
#include "app/sheets/certificate_sheet.h"
#include "app/sheets/cut_sheet.h"
#include "app/sheets/directions_sheet.h"
#include "app/sheets/fences_sheet.h"
#include "app/sheets/heads_sheet.h"
#include "app/sheets/homing_sheet.h"
#include "app/sheets/inputs_sheet.h"
#include "app/sheets/limits_sheet.h"
#include "app/sheets/lost_motion_sheet.h"
#include "app/sheets/measure_cut_sheet.h"
#include "app/sheets/program_sheet.h"
#include "app/sheets/ready_sheet.h"
#include "app/sheets/squareness_sheet.h"
#include "app/sheets/standing_sheet.h"
#include "app/sheets/steps_sheet.h"
#include "app/sheets/tool_setter_sheet.h"
#include "app/sheets/tools_sheet.h"
#include "app/sheets/touch_plate_sheet.h"
#include "app/sheets/trials_sheet.h"
#include "app/sheets/work_zero_sheet.h"
#include "core/tasks/bed_spindle.h"
#include "core/tasks/build.h"
#include "core/tasks/certificate_record.h"
#include "core/tasks/cut.h"
#include "core/tasks/directions.h"
#include "core/tasks/fences.h"
#include "core/tasks/heads.h"
#include "core/tasks/homing.h"
#include "core/tasks/inputs.h"
#include "core/tasks/limits.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/measure_cut.h"
#include "core/tasks/overview.h"
#include "core/tasks/ready_check.h"
#include "core/tasks/squareness.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/stock_program.h"
#include "core/tasks/tool_setter.h"
#include "core/tasks/tools.h"
#include "core/tasks/touch_plate.h"
#include "core/tasks/trials.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {
namespace {

template <class T>
TaskView view(const Task& task) {
  return {&task, [](Session& s) -> Sheet* { return new T(s); }};
}

}  // namespace

const TaskViews& task_views() {
  static const TaskViews views{
      view<StandingSheet>(overview_task()),
      view<BuildSheet>(build_task()),
      view<InputsSheet>(inputs_task()),
      view<DirectionsSheet>(directions_task()),
      view<StepsSheet>(steps_per_unit_task()),
      view<LostMotionSheet>(lost_motion_task()),
      view<SquarenessSheet>(squareness_task()),
      view<LimitsSheet>(limits_task()),
      view<HomingSheet>(homing_task()),
      view<BedSheet>(bed_spindle_task()),
      view<TouchPlateSheet>(touch_plate_task()),
      view<ToolSetterSheet>(tool_setter_task()),
      view<ToolsSheet>(tools_task()),
      view<HeadsSheet>(heads_task()),
      view<TrialsSheet>(trials_task()),
      view<FencesSheet>(fences_task()),
      view<ProgramSheet>(stock_program_task()),
      view<WorkZeroSheet>(work_zero_task()),
      view<ReadySheet>(ready_check_task()),
      view<CutSheet>(cut_task()),
      view<MeasureCutSheet>(measure_cut_task()),
      view<CertificateSheet>(certificate_record_task()),
  };
  return views;
}

}  // namespace ypsi::app
