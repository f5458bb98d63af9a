#include "core/book/book_json.h"

#include <fmt/format.h>
#include <simdjson.h>

#include <algorithm>
#include <cmath>

#include "core/book/job_json.h"
#include "core/book/taker.h"
#include "core/calibration/positioning_json.h"
#include "core/calibration/scale_json.h"

namespace ypsi {
namespace {

constexpr auto replace =
    nlohmann::json::error_handler_t::replace;  // text that is not UTF-8 is shown as such, not refused

using nlohmann::json;

Transmission read_transmission(Taker in) {
  std::string kind;
  in.take("kind", kind);
  if (kind == "belt") {
    Belt belt;
    in.take_positive("pitch_mm", belt.pitch_mm);
    in.take_positive("teeth", belt.teeth);
    return belt;
  }
  if (kind == "rack") {
    Rack rack;
    in.take_positive("module_mm", rack.module_mm);
    in.take_positive("teeth", rack.teeth);
    return rack;
  }
  if (kind == "rotary") return Rotary{};
  Screw screw{4};
  in.take_positive("lead_mm", screw.lead_mm);
  return screw;
}

json write_transmission(const Transmission& transmission) {
  if (const auto* s = std::get_if<Screw>(&transmission)) return {{"kind", "screw"}, {"lead_mm", s->lead_mm}};
  if (const auto* b = std::get_if<Belt>(&transmission))
    return {{"kind", "belt"}, {"pitch_mm", b->pitch_mm}, {"teeth", b->teeth}};
  if (const auto* r = std::get_if<Rack>(&transmission))
    return {{"kind", "rack"}, {"module_mm", r->module_mm}, {"teeth", r->teeth}};
  return {{"kind", "rotary"}};
}

DriveTrain read_drive(Taker in) {
  DriveTrain drive;
  in.take_positive("full_steps_per_rev", drive.full_steps_per_rev);
  in.take_positive("microsteps", drive.microsteps);
  in.take_positive("gear_ratio", drive.gear_ratio);
  drive.transmission = read_transmission(Taker(in.take_object("transmission"), in.where("transmission")));
  return drive;
}

json write_drive(const DriveTrain& drive) {
  return {{"full_steps_per_rev", drive.full_steps_per_rev},
          {"microsteps", drive.microsteps},
          {"gear_ratio", drive.gear_ratio},
          {"transmission", write_transmission(drive.transmission)}};
}

AxisSetup read_axis(Taker in) {
  AxisSetup axis;
  axis.drive = read_drive(Taker(in.take_object("drive"), in.where("drive")));
  in.take_positive("steps_per_mm", axis.steps_per_mm);
  std::string end = "min";
  in.take("home_end", end);
  axis.home_at_max = end == "max";
  in.take("home_coordinate_mm", axis.home_coordinate);
  in.take_positive("travel_mm", axis.travel);
  in.take("soft_min_mm", axis.soft_min);
  in.take("soft_max_mm", axis.soft_max);
  in.take_positive("max_rate_mm_min", axis.max_rate);
  in.take_positive("accel_mm_s2", axis.acceleration);
  axis.unknown = in.unknown();
  return axis;
}

json write_axis(const AxisSetup& axis) {
  json out = base(axis.unknown);
  out["drive"] = write_drive(axis.drive);
  out["steps_per_mm"] = axis.steps_per_mm;
  out["home_end"] = axis.home_at_max ? "max" : "min";
  out["home_coordinate_mm"] = axis.home_coordinate;
  out["travel_mm"] = axis.travel;
  put(out, "soft_min_mm", axis.soft_min);
  put(out, "soft_max_mm", axis.soft_max);
  out["max_rate_mm_min"] = axis.max_rate;
  out["accel_mm_s2"] = axis.acceleration;
  return out;
}

/// Nut and boot under their names in the file.
std::array<std::pair<const char*, double*>, 4> hanging_on(Spindle& s) {
  return {{{"nut_diameter_mm", &s.nut_diameter},
           {"nut_length_mm", &s.nut_length},
           {"boot_diameter_mm", &s.boot_diameter},
           {"boot_drop_mm", &s.boot_drop}}};
}

Spindle read_spindle(Taker in) {
  Spindle spindle;
  in.take("controlled", spindle.controlled);
  in.take_positive("max_rpm", spindle.max_rpm);
  take_list(in, "dial", spindle.dial, [](Taker point) {
    DialPoint p;
    point.take("position", p.position);
    point.take_positive("rpm", p.rpm);
    return p;
  });
  for (const auto& [key, value] : hanging_on(spindle)) {
    in.take(key, *value);
    if (!(*value >= 0))
      refuse("out_of_range", "The book is damaged: “" + in.where(key) + "” must not be below zero.", in.where(key));
  }
  return spindle;
}

json write_spindle(Spindle spindle) {
  json dial = json::array();
  for (const auto& p : spindle.dial) dial.push_back({{"position", p.position}, {"rpm", p.rpm}});
  json out{{"controlled", spindle.controlled}, {"max_rpm", spindle.max_rpm}, {"dial", std::move(dial)}};
  for (const auto& [key, value] : hanging_on(spindle))
    if (*value > 0) out[key] = *value;
  return out;
}

MachineSetup read_machine(Taker in) {
  MachineSetup machine;
  in.take("name", machine.name);
  in.take("workshop", machine.workshop);
  in.take("description", machine.description);
  in.take("kind", machine.kind);
  in.take("safe_height_mm", machine.safe_height);
  in.take("rail_spacing_mm", machine.rail_spacing);
  if (machine.rail_spacing && !(*machine.rail_spacing > 0)) machine.rail_spacing.reset();
  in.take("second_switch_offset_mm", machine.second_switch_offset);
  machine.spindle = read_spindle(Taker(in.take_object("spindle"), in.where("spindle")));
  Taker axes(in.take_object("axes"), in.where("axes"));
  for (const Axis a : all_axes) {
    const std::string key(1, letter(a));
    machine.axis(a) = read_axis(Taker(axes.take_object(key.c_str()), axes.where(key)));
  }
  machine.unknown = in.unknown();
  return machine;
}

Instrument read_instrument(Taker in) {
  Instrument instrument;
  in.take("name", instrument.name);
  in.take_positive("resolution_mm", instrument.resolution_mm);
  in.take("ends", instrument.ends);
  in.take("s_mm", instrument.s_mm);
  in.take("u_cal_mm", instrument.u_cal_mm);
  in.take("u_rel", instrument.u_rel);
  return instrument;
}

json write_instrument(const Instrument& instrument) {
  json out{{"name", instrument.name},
           {"resolution_mm", instrument.resolution_mm},
           {"ends", instrument.ends},
           {"u_cal_mm", instrument.u_cal_mm},
           {"u_rel", instrument.u_rel}};
  put(out, "s_mm", instrument.s_mm);
  return out;
}

Tool read_tool(Taker in) {
  Tool tool;
  in.take("number", tool.number);
  in.take("name", tool.name);
  in.take("kind", tool.kind);
  in.take("diameter_mm", tool.diameter);
  in.take("angle_deg", tool.angle);
  in.take("tip_mm", tool.tip);
  in.take("flutes", tool.flutes);
  in.take("length_out_mm", tool.length_out);
  in.take("offset_mm", tool.offset);
  in.take("U_offset_mm", tool.U_offset);
  in.take("offset_time", tool.offset_time);
  in.take("slot", tool.slot);
  in.take("diameter_reason", tool.diameter_reason);
  tool.unknown = in.unknown();
  return tool;
}

json write_tool(const Tool& tool) {
  json out = base(tool.unknown);
  out.update({{"number", tool.number}, {"name", tool.name}, {"kind", tool.kind}, {"diameter_mm", tool.diameter}});
  const auto put_known = [&](const char* key, double value) {
    if (value != 0) out[key] = value;
  };
  put_known("angle_deg", tool.angle);
  put_known("tip_mm", tool.tip);
  put_known("length_out_mm", tool.length_out);
  if (tool.flutes != 0) out["flutes"] = tool.flutes;
  if (tool.slot != 0) out["slot"] = tool.slot;
  if (!tool.diameter_reason.empty()) out["diameter_reason"] = tool.diameter_reason;
  put(out, "offset_mm", tool.offset);
  put(out, "U_offset_mm", tool.U_offset);
  if (!tool.offset_time.empty()) out["offset_time"] = tool.offset_time;
  return out;
}

TouchPlate read_plate(Taker in) {
  TouchPlate plate;
  in.take("name", plate.name);
  in.take("thickness_mm", plate.thickness);
  in.take("wall_x_mm", plate.wall_x);
  in.take("wall_y_mm", plate.wall_y);
  plate.unknown = in.unknown();
  return plate;
}

json write_plate(const TouchPlate& plate) {
  json out = base(plate.unknown);
  out.update({{"name", plate.name}, {"thickness_mm", plate.thickness}});
  if (plate.wall_x > 0) out["wall_x_mm"] = plate.wall_x;
  if (plate.wall_y > 0) out["wall_y_mm"] = plate.wall_y;
  return out;
}

ToolSetter read_setter(Taker in) {
  ToolSetter setter;
  in.take("x_mm", setter.x);
  in.take("y_mm", setter.y);
  in.take("reference_tool", setter.reference_tool);
  in.take("reference_trigger_mm", setter.reference);
  return setter;
}

json write_setter(const ToolSetter& setter) {
  return {{"x_mm", setter.x},
          {"y_mm", setter.y},
          {"reference_tool", setter.reference_tool},
          {"reference_trigger_mm", setter.reference}};
}

Place read_place(Taker in) {
  Place place;
  in.take("name", place.name);
  std::array<double, 3> at{};
  in.take("machine_mm", at);
  place.at = {at[0], at[1], at[2]};
  in.take("carried_over", place.carried_over);
  place.unknown = in.unknown();
  return place;
}

json write_place(const Place& place) {
  json out = base(place.unknown);
  out["name"] = place.name;
  out["machine_mm"] = {place.at.x, place.at.y, place.at.z};
  if (place.carried_over) out["carried_over"] = true;
  return out;
}

namespace ondemand = simdjson::ondemand;

[[noreturn]] void refuse_entry(std::size_t index, std::string_view key) {
  const std::string where = fmt::format("history[{}].{}", index, key);
  refuse("wrong_type", "The book is damaged: “" + where + "” holds something of another kind.", where);
}

/// As it stands in the file, on one line. The whole text is known to be valid JSON.
std::string raw(ondemand::value value) {
  std::string text(std::string_view(simdjson::to_json_string(value)));
  if (text.find('\n') != std::string::npos) text = json::parse(text).dump(-1, ' ', false, replace);
  while (!text.empty() && std::string_view(" \t\r").find(text.back()) != std::string_view::npos) text.pop_back();
  return text;
}

Entry read_entry(ondemand::value in, std::size_t index) {
  ondemand::object fields;
  if (in.get_object().get(fields) != simdjson::SUCCESS)
    refuse("wrong_type", fmt::format("The book is damaged: an object is expected at “history[{}]”.", index),
           fmt::format("history[{}]", index));
  static constexpr std::pair<std::string_view, std::string Entry::*> texts[] = {{"time", &Entry::time},
                                                                                {"sheet", &Entry::sheet},
                                                                                {"subject", &Entry::subject},
                                                                                {"instrument", &Entry::instrument},
                                                                                {"note", &Entry::note}};
  static constexpr std::pair<std::string_view, RecordJson Entry::*> values[] = {{"readings", &Entry::readings},
                                                                                {"result", &Entry::result},
                                                                                {"as_found", &Entry::as_found},
                                                                                {"as_left", &Entry::as_left}};
  Entry entry;
  entry.unknown = json::object();
  for (auto field : fields) {
    const std::string_view key = field.unescaped_key();
    ondemand::value value = field.value();
    const auto is_key = [&](const auto& known) { return known.first == key; };
    if (const auto* text = std::find_if(std::begin(texts), std::end(texts), is_key); text != std::end(texts)) {
      std::string_view words;
      if (!value.is_null() && value.get_string().get(words) != simdjson::SUCCESS) refuse_entry(index, key);
      entry.*(text->second) = words;
    } else if (const auto* part = std::find_if(std::begin(values), std::end(values), is_key);
               part != std::end(values)) {
      if (!value.is_null()) entry.*(part->second) = RecordJson::from_text(raw(value));
    } else if (key == "withdraws") {
      if (double w = 0; value.get_double().get(w) == simdjson::SUCCESS && w >= 0)
        entry.withdraws = static_cast<std::size_t>(w);
    } else {
      const std::string name(key);
      entry.unknown[name] = json::parse(raw(value));
    }
  }
  return entry;
}

/// One entry on a line of its own.
void write_entry(const Entry& entry, std::string& into) {
  const auto put = [&into](const char* key, const std::string& value) {
    into += into.back() == '{' ? "\"" : ", \"";
    into += key;
    into += "\": ";
    into += value;
  };
  const auto quoted = [](const std::string& text) {
    const auto plain = [](unsigned char c) { return c >= 0x20 && c < 0x7f && c != '"' && c != '\\'; };
    if (std::all_of(text.begin(), text.end(), plain)) return '"' + text + '"';
    return json(text).dump(-1, ' ', false, replace);
  };
  into += "{";
  put("time", quoted(entry.time));
  put("sheet", quoted(entry.sheet));
  put("subject", quoted(entry.subject));
  put("instrument", quoted(entry.instrument));
  put("readings", entry.readings.text());
  put("result", entry.result.text());
  put("as_found", entry.as_found.text());
  put("as_left", entry.as_left.text());
  put("note", quoted(entry.note));
  if (entry.withdraws) put("withdraws", std::to_string(*entry.withdraws));
  if (entry.unknown.is_object())
    for (const auto& [key, value] : entry.unknown.items())
      put(quoted(key).substr(1, quoted(key).size() - 2).c_str(), value.dump(-1, ' ', false, replace));
  into += "}";
}

ScaleReading read_scale_reading(Taker in) {
  ScaleReading reading;
  in.take("commanded_mm", reading.commanded);
  in.take("measured_mm", reading.measured);
  std::string approach = "same";
  in.take("approach", approach);
  reading.reversed = approach == "reversed";
  return reading;
}

PositioningReadings read_positioning(Taker in) {
  PositioningReadings readings;
  in.take("targets_mm", readings.targets);
  take_list(in, "runs", readings.runs, [](Taker from) {
    PositioningRun run;
    std::string way = "+";
    from.take("direction", way);
    run.plus = way == "+";
    from.take("deviation_mm", run.deviations);
    return run;
  });
  return readings;
}

ScaleWorksheet read_worksheet(Taker in) {
  ScaleWorksheet sheet;
  in.take("instrument", sheet.instrument);
  in.take("tolerance_mm_per_m", sheet.tolerance_per_m);
  take_list(in, "readings", sheet.readings, read_scale_reading);
  return sheet;
}

constexpr const char* edge_names[] = {"center", "outer", "inner"};

SquareWorksheet read_square(Taker in) {
  SquareWorksheet sheet;
  in.take("instrument", sheet.instrument);
  in.take("tolerance_mm_per_m", sheet.tolerance_per_m);
  take_list(in, "points", sheet.points, [](Taker from) {
    MarkedPoint point;
    from.take("name", point.name);
    from.take("x_mm", point.commanded.x);
    from.take("y_mm", point.commanded.y);
    return point;
  });
  take_list(in, "distances", sheet.distances, [&](Taker from) {
    MarkDistance d;
    from.take("from", d.from);
    from.take("to", d.to);
    from.take("measured_mm", d.measured);
    from.take("hole_diameter_mm", d.hole_diameter);
    std::string edge;
    from.take("edge", edge);
    for (int i = 0; i < 3; ++i)
      if (edge == edge_names[i]) d.edge = static_cast<HoleEdge>(i);
    if (d.from >= sheet.points.size() || d.to >= sheet.points.size())
      refuse("out_of_range", "The book is damaged: “" + from.where("to") + "” names a mark that is not there.",
             from.where("to"));
    return d;
  });
  return sheet;
}

json write_square(const SquareWorksheet& sheet) {
  json out{{"instrument", sheet.instrument}, {"points", json::array()}, {"distances", json::array()}};
  put(out, "tolerance_mm_per_m", sheet.tolerance_per_m);
  for (const auto& p : sheet.points)
    out["points"].push_back({{"name", p.name}, {"x_mm", p.commanded.x}, {"y_mm", p.commanded.y}});
  for (const auto& d : sheet.distances)
    out["distances"].push_back({{"from", d.from},
                                {"to", d.to},
                                {"measured_mm", d.measured},
                                {"edge", edge_names[static_cast<int>(d.edge)]},
                                {"hole_diameter_mm", d.hole_diameter}});
  return out;
}

TurnAt read_turn(Taker in) {
  TurnAt turn;
  in.take("place_mm", turn.place);
  in.take("arriving_plus_mm", turn.reading.arriving_plus);
  in.take("arriving_minus_mm", turn.reading.arriving_minus);
  return turn;
}

json write_turn(const TurnAt& turn) {
  return {{"place_mm", turn.place},
          {"arriving_plus_mm", turn.reading.arriving_plus},
          {"arriving_minus_mm", turn.reading.arriving_minus}};
}

json write_worksheet(const ScaleWorksheet& sheet) {
  json out{{"instrument", sheet.instrument}, {"readings", readings_json(sheet.readings)}};
  put(out, "tolerance_mm_per_m", sheet.tolerance_per_m);
  return out;
}

/// What is the same for each axis of one sheet, under the axis's letter.
template <class Read>
void for_each_axis(Taker& worksheets, const char* sheet, Read read) {
  Taker axes(worksheets.take_object(sheet), worksheets.where(sheet));
  for (const Axis a : all_axes) read(axes, std::string(1, letter(a)), a);
}

Book read_document(Taker in) {
  Book book;
  book.machine = read_machine(Taker(in.take_object("machine"), "machine"));
  take_list(in, "instruments", book.instruments, read_instrument);
  take_list(in, "tools", book.tools, read_tool);
  take_list(in, "plates", book.plates, read_plate);
  in.take("rack", book.rack);
  if (json setter = in.take_object("setter"); !setter.empty())
    book.setter = read_setter(Taker(std::move(setter), "setter"));
  take_list(in, "places", book.places, read_place);
  book.job = read_job(Taker(in.take_object("job"), "job"));
  Taker worksheets(in.take_object("worksheets"), "worksheets");
  for_each_axis(worksheets, "steps_per_unit", [&](Taker& from, const std::string& key, Axis a) {
    book.scale_worksheets[index(a)] = read_worksheet(Taker(from.take_object(key.c_str()), from.where(key)));
  });
  for_each_axis(worksheets, "lost_motion", [&](Taker& from, const std::string& key, Axis a) {
    take_list(from, key.c_str(), book.lost_motion_worksheets[index(a)], read_turn);
  });
  for_each_axis(worksheets, "positioning", [&](Taker& from, const std::string& key, Axis a) {
    book.positioning_worksheets[index(a)] = read_positioning(Taker(from.take_object(key.c_str()), from.where(key)));
  });
  for_each_axis(worksheets, "limits", [&](Taker& from, const std::string& key, Axis a) {
    from.take(key.c_str(), book.limits_worksheets[index(a)]);
  });
  worksheets.take("reversal", book.reversal_worksheet);
  worksheets.take("homing", book.homing_worksheet);
  worksheets.take("bed_spindle", book.bed_worksheet);
  worksheets.take("measure_cut", book.cut_worksheet);
  for (std::size_t i = 0; i < book.cut_worksheet.sizes.size(); ++i)
    if (const CutSize& s = book.cut_worksheet.sizes[i]; !(s.nominal_mm > 0) || (s.measured_mm && !(*s.measured_mm > 0)))
      refuse("out_of_range",
             fmt::format("The book is damaged: “worksheets.measure_cut.sizes[{}]” must be above zero.", i),
             fmt::format("worksheets.measure_cut.sizes[{}]", i));
  if (const json square = worksheets.take_object("squareness"); !square.empty())
    book.square_worksheet = read_square(Taker(square, "worksheets.squareness"));
  if (const json build = worksheets.take_object("build"); !build.empty())
    book.build_worksheet = read_machine(Taker(build, "worksheets.build"));
  in.take("length_unit", book.length_unit);
  book.unknown = in.unknown();
  book.unknown.erase("format");
  book.unknown.erase("version");
  return book;
}

}  // namespace

json machine_json(const MachineSetup& machine) {
  json out = base(machine.unknown);
  out["name"] = machine.name;
  out["workshop"] = machine.workshop;
  out["description"] = machine.description;
  out["kind"] = machine.kind;
  out["safe_height_mm"] = machine.safe_height;
  put(out, "rail_spacing_mm", machine.rail_spacing);
  put(out, "second_switch_offset_mm", machine.second_switch_offset);
  out["spindle"] = write_spindle(machine.spindle);
  for (const Axis a : all_axes) out["axes"][std::string(1, letter(a))] = write_axis(machine.axis(a));
  return out;
}

Result<ReadBook> read_book(std::string_view text) {
  const auto damaged = [&] {
    return fail("not_json",
                text.empty() ? "The book's file is empty; open the previous save instead."
                             : "The book's file is cut off or is not a book at all; open the previous save instead.");
  };
  // The record is most of a book: it is read as text, entry by entry, once the whole is known to be valid.
  const simdjson::padded_string bytes(text);
  if (simdjson::dom::parser whole; whole.parse(bytes).error() != simdjson::SUCCESS) return damaged();
  ReadBook result;
  try {
    ondemand::parser parser;
    ondemand::document document = parser.iterate(bytes);
    ondemand::object fields;
    json rest = json::object();
    std::vector<Entry> history;
    if (document.get_object().get(fields) == simdjson::SUCCESS)
      for (auto field : fields) {
        const std::string key(std::string_view(field.unescaped_key()));
        ondemand::value value = field.value();
        if (key != "history") {
          rest[key] = json::parse(std::string_view(simdjson::to_json_string(value)));
          continue;
        }
        ondemand::array entries;
        if (value.is_null()) continue;
        history.reserve(text.size() / 400);  // about one entry
        if (value.get_array().get(entries) != simdjson::SUCCESS)
          refuse("wrong_type", "The book is damaged: a list is expected at “history”.", "history");
        for (auto entry : entries) history.push_back(read_entry(entry.value(), history.size()));
      }
    if (rest.value("format", json()) != "ypsilograph-book")
      refuse("not_a_book", "This file is not a machine book; choose a file whose name ends in .ypsi.", "format");
    const json version = rest.value("version", json());
    if (!version.is_number_integer() || version.get<std::int64_t>() < 1)
      refuse("wrong_type", "The book does not say its version; open the previous save instead.", "version");
    result.version = static_cast<int>(std::min<std::int64_t>(version.get<std::int64_t>(), 1'000'000));
    result.book = read_document(Taker(std::move(rest), ""));
    result.book.history = std::move(history);
  } catch (const Refused& refused) {
    return tl::make_unexpected(refused.error);
  }
  return result;
}

std::string write_book(const Book& book) {
  json out = base(book.unknown);
  out["format"] = "ypsilograph-book";
  out["version"] = book_version;
  out["machine"] = machine_json(book.machine);
  out["instruments"] = json::array();
  for (const auto& i : book.instruments) out["instruments"].push_back(write_instrument(i));
  out["tools"] = json::array();
  for (const auto& t : book.tools) out["tools"].push_back(write_tool(t));
  out["plates"] = json::array();
  for (const auto& p : book.plates) out["plates"].push_back(write_plate(p));
  if (book.setter) out["setter"] = write_setter(*book.setter);
  if (book.rack.slot_count > 0) out["rack"] = book.rack;
  out["places"] = json::array();
  for (const auto& p : book.places) out["places"].push_back(write_place(p));
  out["job"] = write_job(book.job);
  out["history"] = json::array();
  for (const Axis a : all_axes)
    out["worksheets"]["steps_per_unit"][std::string(1, letter(a))] = write_worksheet(book.scale_worksheets[index(a)]);
  for (const Axis a : all_axes)
    if (const auto& p = book.positioning_worksheets[index(a)]; !p.targets.empty())
      out["worksheets"]["positioning"][std::string(1, letter(a))] = positioning_json(p);
  if (book.square_worksheet) out["worksheets"]["squareness"] = write_square(*book.square_worksheet);
  for (const Axis a : all_axes)
    if (const auto& l = book.limits_worksheets[index(a)]; l != LimitsWorksheet{})
      out["worksheets"]["limits"][std::string(1, letter(a))] = l;
  if (book.reversal_worksheet != ReversalWorksheet{}) out["worksheets"]["reversal"] = book.reversal_worksheet;
  if (book.homing_worksheet != HomingWorksheet{}) out["worksheets"]["homing"] = book.homing_worksheet;
  if (book.cut_worksheet != CutWorksheet{}) out["worksheets"]["measure_cut"] = book.cut_worksheet;
  if (book.bed_worksheet != BedWorksheet{}) out["worksheets"]["bed_spindle"] = book.bed_worksheet;
  if (book.build_worksheet) out["worksheets"]["build"] = machine_json(*book.build_worksheet);
  for (const Axis a : all_axes) {
    json& turns = out["worksheets"]["lost_motion"][std::string(1, letter(a))] = json::array();
    for (const auto& t : book.lost_motion_worksheets[index(a)]) turns.push_back(write_turn(t));
  }
  out["length_unit"] = book.length_unit;
  std::string text = out.dump(1, ' ', false, replace) + "\n";
  // A string has no line end of its own, so this is the top level's.
  constexpr std::string_view place = "\n \"history\": []";
  std::string history;
  for (const auto& entry : book.history) {
    history += history.empty() ? "\n  " : ",\n  ";
    write_entry(entry, history);
  }
  if (const auto at = text.find(place); at != std::string::npos && !history.empty())
    text.insert(at + place.size() - 1, history + "\n ");
  return text;
}

}  // namespace ypsi
