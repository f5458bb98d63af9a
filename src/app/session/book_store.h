#pragma once
// The book's file: saving never leaves it half-written and keeps the save before; reading says what is wrong and never
// destroys what it could not read.
#include <QDateTime>
#include <QString>
#include <optional>

#include "app/session/text_file.h"
#include "core/book/book_json.h"

namespace ypsi::app {

class BookStore {
 public:
  explicit BookStore(QString path) : path_(std::move(path)) {}
  const QString& path() const { return path_; }
  QString previous_path() const { return path_ + QStringLiteral(".previous"); }

  /// Errors: `unreadable`, and those of read_book.
  Result<ReadBook> load() const;
  Result<ReadBook> load_previous() const;
  /// Writes a new file beside the book, to the disk, and only then lets it take the book's place. Error: `not_saved`;
  /// then the file is as it was.
  Result<void> save(const Book& book);
  /// Copies a book that cannot be used to a name of its own beside it; returns that name, empty when it could not be.
  QString keep_aside() const;

 private:
  static Result<ReadBook> load(const QString& path);
  /// Size and time of change of the book's file.
  using Stamp = std::pair<qint64, QDateTime>;
  Stamp stamp() const;
  QString path_;
  std::optional<Stamp> written_;  ///< as save() left it
};

}  // namespace ypsi::app
