#include "core/tasks/build_entries.h"

#include "core/book/book_json.h"
#include "core/book/changes.h"
#include "core/book/record.h"
#include "core/book/worksheets/build.h"
#include "core/book/worksheets/heads.h"
#include "core/book/worksheets/trials.h"
#include "core/procedures/machine_link.h"
#include "core/tasks/build.h"
#include "core/tasks/heads.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/trials.h"

namespace ypsi {
namespace {

/// Puts what differs between two objects under `prefix` + key into as_found and as_left.
void compare(const nlohmann::json& before, const nlohmann::json& after, const std::string& prefix, Entry& into) {
  for (const auto& [key, value] : after.items()) {
    if (key == "axes" || (before.contains(key) && before.at(key) == value)) continue;
    if (before.contains(key)) into.as_found[prefix + key] = before.at(key);
    into.as_left[prefix + key] = value;
  }
  for (const auto& [key, value] : before.items())
    if (key != "axes" && !after.contains(key)) into.as_found[prefix + key] = value;
}

}  // namespace

Result<double> steps_after_drive_change(const Book& book, Axis axis, const DriveTrain& drive) {
  const auto by_drive = steps_per_unit(drive);
  if (!by_drive) return tl::make_unexpected(by_drive.error());
  const auto before = steps_per_unit(book.machine.axis(axis).drive);
  const bool measured = newest(book, steps_per_unit_id, std::string(1, letter(axis))).has_value();
  if (!measured || !before || before->unit != by_drive->unit) return by_drive->steps_per_unit;
  return book.machine.axis(axis).steps_per_mm * by_drive->steps_per_unit / before->steps_per_unit;
}

std::vector<Entry> build_entries(const MachineSetup& before, const MachineSetup& after) {
  const nlohmann::json was = machine_json(before), is = machine_json(after);
  std::vector<Entry> entries;
  const auto add = [&](const nlohmann::json& from, const nlohmann::json& to, const std::string& prefix,
                       std::string subject) {
    Entry entry;
    entry.sheet = build_id;
    entry.subject = std::move(subject);
    compare(from, to, prefix, entry);
    if (entry.as_found != entry.as_left) entries.push_back(std::move(entry));
  };
  add(was, is, "machine.", "");
  for (const Axis a : all_axes) {
    const std::string key(1, letter(a));
    add(was.at("axes").at(key), is.at("axes").at(key), std::string("axis.") + axis_key(a) + ".", key);
  }
  return entries;
}

// Heads are measured on a sheet of their own: a build says what they are.
void keep_build(Book& book, const MachineSetup& build, const std::string& time, const std::string& words) {
  const MachineSetup before = book.machine;
  MachineSetup kept = build;
  for (const Axis a : all_axes) {
    // What other sheets have found meanwhile stays; steps per mm follow the drive alone.
    AxisSetup& axis = kept.axis(a);
    const bool measured = newest(book, steps_per_unit_id, std::string(1, letter(a))).has_value();
    if (!measured || axis.drive != before.axis(a).drive) change_steps_per_mm(book, a, axis.steps_per_mm);
    axis.steps_per_mm = book.machine.axis(a).steps_per_mm;
    axis.soft_min = book.machine.axis(a).soft_min;
    axis.soft_max = book.machine.axis(a).soft_max;
  }
  kept.safe_height = book.machine.safe_height;
  kept.setting_names = book.machine.setting_names;
  kept.vacuum = book.machine.vacuum;
  const bool same_first =
      !kept.heads.empty() && !before.heads.empty() && kept.heads.front().name == before.heads.front().name;
  for (Head& head : kept.heads) {
    if (!same_first || &head == &kept.heads.front()) head.place.reset();  // it was against another
    if (const Head* measured = before.head(head.name); measured && measured->kind == head.kind) {
      if (same_first && &head != &kept.heads.front()) head.place = measured->place;
      head.trailing_mm = measured->trailing_mm;
      head.U_trailing_mm = measured->U_trailing_mm;
      head.blade = measured->blade;
      head.focus_z_mm = measured->focus_z_mm;
      head.U_focus_mm = measured->U_focus_mm;
      head.kerf_mm = measured->kerf_mm;
      head.U_kerf_mm = measured->U_kerf_mm;
    }
  }
  book.machine = std::move(kept);
  book.worksheets[build_worksheet].reset();
  // What was read of a head that is there no more is put by, and not taken for another's.
  if (const auto& head = book.worksheets[heads_worksheet].head; !head.empty() && !book.machine.head(head))
    choose_head(book, book.machine.heads.empty() ? std::string() : book.machine.heads.front().name);
  if (const auto& head = book.worksheets[trials_worksheet].head; !head.empty() && !book.machine.head(head))
    choose_trial(book, book.worksheets[trials_worksheet].material,
                 book.machine.heads.empty() ? std::string() : book.machine.heads.front().name, 0);
  auto entries = build_entries(before, book.machine);
  if (entries.empty() || !entries.front().subject.empty()) {
    Entry looked_at;
    looked_at.sheet = build_id;
    entries.insert(entries.begin(), std::move(looked_at));
  }
  entries.front().result = {{"words", words}};
  for (auto& entry : entries) {
    entry.time = time;
    book.history.push_back(std::move(entry));
  }
}

}  // namespace ypsi
