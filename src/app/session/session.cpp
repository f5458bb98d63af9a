// The book: opened, changed, undone, saved.
#include "app/session/session.h"

#include <QDateTime>
#include <QFileInfo>
#include <QUndoCommand>
#include <utility>

namespace ypsi::app {

QString to_q(const std::string& text) {
  return QString::fromStdString(text);
}

/// The book without its record: what a step of undo keeps, since the record only grows.
Book without_history(Book& book) {
  auto history = std::exchange(book.history, {});
  Book copy = book;
  book.history = std::move(history);
  return copy;
}

/// A change to the book as a step that can be undone. The record only grows: undoing adds a line that says so.
class BookChange : public QUndoCommand {
 public:
  struct Side {
    Book book;  ///< without its record
    std::size_t entries = 0;
  };
  BookChange(Session& session, const QString& text, Side before, Side after, MachineFollows machine)
      : QUndoCommand(text),
        session_(session),
        before_(std::move(before)),
        after_(std::move(after)),
        machine_(machine) {}
  void redo() override {
    if (!std::exchange(first_, false)) restore(after_, before_, false);
  }
  void undo() override { restore(before_, after_, true); }

 private:
  void restore(const Side& to, const Side& from, bool undoing) {
    session_.restore(to.book, from.book, undoing, before_.entries, after_.entries, machine_);
  }
  Session& session_;
  Side before_, after_;
  MachineFollows machine_;
  bool first_ = true;
};

Session::Session(BookStore store, std::unique_ptr<Connection> connection)
    : store_(std::move(store)),
      connection_(std::move(connection)),
      loader_(this),
      checker_(this),
      progress_(store_.path()) {
  told_.start();
  reading_ = std::async(std::launch::async, [store = store_] { return store.load(); });
  connect(this, &Session::book_changed, this, [this] {
    rooms_ = {};
    standings_.reset();
  });
  connect(this, &Session::connection_changed, this, [this] { rooms_ = {}; });
  follow_connection();
  follow_program_checks();
  connect(&loader_, &ProgramLoader::loaded, this, [this](std::shared_ptr<const LoadedProgram> loaded) {
    program_ = std::move(loaded);
    resume_line_ = 0;
    const std::string path = program_->path.toStdString();
    note_in_book([&](Book& b) {
      b.job.program = path;
      auto& recent = b.job.recent_programs;
      std::erase(recent, path);
      recent.insert(recent.begin(), path);
      if (recent.size() > 8) recent.resize(8);
    });
    emit program_changed();
  });
  connect(&loader_, &ProgramLoader::failed, this, [this](const QString& path, const QString& sentence) {
    notify({NoticeLevel::danger, tr("“%1” was not loaded. %2").arg(QFileInfo(path).fileName(), sentence), {}});
    emit program_changed();
  });
}

Session::~Session() {
  if (connection_) connection_->save_settings();
}

QString Session::now() const {
  const QDateTime t = QDateTime::currentDateTime();
  return t.toOffsetFromUtc(t.offsetFromUtc()).toString(Qt::ISODate);
}

// ---------------------------------------------------------------------------------------------------------------- book

void Session::use_book(ReadBook read) {
  read_only_ = read.from_later_version();
  book_ = std::move(read.book);
  undo_.clear();
  send_work_zero();
  emit book_changed();
  compare_settings();
  left_over_ = progress_.left();
  if (left_over_ && QFile::exists(to_q(left_over_->program)))
    load_program(to_q(left_over_->program));
  else if (!book_.job.program.empty() && QFile::exists(to_q(book_.job.program)))
    load_program(to_q(book_.job.program));
}

void Session::open_book() {
  auto read = reading_.valid() ? reading_.get() : store_.load();
  if (read && !read->from_later_version()) return use_book(std::move(*read));
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
  notify(notice);
}

SheetStanding Session::standing(const std::string& sheet) const {
  if (!standings_) standings_.emplace(book_);
  return standings_->of(sheet);
}

bool Session::save() {
  if (read_only_) {
    notify({NoticeLevel::attention, tr("This book is open for reading only, so the change is not saved."), {}});
    return false;
  }
  if (const auto saved = store_.save(book_); !saved) {
    notify({NoticeLevel::danger, to_q(saved.error().message), {{tr("Save again"), [this] { save(); }}}});
    return false;
  }
  return true;
}

void Session::change_book(const QString& text, const std::function<void(Book&)>& change, MachineFollows machine) {
  BookChange::Side before{without_history(book_), book_.history.size()};
  change(book_);
  undo_.push(new BookChange(*this, text, std::move(before), {without_history(book_), book_.history.size()}, machine));
  save();
  emit book_changed();
}

void Session::note_in_book(const std::function<void(Book&)>& change) {
  change(book_);
  if (!read_only_) save();
  emit book_changed();
}

void Session::restore(const Book& target, const Book& from_book, bool undoing, std::size_t from, std::size_t to,
                      MachineFollows machine) {
  auto history = std::move(book_.history);
  const auto job_program = book_.job.program;
  const auto recent = book_.job.recent_programs;
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
  book_ = target;
  book_.history = std::move(history);
  book_.job.program = job_program;
  book_.job.recent_programs = recent;
  if (machine == MachineFollows::yes) set_machine_as_changed(from_book);
  save();
  emit book_changed();
}

}  // namespace ypsi::app
