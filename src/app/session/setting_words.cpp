#include "app/session/setting_words.h"

#include <QCoreApplication>

#include "app/session/phrases.h"
#include "app/session/session.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

struct SettingWords {
  Q_DECLARE_TR_FUNCTIONS(settings)
};

}  // namespace

QString setting_words(const std::string& setting) {
  if (const auto zero = work_zero_of_setting(setting))
    return SettingWords::tr("work zero %1 of %2, machine position")
        .arg(to_q(frame_name(zero->first)), QChar(letter(zero->second)));
  if (const auto tool = tool_of_setting(setting)) return SettingWords::tr("length of tool %1").arg(*tool);
  if (setting == "work.frame") return SettingWords::tr("work zero in use");
  if (setting == "probe.inverted") return SettingWords::tr("probe's input, turned round");
  constexpr std::string_view start = "axis.";
  if (!setting.starts_with(start)) return to_q(setting);
  const QString name = to_q(setting).mid(static_cast<qsizetype>(start.size()), 1).toUpper();
  const auto ends_with = [&](const char* what) { return setting.ends_with(what); };
  if (ends_with("steps_per_mm")) return SettingWords::tr("steps per mm of %1").arg(name);
  if (ends_with("max_rate_mm_min")) return SettingWords::tr("fastest rate of %1").arg(name);
  if (ends_with("accel_mm_s2")) return SettingWords::tr("acceleration of %1").arg(name);
  if (ends_with("home_at_max")) return SettingWords::tr("home end of %1").arg(name);
  if (ends_with("home_turn")) return SettingWords::tr("when %1 is homed").arg(name);
  if (ends_with("home_coordinate_mm")) return SettingWords::tr("position of %1 at its switch").arg(name);
  if (ends_with("pull_off_mm")) return SettingWords::tr("way of %1 back from its switch after homing").arg(name);
  if (ends_with("soft_min_mm")) return SettingWords::tr("lower soft limit of %1").arg(name);
  if (ends_with("soft_max_mm")) return SettingWords::tr("upper soft limit of %1").arg(name);
  if (ends_with("reversed")) return SettingWords::tr("direction of %1, turned round").arg(name);
  if (ends_with("switch_inverted")) return SettingWords::tr("switch of %1, turned round").arg(name);
  if (ends_with("second_switch_offset_mm")) return SettingWords::tr("offset of the beam's right switch");
  return to_q(setting);
}

QString setting_value(const BookSetting& setting, double value, LengthUnit unit) {
  switch (setting.kind) {
    case SettingKind::flag:
      return value != 0 ? SettingWords::tr("at its + end") : SettingWords::tr("at its − end");
    case SettingKind::turn:
      return value > 0 ? SettingWords::tr("as number %1").arg(as_short(value)) : SettingWords::tr("not said");
    case SettingKind::rate:
      return as_short(in_unit(value, unit)) + " " + to_q(unit_name(unit)) + "/min";
    case SettingKind::acceleration:
      return as_short(in_unit(value, unit)) + " " + to_q(unit_name(unit)) + "/s²";
    case SettingKind::place:
      return as_short(in_unit(value, unit)) + " " + to_q(unit_name(unit));
    case SettingKind::steps:
      break;
  }
  return as_short(value);
}

}  // namespace ypsi::app
