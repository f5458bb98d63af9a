#pragma once
#include <QString>

namespace ypsi::app {

/// Which program is being read and judged, beside the book: who dies of it leaves it there.
class OpeningMark {
 public:
  explicit OpeningMark(const QString& book_path) : path_(book_path + QStringLiteral(".opening")) {}
  ~OpeningMark() { clear(); }
  OpeningMark(const OpeningMark&) = delete;
  OpeningMark& operator=(const OpeningMark&) = delete;
  /// What an earlier run has left, which is forgotten by this; empty: nothing.
  QString take_left() const;
  void set(const QString& program);
  void clear();  ///< it was opened, or refused

 private:
  QString path_;
  bool mine_ = false;  ///< another window on the same book has its own
};

}  // namespace ypsi::app
