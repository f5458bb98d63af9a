#pragma once
// The book of one machine: read, changed, undone, saved. Every change goes through change_book, so that each can be
// undone and is on the disk before the next.
#include <QObject>
#include <QUndoStack>
#include <functional>
#include <future>
#include <memory>
#include <optional>

#include "app/session/book_store.h"
#include "core/tasks/standing.h"

namespace ypsi::app {

class Notices;

enum class MachineFollows : bool { no, yes };

class BookEditor : public QObject {
  Q_OBJECT
 public:
  BookEditor(BookStore store, Notices& notices, const Tasks& tasks = all_tasks());

  /// Reads the book; when it cannot be used, says so in a notice that offers the save before.
  void open_book();
  const Book& book() const { return book_; }
  /// What a step of undo keeps, since the record only grows.
  Book book_without_record();
  LengthUnit unit() const { return book_.unit(); }
  /// Degrees for a rotary axis.
  LengthUnit unit(Axis axis) const;
  QString length(double mm, int decimals) const;  ///< with the screen's unit
  /// The order of work.
  const Tasks& tasks() const { return tasks_; }
  /// standing_of() of the book as it is now, the record looked through once.
  SheetStanding standing(const std::string& sheet) const;
  bool read_only() const { return read_only_; }
  QString book_path() const { return store_.path(); }
  /// Changes the book, saves it, and puts the change on the undo stack under `text`.
  /// `machine`: whether undoing it sets the controller as the book then says.
  void change_book(const QString& text, const std::function<void(Book&)>& change,
                   MachineFollows machine = MachineFollows::yes);
  /// The same for what is not worth an undo step (recent files, the program's path).
  void note_in_book(const std::function<void(Book&)>& change);
  bool save();
  /// The save before takes this book's place; what was here stays beside it under a name of its own. Says what came of
  /// it.
  void bring_back_previous();
  QUndoStack& undo_stack() { return undo_; }
  QString now() const;  ///< RFC 3339, local
  /// How warm the workshop is, as it was said since the book was opened; findings are kept with it.
  std::optional<double> temperature_C() const { return book_.workshop_C; }
  void say_temperature(double celsius);
  /// Whether what the machine shows is typed by its owner from now on; entries say so.
  void set_told_by_hand(bool by_hand) { told_by_hand_ = by_hand; }

 signals:
  void book_changed();
  void book_opened();  ///< another one, after book_changed
  /// A step was undone or done again that the controller is to follow; `before`: the book as it was.
  void machine_must_follow(const ypsi::Book& before);

 private:
  friend class BookChange;
  void restore(const Book& target, const Book& from, bool undoing, std::size_t entries_from, std::size_t entries_to,
               MachineFollows machine);
  void use_book(ReadBook read);
  void stamp_entries(std::size_t from);
  void say_changed_on_disk(const QString& sentence);
  bool kept_aside(const QString& name);

  BookStore store_;
  Notices& notices_;
  const Tasks& tasks_;
  Book book_;
  bool read_only_ = false, held_elsewhere_ = false, told_by_hand_ = false;
  QUndoStack undo_;
  /// The book's file, read while the window is being made: with a record of 10,000 entries either takes 50 ms.
  std::future<Result<ReadBook>> reading_;
  mutable std::optional<Standings> standings_;  ///< of the book as it is
};

}  // namespace ypsi::app
