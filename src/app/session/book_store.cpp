#include "app/session/book_store.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>

namespace ypsi::app {

Result<ReadBook> BookStore::load(const QString& path) {
  const auto text = read_file(path);
  if (!text) return tl::make_unexpected(text.error());
  return read_book(*text);
}

Result<ReadBook> BookStore::load() const {
  return load(path_);
}
Result<ReadBook> BookStore::load_previous() const {
  return load(previous_path());
}

Result<void> BookStore::save(const Book& book) {
  const auto refused = [&](const QString& why) {
    return fail("not_saved", QStringLiteral("The book could not be saved: %1. The last save is untouched; make room or "
                                            "choose another place, then save again.")
                                 .arg(why)
                                 .toStdString());
  };
  const std::string text = write_book(book);
  QSaveFile file(path_);
  if (!file.open(QIODevice::WriteOnly)) return refused(file.errorString());
  if (file.write(text.data(), static_cast<qint64>(text.size())) != static_cast<qint64>(text.size()) || !file.flush()) {
    const QString why = file.errorString();
    file.cancelWriting();
    return refused(why);
  }
  // The save before is kept only when it is sound: a damaged file must not push a good one out. What was written here
  // and is still as it was needs no reading.
  if (QFile::exists(path_) && (stamp() == written_ || load())) {
    QFile::remove(previous_path() + QStringLiteral(".new"));
    if (QFile::copy(path_, previous_path() + QStringLiteral(".new"))) {
      QFile::remove(previous_path());
      QFile::rename(previous_path() + QStringLiteral(".new"), previous_path());
    }
  }
  if (!file.commit()) return refused(file.errorString());
  written_ = stamp();
  return {};
}

BookStore::Stamp BookStore::stamp() const {
  const QFileInfo info(path_);
  return {info.size(), info.lastModified()};
}

QString BookStore::keep_aside() const {
  const QString stamp = QDateTime::currentDateTime().toString(QStringLiteral("yyyyMMdd-HHmmss"));
  QString name = QStringLiteral("%1.set-aside-%2").arg(path_, stamp);
  for (int i = 2; QFile::exists(name); ++i) name = QStringLiteral("%1.set-aside-%2-%3").arg(path_, stamp).arg(i);
  return QFile::copy(path_, name) ? name : QString();
}

}  // namespace ypsi::app
