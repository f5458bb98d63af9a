#pragma once
// The machine book: everything the owner knows about one machine, and how it came to be known.
// Lengths mm, rates mm/min, accelerations mm/s^2. What is current or out of date is derived from `history`, never
// stored.
#include <array>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/book/heads.h"
#include "core/book/job.h"
#include "core/book/record_json.h"
#include "core/book/vacuum_bed.h"
#include "core/book/worksheets.h"
#include "core/calibration/dial.h"
#include "core/calibration/drive.h"
#include "core/geometry.h"
#include "core/metrology/instrument.h"
#include "core/units/length.h"

namespace ypsi {

/// Keys that this version does not know are kept here and written back.
using UnknownKeys = nlohmann::json;

struct AxisSetup {
  DriveTrain drive;
  double steps_per_mm = 100;   ///< what the controller uses, as far as the book knows, > 0
  bool home_at_max = false;    ///< which end has the switch, or the mark
  double home_coordinate = 0;  ///< machine coordinate at the switch
  int home_turn = 0;           ///< when it is homed, 1 first; 0: not said, see homing_order.h
  bool zero_by_hand = false;   ///< it has no switch: its owner brings it to a mark or a stop and sets it there
  CountedLength travel = 100;  ///< from switch to far stop, > 0
  std::optional<Coordinate> soft_min, soft_max;
  double max_rate = 3000;
  double acceleration = 200;
  UnknownKeys unknown;
};

struct Spindle {
  bool controlled = false;      ///< the controller sets the speed; else a hand, by the dial
  double max_rpm = 24000;       ///< > 0
  double spin_up_s = 0;         ///< from standing to full speed; 0: not said
  std::vector<DialPoint> dial;  ///< what the dial's positions give, where it has one
  // What hangs on the spindle, for what it may meet; 0: not known or not there.
  double nut_diameter = 0, nut_length = 0;  ///< of the collet nut, from the nose down
  double boot_diameter = 0;                 ///< of the dust boot
  double boot_drop = 0;                     ///< its lower edge below the nose
  bool operator==(const Spindle&) const = default;
};

/// What a controller that is set by hand calls one of its settings.
struct SettingName {
  std::string setting;  ///< ours: "axis.x.steps_per_mm"
  std::string called;   ///< as it stands at its screen
  bool operator==(const SettingName&) const = default;
};

struct MachineSetup {
  std::string name, workshop, description;
  std::string kind = "moving_gantry";
  std::array<AxisSetup, axis_count> axes;
  Spindle spindle;
  Coordinate safe_height = -2;                 ///< machine Z to lift to before moving across
  std::optional<double> rail_spacing;          ///< between the two rails that carry the beam, mm, > 0
  std::optional<double> second_switch_offset;  ///< right end of the beam against the left at homing, mm towards +Y
  bool no_probe = false, no_emergency_stop = false;  ///< the controller has no such input
  bool no_tool_words = false;                        ///< it takes no T and no M6
  std::vector<std::string> emergency_stops;          ///< where each is, where there are several on that input
  /// What is switched on before the first move, in its order: "air", "drives", "reset".
  std::vector<std::string> arming;
  VacuumBed vacuum;
  std::vector<SettingName> setting_names;
  std::string controller;   ///< id of the description by which it is talked to; empty: it needs none
  std::vector<Head> heads;  ///< the first is the one that the machine counts for; none: a spindle alone
  UnknownKeys unknown;
  AxisSetup& axis(Axis a) { return axes[index(a)]; }
  const AxisSetup& axis(Axis a) const { return axes[index(a)]; }
  const Head* head(const std::string& name) const;  ///< null where there is none
};

inline const Head* MachineSetup::head(const std::string& wanted) const {
  for (const auto& h : heads)
    if (h.name == wanted) return &h;
  return nullptr;
}

struct Tool {
  int number = 0;
  std::string name, kind;     ///< kind: flat, ball, bevel, engraver, drill, surfacing or an owner's own
  double diameter = 0;        ///< mm, >= 0; 0: not known
  double angle = 0, tip = 0;  ///< full angle in degrees and width of the tip in mm, where the kind has them
  int flutes = 0;             ///< 0: not known
  double length_out = 0;      ///< out of the collet, mm; 0: not known
  double edge_length = 0;     ///< of its cutting edges, from the tip up, mm; 0: not known
  double max_plunge = 0;      ///< straight down into the full, mm/min; 0: not said
  std::optional<double> offset, U_offset;  ///< against the reference tool, mm, longer is above zero
  std::string offset_time;                 ///< RFC 3339
  int slot = 0;                            ///< in a rack; 0: none
  std::string diameter_reason;             ///< why the diameter is not the nominal one: "first cut of ..."
  std::string head;                        ///< name of the head that it hangs on; empty: the first
  double cut_m = 0;                        ///< metres that it has cut since it was new
  UnknownKeys unknown;
};

struct TouchPlate {
  std::string name;
  double thickness = 0;           ///< mm, > 0
  double wall_x = 0, wall_y = 0;  ///< of a corner plate, mm; 0: a flat plate
  UnknownKeys unknown;
};

/// The tool setter: where it stands and what the reference tool found there.
struct ToolSetter {
  Coordinate x, y;
  int reference_tool = 0;             ///< 0: not measured yet
  std::vector<Coordinate> reference;  ///< triggers of the reference tool, machine Z
};

struct Place {
  std::string name;
  MachinePosition at;
  bool carried_over = false;  ///< its numbers were carried over a change of steps per unit and not checked since
  UnknownKeys unknown;
};

/// One line of the record. Append-only.
struct Entry {
  std::string time;     ///< RFC 3339
  std::string sheet;    ///< id of the sheet ("steps_per_unit")
  std::string subject;  ///< axis letter, tool number, or empty
  std::string instrument;
  RecordJson readings = RecordJson::from_text("[]");
  RecordJson result = RecordJson::from_text("{}");
  RecordJson as_found = RecordJson::from_text("{}"), as_left = RecordJson::from_text("{}");
  std::string note;
  std::optional<double> temperature_C{};  ///< of the workshop, where it was said
  bool told_by_hand = false;              ///< what the machine showed was typed by its owner, not read from a wire
  std::optional<std::size_t> withdraws;   ///< index of an earlier entry that this one undoes
  UnknownKeys unknown;
};

struct Book {
  MachineSetup machine;
  std::vector<Instrument> instruments;
  std::vector<Tool> tools;
  std::vector<TouchPlate> plates;
  std::optional<ToolSetter> setter;
  ToolRack rack;
  std::vector<Place> places;
  std::vector<Fence> fences;
  Job job;
  std::vector<Entry> history;
  Worksheets worksheets;
  std::optional<double> workshop_C;  ///< how warm it is there, as it was said in this sitting
  std::string length_unit = "mm";    ///< "mm" or "in": the screen's, never the file's
  UnknownKeys unknown;

  const Instrument* instrument(const std::string& name) const;
  const Tool* tool(int number) const;
  LengthUnit unit() const { return length_unit == "in" ? LengthUnit::inch : LengthUnit::millimetre; }
};

inline const Instrument* Book::instrument(const std::string& wanted) const {
  for (const auto& i : instruments)
    if (i.name == wanted) return &i;
  return nullptr;
}

inline const Tool* Book::tool(int number) const {
  for (const auto& t : tools)
    if (t.number == number) return &t;
  return nullptr;
}

}  // namespace ypsi
