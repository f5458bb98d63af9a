// The book: opened, changed, undone, saved.
#include "app/session/book_editor.h"

#include <QDateTime>
#include <QFileInfo>
#include <QUndoCommand>
#include <utility>

#include "app/session/notices.h"
#include "core/book/merge.h"

namespace ypsi::app {

/// A change to the book as a step that can be undone. The record only grows: undoing adds a line that says so.
class BookChange : public QUndoCommand {
 public:
  struct Side {
    Book book;  ///< without its record
    std::size_t entries = 0;
  };
  BookChange(BookEditor& editor, const QString& text, Side before, Side after, MachineFollows machine)
      : QUndoCommand(text), editor_(editor), before_(std::move(before)), after_(std::move(after)), machine_(machine) {}
  void redo() override {
    if (!std::exchange(first_, false)) restore(after_, before_, false);
  }
  void undo() override { restore(before_, after_, true); }

 private:
  void restore(const Side& to, const Side& from, bool undoing) {
    editor_.restore(to.book, from.book, undoing, before_.entries, after_.entries, machine_);
  }
  BookEditor& editor_;
  Side before_, after_;
  MachineFollows machine_;
  bool first_ = true;
};

BookEditor::BookEditor(BookStore store, Notices& notices, const Tasks& tasks)
    : store_(std::move(store)), notices_(notices), tasks_(tasks) {
  store_.know_the_file();
  reading_ = std::async(std::launch::async, [from = store_] { return from.load(); });
  connect(this, &BookEditor::book_changed, this, [this] { standings_.reset(); });
}

QString BookEditor::now() const {
  const QDateTime t = QDateTime::currentDateTime();
  return t.toOffsetFromUtc(t.offsetFromUtc()).toString(Qt::ISODate);
}

LengthUnit BookEditor::unit(Axis axis) const {
  return is_rotary(book_.machine.axis(axis).drive.transmission) ? LengthUnit::degree : unit();
}

QString BookEditor::length(double mm, int decimals) const {
  return to_q(format_length(mm, unit(), decimals) + " " + unit_name(unit()));
}

Book BookEditor::book_without_record() {
  auto history = std::exchange(book_.history, {});
  Book copy = book_;
  book_.history = std::move(history);
  return copy;
}

SheetStanding BookEditor::standing(const std::string& sheet) const {
  if (!standings_) standings_.emplace(book_, tasks_);
  return standings_->of(sheet);
}

void BookEditor::use_book(ReadBook read) {
  read_only_ = read.from_later_version() || held_elsewhere_;
  book_ = std::move(read.book);
  book_.workshop_C.reset();  // another day may be another warmth
  undo_.clear();
  emit book_changed();
  emit book_opened();
}

void BookEditor::open_book() {
  QString holder;
  held_elsewhere_ = !store_.lock(&holder);
  if (!held_elsewhere_) store_.clear_leftovers();
  const bool ahead = reading_.valid();
  if (!ahead) store_.know_the_file();
  auto read = ahead ? reading_.get() : store_.load();
  if (read && !read->from_later_version()) {
    const bool altered = read->altered;
    use_book(std::move(*read));
    if (held_elsewhere_)
      notices_.notify({NoticeLevel::attention,
                       tr("This book is open in another window already (process %1), so it is open here for reading "
                          "only. Close it there first, then open it here again.")
                           .arg(holder),
                       {{tr("Open it again"), [this] { open_book(); }}}});
    else if (altered)
      notices_.notify(
          {NoticeLevel::attention,
           tr("This book is not as it was saved last: it was changed by hand or by another program, or the disk has "
              "damaged it. Look through what it says before you rely on it; the save before is beside it."),
           {}});
    return;
  }
  auto previous = store_.load_previous();
  const bool has_previous = previous && !previous->from_later_version();
  const QString aside = QFile::exists(store_.path()) ? store_.keep_aside() : QString();
  const QString kept = aside.isEmpty() ? QString() : tr(" A copy is kept as “%1”.").arg(QFileInfo(aside).fileName());

  Notice notice;
  notice.level = NoticeLevel::danger;
  if (read) {
    notice.text = tr("This book was written by a later Ypsilograph (version %1) and is open for reading only; nothing "
                     "will be saved to it.")
                      .arg(read->version) +
                  kept;
    use_book(std::move(*read));
  } else {
    notice.text = to_q(read.error().message) + kept;
    read_only_ = true;  // until the owner chooses: what is there must not be overwritten by an empty book
    emit book_changed();
  }
  if (has_previous)
    notice.actions.push_back({tr("Open the previous save"), [this, previous] {
                                use_book(*previous);
                                save();
                              }});
  if (!read)
    notice.actions.push_back({tr("Start an empty book"), [this] {
                                use_book(ReadBook{});
                                save();
                              }});
  notices_.notify(notice);
}

void BookEditor::bring_back_previous() {
  if (read_only_) {
    (void)save();  // which says why not
    return;
  }
  auto previous = store_.load_previous();
  if (!previous || previous->from_later_version()) {
    notices_.notify({NoticeLevel::attention,
                     previous ? tr("The save before was written by a later Ypsilograph, so it was left alone.")
                              : to_q(previous.error().message),
                     {}});
    return;
  }
  const QString aside = store_.keep_aside(book_);
  if (!kept_aside(aside)) return;
  use_book(std::move(*previous));
  if (save())
    notices_.notify({NoticeLevel::good,
                     tr("The save before is back. What was here is kept as “%1”.").arg(QFileInfo(aside).fileName()),
                     {}});
}

bool BookEditor::save() {
  if (read_only_) {
    notices_.notify(
        {NoticeLevel::attention, tr("This book is open for reading only, so the change is not saved."), {}});
    return false;
  }
  if (const auto saved = store_.save(book_); !saved) {
    if (saved.error().code == "changed_on_disk") {
      say_changed_on_disk(to_q(saved.error().message));
      return false;
    }
    notices_.notify({NoticeLevel::danger, to_q(saved.error().message), {{tr("Save again"), [this] { save(); }}}});
    return false;
  }
  return true;
}

/// Neither is thrown away: whichever is not taken stays beside the book.
void BookEditor::say_changed_on_disk(const QString& sentence) {
  notices_.notify({NoticeLevel::danger,
                   sentence,
                   {{tr("Read what is on the disk"),
                     [this] {
                       if (kept_aside(store_.keep_aside(book_))) open_book();
                     }},
                    {tr("Keep what is here"), [this] {
                       if (!kept_aside(store_.keep_aside())) return;
                       store_.know_the_file();
                       save();
                     }}}});
}

bool BookEditor::kept_aside(const QString& name) {
  if (!name.isEmpty()) return true;
  notices_.notify(
      {NoticeLevel::danger,
       tr("The other version could not be kept beside the book, so nothing was changed. Is there room on the "
          "disk?"),
       {}});
  return false;
}

void BookEditor::change_book(const QString& text, const std::function<void(Book&)>& change, MachineFollows machine) {
  BookChange::Side before{book_without_record(), book_.history.size()};
  change(book_);
  stamp_entries(before.entries);
  undo_.push(new BookChange(*this, text, std::move(before), {book_without_record(), book_.history.size()}, machine));
  save();
  emit book_changed();
}

void BookEditor::say_temperature(double celsius) {
  note_in_book([&](Book& b) { b.workshop_C = celsius; });
}

void BookEditor::note_in_book(const std::function<void(Book&)>& change) {
  const std::size_t entries = book_.history.size();
  change(book_);
  stamp_entries(entries);
  if (!read_only_) save();
  emit book_changed();
}

/// What an entry is kept with, whoever made it.
void BookEditor::stamp_entries(std::size_t from) {
  for (std::size_t i = from; i < book_.history.size(); ++i) {
    if (!book_.history[i].temperature_C) book_.history[i].temperature_C = book_.workshop_C;
    book_.history[i].told_by_hand |= told_by_hand_;
  }
}

void BookEditor::restore(const Book& target, const Book& from_book, bool undoing, std::size_t from, std::size_t to,
                         MachineFollows machine) {
  auto& history = book_.history;
  for (std::size_t i = from; i < to; ++i) {
    // The newest line that tells of this change: itself, or what undid or redid it last.
    std::size_t latest = i;
    for (std::size_t j = i + 1; j < history.size(); ++j)
      if (history[j].withdraws == latest) latest = j;
    Entry entry = history[i];
    entry.time = now().toStdString();
    entry.withdraws = latest;
    entry.note = undoing ? "undone" : "done again";
    if (undoing) std::swap(entry.as_found, entry.as_left);
    history.push_back(std::move(entry));
  }
  // What was noted since without a step of its own, such as readings of a test at the machine, stays.
  book_ = merged(std::move(book_), from_book, target);
  if (machine == MachineFollows::yes) emit machine_must_follow(from_book);
  save();
  emit book_changed();
}

}  // namespace ypsi::app
