#pragma once
// The machines of this owner: the books that are kept in one folder and those elsewhere that were opened, as a line
// each tells them.
#include <QString>
#include <QStringList>
#include <optional>

#include "core/book/book.h"
#include "core/result.h"
#include "core/tasks/standing.h"

namespace ypsi::app {

/// What the start page says of a book.
struct KnownMachine {
  QString path, name, kind_id, kind, state;
  Standing standing = Standing::never_done;  ///< of what is said to be next; current: nothing is
  QString next;
  bool readable = true;  ///< else `state` says why
};

class MyMachines {
 public:
  /// `folder`: where new books are kept; made when the first is.
  explicit MyMachines(QString folder = usual_folder()) : folder_(std::move(folder)) {}
  /// In the owner's data folder. Source: XDG Base Directory Specification, XDG_DATA_HOME.
  static QString usual_folder();
  const QString& folder() const { return folder_; }
  /// Those opened last first, then what else is in the folder; files that are gone are not among them.
  QStringList books() const;
  /// It was opened now. A list that cannot be written is no reason not to work.
  void remember(const QString& path) const;
  /// Makes a book under the machine's name, or with a number behind it where that is taken; returns its path. Errors:
  /// `not_written`.
  Result<QString> keep_new(const Book& book) const;

 private:
  QString list_path() const { return folder_ + QStringLiteral("/opened.json"); }
  QStringList opened() const;
  QString folder_;
};

/// Reads a book for its line.
KnownMachine look_at(const QString& path);

}  // namespace ypsi::app
