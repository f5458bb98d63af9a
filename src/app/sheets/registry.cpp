#include "app/sheets/registry.h"

#include <QCoreApplication>

#include "app/sheets/bed_sheet.h"
#include "app/sheets/build_sheet.h"
#include "app/sheets/cut_sheet.h"
#include "app/sheets/directions_sheet.h"
#include "app/sheets/homing_sheet.h"
#include "app/sheets/inputs_sheet.h"
#include "app/sheets/later_sheet.h"
#include "app/sheets/limits_sheet.h"
#include "app/sheets/lost_motion_sheet.h"
#include "app/sheets/program_sheet.h"
#include "app/sheets/squareness_sheet.h"
#include "app/sheets/standing_sheet.h"
#include "app/sheets/steps_sheet.h"
#include "app/sheets/tool_setter_sheet.h"
#include "app/sheets/tools_sheet.h"
#include "app/sheets/touch_plate_sheet.h"
#include "app/sheets/work_zero_sheet.h"

namespace ypsi::app {
namespace {

struct SheetWords {
  Q_DECLARE_TR_FUNCTIONS(sheets)
};

template <class T>
std::function<Sheet*(Session&)> make() {
  return [](Session& s) -> Sheet* { return new T(s); };
}

SheetInfo later(const char* id, const QString& group, const QString& title, const QString& what) {
  return {id, group, title, [id, title, what](Session& s) -> Sheet* { return new LaterSheet(s, id, title, what); }};
}

}  // namespace

const std::vector<SheetInfo>& sheet_registry() {
  static const QString machine = SheetWords::tr("Machine"), calibrate = SheetWords::tr("Calibrate"),
                       references = SheetWords::tr("References"), job = SheetWords::tr("Job"),
                       record = SheetWords::tr("Record");
  static const std::vector<SheetInfo> sheets{
      {"standing", "", SheetWords::tr("Where it stands"), make<StandingSheet>()},
      {"build", machine, SheetWords::tr("Build"), make<BuildSheet>()},
      {"inputs", machine, SheetWords::tr("Inputs"), make<InputsSheet>()},
      {"directions", machine, SheetWords::tr("Directions"), make<DirectionsSheet>()},
      {"steps_per_unit", calibrate, SheetWords::tr("Steps per unit"), make<StepsSheet>()},
      {"lost_motion", calibrate, SheetWords::tr("Lost motion"), make<LostMotionSheet>()},
      {"squareness", calibrate, SheetWords::tr("Squareness"), make<SquarenessSheet>()},
      {"limits", calibrate, SheetWords::tr("Travel and limits"), make<LimitsSheet>()},
      {"homing", calibrate, SheetWords::tr("Homing repeat"), make<HomingSheet>()},
      {"bed_spindle", calibrate, SheetWords::tr("Bed and spindle"), make<BedSheet>()},
      {"touch_plate", references, SheetWords::tr("Touch plate"), make<TouchPlateSheet>()},
      {"tool_setter", references, SheetWords::tr("Tool setter"), make<ToolSetterSheet>()},
      {"tools", references, SheetWords::tr("Tools"), make<ToolsSheet>()},
      {"program", job, SheetWords::tr("Stock and program"), make<ProgramSheet>()},
      {"work_zero", job, SheetWords::tr("Work zero"), make<WorkZeroSheet>()},
      later("ready_check", job, SheetWords::tr("Ready check"),
            SheetWords::tr("Here the program will be checked against limits, stock and clamps before the start.")),
      {"cut", job, SheetWords::tr("Cut"), make<CutSheet>()},
      later("measure_cut", job, SheetWords::tr("Measure the cut"),
            SheetWords::tr("Here you will measure the first part and learn which error it shows.")),
      later("certificate", record, SheetWords::tr("Certificate"),
            SheetWords::tr("Here the record will become a page to print and keep.")),
  };
  return sheets;
}

QString sheet_title(const QString& id) {
  for (const auto& s : sheet_registry())
    if (s.id == id) return s.title;
  return id;
}

}  // namespace ypsi::app
