#include "app/session/entry_text.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>
#include <cmath>

#include "app/session/session.h"
#include "app/session/to_q.h"

namespace ypsi::app {
namespace {

struct EntryWords {
  Q_DECLARE_TR_FUNCTIONS(record)
};

double number(const nlohmann::json& object, const char* key, double otherwise = 0) {
  const auto it = object.find(key);
  return it != object.end() && it->is_number() ? it->get<double>() : otherwise;
}

/// The only number of an as_found or as_left, whatever its name.
std::optional<double> first_number(const nlohmann::json& object) {
  for (const auto& [key, value] : object.items())
    if (value.is_number()) return value.get<double>();
  return std::nullopt;
}

QString title_of(const std::string& sheet) {
  static const std::pair<const char*, const char*> titles[] = {
      {"build", QT_TRANSLATE_NOOP("record", "Build")},
      {"inputs", QT_TRANSLATE_NOOP("record", "Inputs")},
      {"directions", QT_TRANSLATE_NOOP("record", "Directions")},
      {"steps_per_unit", QT_TRANSLATE_NOOP("record", "Steps per unit")},
      {"lost_motion", QT_TRANSLATE_NOOP("record", "Lost motion")},
      {"squareness", QT_TRANSLATE_NOOP("record", "Squareness")},
      {"limits", QT_TRANSLATE_NOOP("record", "Travel and limits")},
      {"homing", QT_TRANSLATE_NOOP("record", "Homing repeat")},
      {"work_zero", QT_TRANSLATE_NOOP("record", "Work zero")},
      {"cut", QT_TRANSLATE_NOOP("record", "Cut")},
      {"touch_plate", QT_TRANSLATE_NOOP("record", "Touch plate")},
      {"tool_setter", QT_TRANSLATE_NOOP("record", "Tool setter")},
      {"tools", QT_TRANSLATE_NOOP("record", "Tools")},
      {"bed_spindle", QT_TRANSLATE_NOOP("record", "Bed and spindle")},
      {"measure_cut", QT_TRANSLATE_NOOP("record", "Measure the cut")},
      {"certificate", QT_TRANSLATE_NOOP("record", "Certificate")},
      {"ready_check", QT_TRANSLATE_NOOP("record", "Ready check")},
      {"places", QT_TRANSLATE_NOOP("record", "Stored places")}};
  for (const auto& [id, title] : titles)
    if (sheet == id) return EntryWords::tr(title);
  return to_q(sheet);
}

QString fixed(double value, int decimals) {
  return to_q(format_number(value, decimals));
}

QString steps_change(const Entry& e) {
  const auto found = first_number(e.as_found), left = first_number(e.as_left);
  const double U = number(e.result, "U_new_steps_per_mm");
  const int digits = decimals_for(U, 2);
  if (!found || !left) return {};
  if (*found == *left)
    return EntryWords::tr("%1 left as it was, ±%2")
        .arg(fixed(*left, std::min(digits, 3)), fixed(U, std::min(digits, 3)));
  return EntryWords::tr("%1 → %2 ±%3")
      .arg(fixed(*found, std::min(digits, 3)), fixed(*left, std::min(digits, 3)), fixed(U, std::min(digits, 3)));
}

QString result_words(const Entry& e, LengthUnit unit) {
  const auto in = [&](double mm, int d) { return to_q(format_length(mm, unit, d) + " " + unit_name(unit)); };
  if (e.sheet == "steps_per_unit") return steps_change(e);
  if (e.sheet == "lost_motion") return in(number(e.result, "lost_motion_mm"), 2);
  if (e.sheet == "squareness")
    return EntryWords::tr("%1 mm per m, ±%2")
        .arg(fixed(number(e.result, "skew_mrad"), 2), fixed(number(e.result, "U_skew_mrad"), 2));
  if (e.sheet == "homing")
    return EntryWords::tr("s %1, %2 trials")
        .arg(in(number(e.result, "s_mm"), 3))
        .arg(static_cast<int>(number(e.result, "trials")));
  if (e.sheet == "limits")
    return EntryWords::tr("%1 to %2")
        .arg(in(number(e.result, "soft_min_mm"), 1), in(number(e.result, "soft_max_mm"), 1));
  if (e.sheet == "touch_plate" && e.result.contains("thickness_mm")) return in(number(e.result, "thickness_mm"), 3);
  if (e.sheet == "tool_setter" && e.result.contains("trigger_mm"))
    return EntryWords::tr("Z %1, s %2").arg(in(number(e.result, "trigger_mm"), 3), in(number(e.result, "s_mm"), 4));
  if (e.sheet == "tools" && e.result.contains("offset_mm")) return in(number(e.result, "offset_mm"), 3);
  if (e.sheet == "bed_spindle" && e.subject == "tram")
    return EntryWords::tr("%1 mrad, ridge %2")
        .arg(fixed(std::hypot(number(e.result, "tilt_x_mrad"), number(e.result, "tilt_y_mrad")), 2),
             in(number(e.result, "ridge_mm"), 3));
  if (e.sheet == "bed_spindle" && e.subject == "map")
    return EntryWords::tr("%1 uneven").arg(in(number(e.result, "peak_to_valley_mm"), 2));
  if (e.sheet == "bed_spindle" && e.subject == "edge")
    return EntryWords::tr("%1 mm per m").arg(fixed(number(e.result, "edge_mm_per_m"), 2));
  if (e.sheet == "work_zero" && e.subject == "turn")
    return EntryWords::tr("%1 ±%2 mrad")
        .arg(fixed(number(e.result, "rotation_mrad"), 2), fixed(number(e.result, "U_rotation_mrad"), 2));
  if (e.sheet == "work_zero") {
    QStringList parts;
    for (const auto& [key, value] : e.as_left.items())
      if (value.is_number())
        parts << QString(QChar(key.back())).toUpper() + " " + to_q(format_length(value.get<double>(), unit, 3));
    return parts.join("  ");
  }
  if (e.sheet == "measure_cut") {
    QString words = EntryWords::tr("off by %1 at most").arg(in(number(e.result, "largest_deviation_mm"), 2));
    if (e.result.contains("tool_diameter_mm"))
      words += EntryWords::tr(", cuts %1 ±%2")
                   .arg(in(number(e.result, "tool_diameter_mm"), 2), in(number(e.result, "U_tool_diameter_mm"), 2));
    return words;
  }
  if (e.sheet == "ready_check")
    return EntryWords::tr("%1 stop, %2 warn%3")
        .arg(static_cast<int>(number(e.result, "stops")))
        .arg(static_cast<int>(number(e.result, "warns")))
        .arg(e.readings.size() > 0 ? EntryWords::tr(", gone on in spite") : QString());
  if (e.sheet == "cut") {
    const auto ended = e.result.value("ended", std::string());
    if (ended == "finished")
      return EntryWords::tr("cut to its end, %1 lines").arg(static_cast<int>(number(e.result, "lines")));
    return (ended == "abandoned" ? EntryWords::tr("abandoned at line %1 of %2")
                                 : EntryWords::tr("stopped at line %1 of %2"))
        .arg(static_cast<int>(number(e.result, "line")))
        .arg(static_cast<int>(number(e.result, "lines")));
  }
  return to_q(e.result.value("words", std::string()));
}

}  // namespace

QString steps_text(double steps, double U) {
  return fixed(steps, std::min(decimals_for(U, 2), 4));
}

QString entry_date(const Entry& entry) {
  const QDateTime time = QDateTime::fromString(to_q(entry.time), Qt::ISODate);
  return time.isValid()
             ? QLocale(QLocale::English, QLocale::UnitedKingdom).toString(time, QStringLiteral("d MMM HH:mm"))
             : to_q(entry.time);
}

QString entry_text(const Entry& e, LengthUnit unit) {
  QString text = title_of(e.sheet);
  if (!e.subject.empty()) text += " " + to_q(e.subject);
  const QString words = entry_words(e, unit);
  if (words.isEmpty()) return text;
  return text + (words.startsWith(',') ? "" : e.sheet == "cut" ? ": " : " ") + words;
}

QString entry_words(const Entry& e, LengthUnit unit) {
  QString text = result_words(e, unit);
  if (e.note == "undone")
    text += EntryWords::tr(", undone");
  else if (e.note == "done again")
    text += EntryWords::tr(", done again");
  else if (e.note == "put back")
    text += EntryWords::tr(", put back");
  else if (!e.note.empty())
    text += ", " + to_q(e.note);
  return text;
}

QString last_looked_at(const Book& book, const std::string& sheet, const QString& never) {
  const auto i = newest(book, sheet);
  if (!i) return never;
  const Entry& entry = book.history[*i];
  return EntryWords::tr("Last looked at %1:\n%2").arg(entry_date(entry), entry_words(entry, book.unit()));
}

QString sheet_summary(const Book& book, const std::string& sheet) {
  if (sheet == "standing") return {};
  if (sheet == "program") return to_q(book.job.program.substr(book.job.program.find_last_of('/') + 1));
  if (sheet == "steps_per_unit") {
    QStringList parts;
    for (const Axis a : all_axes)
      if (const auto i = newest(book, sheet, std::string(1, letter(a))))
        parts << QString("%1 %2")
                     .arg(QChar(letter(a)))
                     .arg(steps_text(book.machine.axis(a).steps_per_mm,
                                     number(book.history[*i].result, "U_new_steps_per_mm")));
    return parts.join("  ");
  }
  const auto i = newest(book, sheet);
  if (!i) return {};
  const Entry& e = book.history[*i];
  const QString words = result_words(e, book.unit());
  return e.subject.empty() || sheet == "work_zero" ? words : to_q(e.subject) + " " + words;
}

QString out_of_date_reason(const Book& book, const SheetStanding& standing) {
  if (!standing.cause) return {};
  const Entry& cause = book.history[*standing.cause];
  const QString day = entry_date(cause).section(' ', 0, 1);
  const std::string& sheet = standing.entry ? book.history[*standing.entry].sheet : cause.sheet;
  if (cause.sheet == "steps_per_unit" && (sheet == "limits" || sheet == "work_zero"))
    return EntryWords::tr("Carried over when steps per unit of %1 changed on %2: same place, new number. Go and see.")
        .arg(to_q(cause.subject), day);
  return cause.subject.empty()
             ? EntryWords::tr("%1 changed on %2, after this was measured.").arg(title_of(cause.sheet), day)
             : EntryWords::tr("%1 of %2 changed on %3, after this was measured.")
                   .arg(title_of(cause.sheet), to_q(cause.subject), day);
}

}  // namespace ypsi::app
