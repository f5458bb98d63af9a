#include "app/start/my_machines.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <nlohmann/json.hpp>

#include "app/drawing/machine_view.h"
#include "app/session/book_store.h"
#include "app/session/entry_text.h"
#include "app/session/phrases.h"
#include "app/session/text_file.h"
#include "app/to_q.h"
#include "core/book/book_json.h"
#include "core/book/record.h"
#include "core/tasks/all_tasks.h"
#include "core/tasks/budget.h"
#include "core/tasks/cut.h"

namespace ypsi::app {
namespace {

constexpr int most_remembered = 30;
constexpr qint64 longest_list = 1 << 20;

QString tr(const char* text) {
  return QCoreApplication::translate("my_machines", text);
}

/// A name as a file can have it on any system.
QString file_name(const std::string& machine) {
  QString name;
  for (const QChar c : to_q(machine).trimmed()) name += c.isLetterOrNumber() ? c.toLower() : QChar('-');
  while (name.contains("--")) name.replace("--", "-");
  while (name.startsWith('-')) name.remove(0, 1);
  while (name.endsWith('-')) name.chop(1);
  return name.isEmpty() ? QStringLiteral("machine") : name.left(60);
}

/// Sizes it would cut, and when it cut last.
QString state_words(const Book& book) {
  const auto headline = error_budget(book).sizes.headline;
  const QString sizes = headline
                            ? tr(QT_TRANSLATE_NOOP("my_machines", "sizes within ±%1 %2"))
                                  .arg(to_q(format_length(*headline, book.unit(), 2)), to_q(unit_name(book.unit())))
                            : tr(QT_TRANSLATE_NOOP("my_machines", "sizes not known yet"));
  const auto cut = newest(book, cut_id);
  return sizes + ", " +
         (cut ? tr(QT_TRANSLATE_NOOP("my_machines", "cut last on %1")).arg(entry_date(book.history[*cut]))
              : tr(QT_TRANSLATE_NOOP("my_machines", "never cut with it")));
}

}  // namespace

QString MyMachines::usual_folder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/books");
}

QStringList MyMachines::opened() const {
  const auto text = read_file(list_path(), longest_list);
  if (!text) return {};
  const auto all = nlohmann::json::parse(*text, nullptr, false);
  QStringList paths;
  if (all.is_array())
    for (const auto& path : all)
      if (path.is_string()) paths << to_q(path.get<std::string>());
  return paths;
}

QStringList MyMachines::books() const {
  QStringList paths = opened();
  paths.removeIf([](const QString& path) { return !QFileInfo(path).isFile(); });
  for (const QFileInfo& file : QDir(folder_).entryInfoList({"*.ypsi"}, QDir::Files, QDir::Name))
    if (!paths.contains(file.absoluteFilePath())) paths << file.absoluteFilePath();
  return paths;
}

void MyMachines::remember(const QString& path) const {
  const QString whole = QFileInfo(path).absoluteFilePath();
  QStringList paths = opened();
  paths.removeAll(whole);
  paths.prepend(whole);
  nlohmann::json all = nlohmann::json::array();
  for (const QString& p : paths.mid(0, most_remembered)) all.push_back(p.toStdString());
  if (QDir().mkpath(folder_)) (void)write_file(list_path(), all.dump(1) + "\n");
}

Result<QString> MyMachines::keep_new(const Book& book) const {
  if (!QDir().mkpath(folder_))
    return fail("not_written",
                tr(QT_TRANSLATE_NOOP("my_machines", "The folder “%1” cannot be made, so the book was not begun."))
                    .arg(folder_)
                    .toStdString());
  return write_beside(folder_ + "/" + file_name(book.machine.name) + ".ypsi", write_book(book));
}

KnownMachine look_at(const QString& path) {
  KnownMachine known;
  known.path = path;
  known.name = QFileInfo(path).completeBaseName();
  const auto read = BookStore::load(path);
  if (!read) {
    known.readable = false;
    known.state = to_q(read.error().message);
    return known;
  }
  const Book& book = read->book;
  if (!book.machine.name.empty()) known.name = to_q(book.machine.name);
  known.kind_id = to_q(book.machine.kind);
  known.kind =
      book.machine.description.empty() ? kind_words(book.machine.kind).toLower() : to_q(book.machine.description);
  known.state = state_words(book);
  known.standing = Standing::current;
  const Standings standings(book, all_tasks());
  for (const Task* task : all_tasks()) {
    if (!task->asked_of(book.machine)) continue;
    const Standing standing = standings.of(task->id()).standing;
    if (standing == Standing::current) continue;
    // What went out of date comes before what was never done.
    if (known.standing != Standing::current && standing == Standing::never_done) continue;
    if (known.standing == Standing::out_of_date) continue;
    known.standing = standing;
    known.next = standing == Standing::never_done
                     ? tr(QT_TRANSLATE_NOOP("my_machines", "next: %1")).arg(title_of(*task).toLower())
                     : tr(QT_TRANSLATE_NOOP("my_machines", "out of date: %1")).arg(title_of(*task).toLower());
  }
  if (known.standing == Standing::current) known.next = tr(QT_TRANSLATE_NOOP("my_machines", "all current"));
  return known;
}

}  // namespace ypsi::app
