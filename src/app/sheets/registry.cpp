#include "app/sheets/registry.h"

#include <QCoreApplication>

#include "app/sheets/build_sheet.h"
#include "app/sheets/cut_sheet.h"
#include "app/sheets/directions_sheet.h"
#include "app/sheets/inputs_sheet.h"
#include "app/sheets/later_sheet.h"
#include "app/sheets/lost_motion_sheet.h"
#include "app/sheets/program_sheet.h"
#include "app/sheets/standing_sheet.h"
#include "app/sheets/steps_sheet.h"
#include "app/sheets/work_zero_sheet.h"

namespace ypsi::app {
namespace {

QString tr(const char* text) {
  return QCoreApplication::translate("sheets", text);
}

template <class T>
std::function<Sheet*(Session&)> make() {
  return [](Session& s) -> Sheet* { return new T(s); };
}

SheetInfo later(const char* id, const QString& group, const QString& title, const QString& what) {
  return {id, group, title, [id, title, what](Session& s) -> Sheet* { return new LaterSheet(s, id, title, what); }};
}

}  // namespace

const std::vector<SheetInfo>& sheet_registry() {
  static const QString machine = tr("Machine"), calibrate = tr("Calibrate"), references = tr("References"),
                       job = tr("Job"), record = tr("Record");
  static const std::vector<SheetInfo> sheets{
      {"standing", "", tr("Where it stands"), make<StandingSheet>()},
      {"build", machine, tr("Build"), make<BuildSheet>()},
      {"inputs", machine, tr("Inputs"), make<InputsSheet>()},
      {"directions", machine, tr("Directions"), make<DirectionsSheet>()},
      {"steps_per_unit", calibrate, tr("Steps per unit"), make<StepsSheet>()},
      {"lost_motion", calibrate, tr("Lost motion"), make<LostMotionSheet>()},
      later("squareness", calibrate, tr("Squareness"),
            tr("Here you will measure diagonals and learn which end of the beam to move.")),
      later("limits", calibrate, tr("Travel and limits"),
            tr("Here you will measure the travel and set soft limits that leave room to stop.")),
      later("homing", calibrate, tr("Homing repeat"),
            tr("Here you will learn how well homing finds the same place again.")),
      later("bed_spindle", calibrate, tr("Bed and spindle"),
            tr("Here you will square the spindle to the bed and plan its surfacing.")),
      later("touch_plate", references, tr("Touch plate"), tr("Here you will teach the plate's thickness and walls.")),
      later("tool_setter", references, tr("Tool setter"), tr("Here you will teach the setter's place and height.")),
      later("tools", references, tr("Tools"), tr("Here you will keep your tools with diameters, lengths and offsets.")),
      {"program", job, tr("Stock and program"), make<ProgramSheet>()},
      {"work_zero", job, tr("Work zero"), make<WorkZeroSheet>()},
      later("ready_check", job, tr("Ready check"),
            tr("Here the program will be checked against limits, stock and clamps before the start.")),
      {"cut", job, tr("Cut"), make<CutSheet>()},
      later("measure_cut", job, tr("Measure the cut"),
            tr("Here you will measure the first part and learn which error it shows.")),
      later("certificate", record, tr("Certificate"), tr("Here the record will become a page to print and keep.")),
  };
  return sheets;
}

QString sheet_title(const QString& id) {
  for (const auto& s : sheet_registry())
    if (s.id == id) return s.title;
  return id;
}

}  // namespace ypsi::app
