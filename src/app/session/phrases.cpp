#include "app/session/phrases.h"

#include <QCoreApplication>
#include <map>

#include "app/to_q.h"
#include "core/tasks/task.h"
#include "core/units/length.h"

namespace ypsi::app {
namespace {

/// The phrase of each code; %1 and so on are its arguments.
const char* phrase_of(std::string_view code) {
  static const std::map<std::string_view, const char*> phrases{
      {"as_it_is", "%1"},
      {"of_subject", "%1 "},
      {"axis_figure", "%1 %2"},
      {"next_axis_figure", "  %1 %2"},
      {"axis_length", "%1 %2"},
      {"next_axis_length", "  %1 %2"},
      {"steps_left", QT_TRANSLATE_NOOP("record", "%1 left as it was, ±%2")},
      {"steps_changed", QT_TRANSLATE_NOOP("record", "%1 → %2 ±%3")},
      {"lean", QT_TRANSLATE_NOOP("record", "%1 mm per m, ±%2")},
      {"repeats", QT_TRANSLATE_NOOP("record", "s %1, %2 trials")},
      {"from_to", QT_TRANSLATE_NOOP("record", "%1 to %2")},
      {"setter", QT_TRANSLATE_NOOP("record", "Z %1, s %2")},
      {"tram", QT_TRANSLATE_NOOP("record", "%1 mrad, ridge %2")},
      {"z_travel", QT_TRANSLATE_NOOP("record", "%1 ±%2 mrad")},
      {"uneven", QT_TRANSLATE_NOOP("record", "%1 uneven")},
      {"mm_per_m", QT_TRANSLATE_NOOP("record", "%1 mm per m")},
      {"turned", QT_TRANSLATE_NOOP("record", "%1 ±%2 mrad")},
      {"off_by", QT_TRANSLATE_NOOP("record", "off by %1 at most")},
      {"cuts", QT_TRANSLATE_NOOP("record", ", cuts %1 ±%2")},
      {"checked", QT_TRANSLATE_NOOP("record", "%1 stop, %2 warn")},
      {"in_spite", QT_TRANSLATE_NOOP("record", ", gone on in spite")},
      {"cut_finished", QT_TRANSLATE_NOOP("record", "cut to its end, %1 lines")},
      {"cut_abandoned", QT_TRANSLATE_NOOP("record", "abandoned at line %1 of %2")},
      {"cut_stopped", QT_TRANSLATE_NOOP("record", "stopped at line %1 of %2")},
      {"certified_steps", QT_TRANSLATE_NOOP("record", "Steps per mm, %1")},
      {"certified_lost_motion", QT_TRANSLATE_NOOP("record", "Lost motion, %1")},
      {"certified_lean", QT_TRANSLATE_NOOP("record", "Squareness, +Y towards +X")},
      {"certified_homing", QT_TRANSLATE_NOOP("record", "Homing repeat, %1 (s)")},
      {"certified_travel", QT_TRANSLATE_NOOP("record", "Travel between limits, %1")},
      {"certified_tram", QT_TRANSLATE_NOOP("record", "Spindle out of upright")},
      {"certified_z_travel", QT_TRANSLATE_NOOP("record", "Z's travel to the bed, %1")},
      {"certified_plate", QT_TRANSLATE_NOOP("record", "Touch plate, thickness")},
      {"certified_cutter", QT_TRANSLATE_NOOP("record", "Cutter %1, as it cuts")},
      {"certified_tool", QT_TRANSLATE_NOOP("record", "Tool %1 against the reference")},
      {"certified_deviation", QT_TRANSLATE_NOOP("record", "Last cut, largest deviation")},
      {"periodic", QT_TRANSLATE_NOOP("record", "%1 every %2 of travel")},
      {"certified_periodic", QT_TRANSLATE_NOOP("record", "Repeats with each %1")},
      {"budget_periodic", QT_TRANSLATE_NOOP("record", "Periodic error %1")},
      {"budget_warmth", QT_TRANSLATE_NOOP("record", "Warmth")},
      {"budget_homing", QT_TRANSLATE_NOOP("record", "Homing")},
      {"budget_cutter", QT_TRANSLATE_NOOP("record", "Cutter T%1")},
      {"budget_head", QT_TRANSLATE_NOOP("record", "Place of the %1")},
      {"head_off", QT_TRANSLATE_NOOP("record", "%1 taken off")},
      {"head_place", QT_TRANSLATE_NOOP("record", "%1 %2 %3")},
      {"head_value", QT_TRANSLATE_NOOP("record", "%1 %2")},
      {"heads_open", QT_TRANSLATE_NOOP("record", "not measured: %1")},
      {"certified_head_x", QT_TRANSLATE_NOOP("record", "Head %1, along X")},
      {"certified_head_y", QT_TRANSLATE_NOOP("record", "Head %1, along Y")},
      {"certified_head_value", QT_TRANSLATE_NOOP("record", "Head %1")},
      {"certified_blade_forward", QT_TRANSLATE_NOOP("record", "Head %1, forward")},
      {"certified_blade_left", QT_TRANSLATE_NOOP("record", "Head %1, to the left")},
      {"trial_room", QT_TRANSLATE_NOOP("record", "%1: %2 to %3")},
      {"power_speed", QT_TRANSLATE_NOOP("record", "%1: power %2 at %3 mm/min")},
      {"depth_set", QT_TRANSLATE_NOOP("record", "%1: %2 deep at %3")},
      {"trial_from", QT_TRANSLATE_NOOP("record", "%1: from %2")},
      {"trial_none", QT_TRANSLATE_NOOP("record", "%1: no room")},
      {"certified_trial", QT_TRANSLATE_NOOP("record", "%1, cuts through from")},
      {"certified_depth", QT_TRANSLATE_NOOP("record", "%1, of a groove as it is set")},
      {"certified_backing", QT_TRANSLATE_NOOP("record", "%1, marks what lies below from")},
      {"fence_blanks", QT_TRANSLATE_NOOP("record", "%1: %2, now %3")},
      {"fence_offset", QT_TRANSLATE_NOOP("record", "%1 %2 ±%3")},
      {"certified_fence", QT_TRANSLATE_NOOP("record", "Fence %1, offset")},
  };
  const auto found = phrases.find(code);
  return found == phrases.end() ? nullptr : found->second;
}

QString argument_words(const SaidArgument& argument, LengthUnit unit) {
  if (const auto* length = std::get_if<SaidLength>(&argument))
    return to_q(format_length(length->mm, unit, length->decimals) +
                (length->with_unit ? " " + std::string(unit_name(unit)) : ""));
  if (const auto* number = std::get_if<SaidNumber>(&argument))
    return to_q(format_number(number->value, number->decimals));
  if (const int* count = std::get_if<int>(&argument)) return QString::number(*count);
  return to_q(std::get<std::string>(argument));
}

}  // namespace

QString say(const Said& said, LengthUnit unit) {
  QStringList arguments;
  for (const auto& argument : said.arguments) arguments << argument_words(argument, unit);
  const char* phrase = phrase_of(said.code);
  if (!phrase) return arguments.isEmpty() ? to_q(std::string(said.code)) : arguments.join(" ");
  QString text = QCoreApplication::translate("record", phrase);
  // A phrase may say less than it is given.
  for (const QString& argument : arguments)
    if (text.contains(QStringLiteral("%"))) text = text.arg(argument);
  return text;
}

QString say(const Words& words, LengthUnit unit) {
  QString text;
  for (const Said& said : words) text += say(said, unit);
  return text;
}

QString part_name(const BudgetPart& part) {
  const QString of = part.axis ? " " + QString(QChar(letter(*part.axis))) : QString();
  if (part.code.empty() || part.code == "of_axis") return title_of(*part.task) + of;
  Said said{part.code, {}};
  if (part.axis) said.arguments.emplace_back(std::string(1, letter(*part.axis)));
  if (part.tool > 0) said.arguments.emplace_back(part.tool);
  if (!part.subject.empty()) said.arguments.emplace_back(part.subject);
  return say(said, LengthUnit::millimetre);
}

QString title_of(const Task& task) {
  return QCoreApplication::translate("tasks", task.title());
}

QString title_of(const Task& task, const MachineSetup& at) {
  return QCoreApplication::translate("tasks", task.title_at(at));
}

QString title_of(TaskGroup group) {
  switch (group) {
    case TaskGroup::overview:
      break;
    case TaskGroup::machine:
      return QCoreApplication::translate("tasks", "Machine");
    case TaskGroup::calibrate:
      return QCoreApplication::translate("tasks", "Calibrate");
    case TaskGroup::references:
      return QCoreApplication::translate("tasks", "References");
    case TaskGroup::job:
      return QCoreApplication::translate("tasks", "Job");
    case TaskGroup::record:
      return QCoreApplication::translate("tasks", "Record");
  }
  return {};
}

QString head_words(HeadKind kind) {
  switch (kind) {
    case HeadKind::spindle:
      return QCoreApplication::translate("heads", "spindle");
    case HeadKind::pointer:
      return QCoreApplication::translate("heads", "pointer");
    case HeadKind::beam:
      return QCoreApplication::translate("heads", "beam");
    case HeadKind::drag_knife:
      return QCoreApplication::translate("heads", "drag knife");
    case HeadKind::turned_knife:
      return QCoreApplication::translate("heads", "turned knife");
    case HeadKind::wheel:
      return QCoreApplication::translate("heads", "wheel");
    case HeadKind::creaser:
      return QCoreApplication::translate("heads", "creaser");
    case HeadKind::pen:
      return QCoreApplication::translate("heads", "pen");
    case HeadKind::scribe:
      return QCoreApplication::translate("heads", "scribe");
  }
  return {};
}

QString way_in_words(const std::vector<HomingLeg>& way) {
  QStringList legs;
  for (const HomingLeg& leg : way) {
    const QString name(QChar(letter(leg.axis)));
    legs << (leg.axis == Axis::z ? leg.to_max ? QCoreApplication::translate("homing", "%1 up")
                                              : QCoreApplication::translate("homing", "%1 down")
             : leg.to_max ? QCoreApplication::translate("homing", "%1 to its + end")
                                 : QCoreApplication::translate("homing", "%1 to its − end"))
                .arg(name);
  }
  return legs.join(QCoreApplication::translate("homing", ", then "));
}

QString laid_in_words(const LaidOut& laid) {
  QStringList all;
  if (laid.stock) all << QCoreApplication::translate("homing", "the stock");
  for (const auto& clamp : laid.clamps) all << QCoreApplication::translate("homing", "clamp %1").arg(to_q(clamp));
  return all.join(", ");
}

QString as_short(double value) {
  QString text = to_q(format_number(value, 3));
  while (text.contains('.') && (text.endsWith('0') || text.endsWith('.'))) text.chop(1);
  return text;
}

QString signed_length(double mm, LengthUnit unit) {
  return to_q(format_signed(in_unit(mm, unit), unit == LengthUnit::inch ? 3 : 2));
}

}  // namespace ypsi::app
