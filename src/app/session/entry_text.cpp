#include "app/session/entry_text.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

#include "app/session/phrases.h"
#include "app/to_q.h"
#include "core/book/record.h"
#include "core/tasks/cut.h"

namespace ypsi::app {
namespace {

struct EntryWords {
  Q_DECLARE_TR_FUNCTIONS(record)
};

/// What an entry is of: a task, or the stored places, which have no sheet of their own.
QString title_of(const std::string& sheet) {
  if (const Task* task = find_task(all_tasks(), sheet)) return app::title_of(*task);
  return sheet == "places" ? EntryWords::tr("Stored places") : to_q(sheet);
}

QString result_words(const Entry& e, LengthUnit unit) {
  static const Task other("", "", TaskGroup::record);
  const Task* task = find_task(all_tasks(), e.sheet);
  return say((task ? task : &other)->summary(e), unit);
}

}  // namespace

QString steps_text(double steps, double U) {
  return to_q(format_number(steps, std::min(decimals_for(U, 2), 4)));
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
  return text + (words.startsWith(',') ? "" : e.sheet == cut_id ? ": " : " ") + words;
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
  if (e.told_by_hand) text += EntryWords::tr(", told by hand");
  return text;
}

QString last_looked_at(const Book& book, const std::string& sheet, const QString& never) {
  const auto i = newest(book, sheet);
  if (!i) return never;
  const Entry& entry = book.history[*i];
  return EntryWords::tr("Last looked at %1:\n%2").arg(entry_date(entry), entry_words(entry, book.unit()));
}

QString out_of_date_reason(const Book& book, const SheetStanding& standing) {
  if (!standing.cause) return {};
  const Entry& cause = book.history[*standing.cause];
  const QString day = entry_date(cause).section(' ', 0, 1);
  const std::string& sheet = standing.entry ? book.history[*standing.entry].sheet : cause.sheet;
  if (const Task* task = find_task(all_tasks(), sheet); task && task->is_carried_over(cause.sheet))
    return EntryWords::tr("Carried over when steps per unit of %1 changed on %2: same place, new number. Go and see.")
        .arg(to_q(cause.subject), day);
  return cause.subject.empty()
             ? EntryWords::tr("%1 changed on %2, after this was measured.").arg(title_of(cause.sheet), day)
             : EntryWords::tr("%1 of %2 changed on %3, after this was measured.")
                   .arg(title_of(cause.sheet), to_q(cause.subject), day);
}

}  // namespace ypsi::app
