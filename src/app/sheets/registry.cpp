#include "app/sheets/registry.h"

#include <QCoreApplication>

#include "app/sheets/bed_sheet.h"
#include "app/sheets/build_sheet.h"
#include "app/sheets/certificate_sheet.h"
#include "app/sheets/cut_sheet.h"
#include "app/sheets/directions_sheet.h"
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
      {"ready_check", job, SheetWords::tr("Ready check"), make<ReadySheet>()},
      {"cut", job, SheetWords::tr("Cut"), make<CutSheet>()},
      {"measure_cut", job, SheetWords::tr("Measure the cut"), make<MeasureCutSheet>()},
      {"certificate", record, SheetWords::tr("Certificate"), make<CertificateSheet>()},
  };
  return sheets;
}

QString sheet_title(const QString& id) {
  for (const auto& s : sheet_registry())
    if (s.id == id) return s.title;
  return id;
}

}  // namespace ypsi::app
