#pragma once
// The book's file: saving never leaves it half-written and keeps the save before; reading says what is wrong and never
// destroys what it could not read.
#include <QDateTime>
#include <QLockFile>
#include <QString>
#include <memory>
#include <optional>

#include "app/session/text_file.h"
#include "core/book/book_json.h"

namespace ypsi::app {

/// Of a dialog that asks for a book.
QString book_filter();

class BookStore {
 public:
  explicit BookStore(QString path) : path_(std::move(path)) {}
  const QString& path() const { return path_; }
  QString previous_path() const { return path_ + QStringLiteral(".previous"); }

  /// Errors: `unreadable`, and those of read_book.
  static Result<ReadBook> load(const QString& path);
  Result<ReadBook> load() const;
  Result<ReadBook> load_previous() const;
  /// Writes a new file beside the book, to the disk, and only then lets it take the book's place. Errors, after which
  /// the file is as it was: `not_saved`; `changed_on_disk` where it is not as it was read or saved here last.
  Result<void> save(const Book& book);
  /// What is on the disk now is known: it was read, or may be overwritten.
  void know_the_file() { known_ = stamp(); }
  /// Takes the book for writing, so that no other program does; false where one has it, which `holder` then tells.
  bool lock(QString* holder);
  /// Removes what a run that was killed left half-written beside the book. Precondition: lock().
  void clear_leftovers() const;
  /// Copies a book that cannot be used to a name of its own beside it; returns that name, empty when it could not be.
  QString keep_aside() const;
  /// The same for a book that was not saved.
  QString keep_aside(const Book& book) const;

 private:
  QString name_aside() const;
  void keep_as_previous() const;
  void sync_folder() const;
  /// Size and time of change of the book's file.
  using Stamp = std::pair<qint64, QDateTime>;
  Stamp stamp() const;
  QString path_;
  std::optional<Stamp> known_;    ///< as it was read or saved here last
  std::optional<Stamp> written_;  ///< as save() left it, and therefore sound
  std::shared_ptr<QLockFile> lock_;
};

}  // namespace ypsi::app
