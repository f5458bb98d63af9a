#include "app/session/book_store.h"

#include <fcntl.h>
#include <unistd.h>
#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <algorithm>
#include <cstdio>

namespace ypsi::app {
namespace {
constexpr qint64 longest_book = qint64{64} << 20;  // a century of record
}

QString book_filter() {
  return QCoreApplication::translate("book_store", "Machine books (*.ypsi);;All files (*)");
}

Result<ReadBook> BookStore::load(const QString& path) {
  const auto text = read_file(path, longest_book);
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
  if (known_ && QFile::exists(path_) && stamp() != *known_)
    return fail(
        "changed_on_disk",
        "Another program has changed the book on the disk since it was read here, so nothing was saved over it.");
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
  if (QFile::exists(path_) && (stamp() == written_ || load())) keep_as_previous();
  if (!file.commit()) return refused(file.errorString());
  sync_folder();
  know_the_file();
  written_ = known_;
  return {};
}

/// The book's file under its second name, which is never absent meanwhile: a rename takes the place of what is there.
void BookStore::keep_as_previous() const {
  const QByteArray from = QFile::encodeName(path_), to = QFile::encodeName(previous_path()), fresh = to + ".new";
  ::unlink(fresh.constData());
  // Where a file cannot have two names (a memory stick) it is copied.
  if (::link(from.constData(), fresh.constData()) == 0 || QFile::copy(path_, previous_path() + QStringLiteral(".new")))
    (void)std::rename(fresh.constData(), to.constData());
}

/// A name is on the disk when its folder is.
void BookStore::sync_folder() const {
  const int folder = ::open(QFile::encodeName(QFileInfo(path_).absolutePath()).constData(), O_RDONLY | O_DIRECTORY);
  if (folder < 0) return;
  (void)::fsync(folder);
  ::close(folder);
}

bool BookStore::lock(QString* holder) {
  if (lock_ && lock_->isLocked()) return true;
  lock_ = std::make_shared<QLockFile>(path_ + QStringLiteral(".lock"));
  lock_->setStaleLockTime(0);  // a program that is gone holds nothing; one that runs does, for however long
  if (lock_->tryLock(0)) return true;
  qint64 process = 0;
  QString computer, program;
  lock_->getLockInfo(&process, &computer, &program);
  *holder = QStringLiteral("%1, %2").arg(process).arg(computer);
  // A folder that cannot be written to needs no lock: nothing is saved there.
  return lock_->error() != QLockFile::LockFailedError;
}

void BookStore::clear_leftovers() const {
  const QFileInfo file(path_);
  QDir folder = file.dir();
  constexpr qsizetype random_letters = 6;  // of QSaveFile's temporary name
  for (const QString& name : folder.entryList({file.fileName() + QStringLiteral(".*")}, QDir::Files)) {
    const QString end = name.mid(file.fileName().size() + 1);
    const bool random = end.size() == random_letters &&
                        std::all_of(end.begin(), end.end(), [](QChar c) { return c.isLetter() && c.unicode() < 128; });
    if (random || end == QLatin1String("previous.new")) folder.remove(name);
  }
}

BookStore::Stamp BookStore::stamp() const {
  const QFileInfo info(path_);
  return {info.size(), info.lastModified()};
}

QString BookStore::keep_aside() const {
  const QString name = name_aside();
  return QFile::copy(path_, name) ? name : QString();
}

QString BookStore::keep_aside(const Book& book) const {
  const QString name = name_aside();
  return write_file(name, write_book(book)) ? name : QString();
}

QString BookStore::name_aside() const {
  const QString stamp = QDateTime::currentDateTime().toString(QStringLiteral("yyyyMMdd-HHmmss"));
  QString name = QStringLiteral("%1.set-aside-%2").arg(path_, stamp);
  for (int i = 2; QFile::exists(name); ++i) name = QStringLiteral("%1.set-aside-%2-%3").arg(path_, stamp).arg(i);
  return name;
}

}  // namespace ypsi::app
