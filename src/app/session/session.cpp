#include "app/session/session.h"

#include <QDateTime>
#include <QFileInfo>
#include <QUndoCommand>
#include <cmath>

#include "core/book/changes.h"
#include "core/procedures/go_to_zero.h"
#include "core/program/resume.h"

namespace ypsi::app {
namespace {
constexpr qint64 told_every_ms = 16;
constexpr std::size_t disturbed_after_lines = 5;
}  // namespace

QString to_q(const std::string& text) {
  return QString::fromStdString(text);
}

/// A change to the book as a step that can be undone. The record only grows: undoing adds a line that says so.
class BookChange : public QUndoCommand {
 public:
  BookChange(Session& session, const QString& text, Book before, Book after)
      : QUndoCommand(text), session_(session), before_(std::move(before)), after_(std::move(after)) {}
  void redo() override {
    if (first_)
      first_ = false;
    else
      session_.restore(after_, false, before_.history.size(), after_.history.size());
  }
  void undo() override { session_.restore(before_, true, before_.history.size(), after_.history.size()); }

 private:
  Session& session_;
  Book before_, after_;
  bool first_ = true;
};

Session::Session(BookStore store, std::unique_ptr<Connection> connection)
    : store_(std::move(store)), connection_(std::move(connection)), loader_(this) {
  told_.start();
  follow_connection();
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
  bring_machine_in_line();
  emit book_changed();
  if (!book_.job.program.empty() && QFile::exists(to_q(book_.job.program))) load_program(to_q(book_.job.program));
}

void Session::open_book() {
  auto read = store_.load();
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

void Session::change_book(const QString& text, const std::function<void(Book&)>& change) {
  Book before = book_;
  change(book_);
  undo_.push(new BookChange(*this, text, std::move(before), book_));
  save();
  emit book_changed();
}

void Session::note_in_book(const std::function<void(Book&)>& change) {
  change(book_);
  if (!read_only_) save();
  emit book_changed();
}

void Session::restore(const Book& target, bool undoing, std::size_t from, std::size_t to) {
  auto history = book_.history;
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
  bring_machine_in_line();
  save();
  emit book_changed();
}

// ------------------------------------------------------------------------------------------------------------- machine

void Session::bring_machine_in_line() {
  if (!connection_ || !connection_->up()) return;
  // Settings follow the book (undo, redo, another save opened); a machine that moves keeps what it has and is told
  // later.
  for (const Axis a : all_axes) {
    const AxisSetup& axis = book_.machine.axis(a);
    ask(link()->set_setting(axis_setting(a, "steps_per_mm"), axis.steps_per_mm));
    if (axis.soft_min) ask(link()->set_setting(axis_setting(a, "soft_min_mm"), *axis.soft_min));
    if (axis.soft_max) ask(link()->set_setting(axis_setting(a, "soft_max_mm"), *axis.soft_max));
    if (const auto& zero = book_.job.zero(a)) ask(link()->set_work_zero(a, *zero));
  }
  keep_settings();
}

void Session::keep_settings() {
  if (!connection_->save_settings())
    notify({NoticeLevel::attention,
            tr("The stand-in's own memory could not be written, so its settings will be the old ones next time. Is "
               "there room on the disk?"),
            {}});
}

void Session::follow_connection() {
  if (!connection_) return;
  connect(connection_.get(), &Connection::ticked, this, &Session::tick);
  bad_lines_told_ = connection_->wire().bad_lines();
}

bool Session::use_connection(std::unique_ptr<Connection> connection) {
  if (run_.state() == RunState::running) {
    notify({NoticeLevel::attention, tr("A program is running; connect to another machine when it has ended."), {}});
    return false;
  }
  if (connection_) {
    connection_->save_settings();
    connection_->disconnect(this);
    connection_.release()->deleteLater();  // this may be called from its own tick
  }
  connection_ = std::move(connection);
  follow_connection();
  status_ = connection_ ? connection_->link().status() : MachineStatus{};
  emit status_changed();
  emit connection_changed();
  return true;
}

bool Session::connect_again() {
  if (!connection_) return false;
  const auto opened = connection_->open();
  status_ = connection_->link().status();
  emit status_changed();
  emit connection_changed();
  if (!opened) {
    notify({NoticeLevel::danger, to_q(opened.error().message), {{tr("Connect again"), [this] { connect_again(); }}}});
    return false;
  }
  Notice notice{NoticeLevel::attention,
                tr("Connected again to %1. Home the machine before anything else.").arg(connection_->description()),
                {{tr("Home"), [this] { home(); }}}};
  if (resume_line_ > 0)
    notice.actions.push_back({tr("Resume from line %1").arg(resume_line_), [this] { resume_cut(resume_line_); }});
  notify(notice);
  return true;
}

void Session::tick() {
  const MachineStatus before = status_;
  const bool ran = run_.state() == RunState::running;
  if (ran) run_.tick();
  const bool run_ended = ran && run_.state() != RunState::running;
  if (run_ended) end_of_run();
  status_ = connection_->link().status();
  // A free-running machine ticks a thousand times a second; the sheets are told as often as a screen shows.
  if (status_.state != before.state || told_.elapsed() >= told_every_ms) {
    told_.restart();
    emit status_changed();
  }
  watch_status(before, run_ended && run_.state() == RunState::failed);
  watch_line();
}

/// What the owner must hear of, whichever sheet is open.
void Session::watch_status(const MachineStatus& before, bool run_told) {
  const bool new_message = status_.message != before.message && !status_.message.empty();
  const bool was_up = before.state != MachineState::offline;
  if (status_.state == MachineState::offline) {
    if (was_up) emit connection_changed();
    if (was_up && !run_told)
      notify({NoticeLevel::danger, to_q(status_.message), {{tr("Connect again"), [this] { connect_again(); }}}});
  } else if (run_told) {
    return;  // the end of the run has said it, and more
  } else if (status_.state == MachineState::emergency_stop && before.state != status_.state) {
    notify({NoticeLevel::danger, to_q(status_.message), {}});
  } else if (new_message && (status_.state == MachineState::stopped ||
                             (status_.state == MachineState::not_homed && before.state != MachineState::offline))) {
    notify({NoticeLevel::danger, to_q(status_.message), {{tr("Home"), [this] { home(); }}}});
  } else if (new_message && status_.state == MachineState::ready && before.state == MachineState::moving) {
    notify({NoticeLevel::attention, to_q(status_.message), {}});
  }
  if (status_.inputs.probe && !before.inputs.probe && was_up && status_.state != MachineState::moving &&
      status_.state != MachineState::cutting)
    notify({NoticeLevel::attention,
            tr("The probe's input came on while nothing was searching. If plate and cutter do not touch, its wire or "
               "the plate is shorted: see to it before you touch off, or the cutter will not stop."),
            {}});
}

void Session::watch_line() {
  const std::size_t bad = connection_->wire().bad_lines();
  bad_lines_told_ = std::min(bad_lines_told_, bad);  // opened anew, counted anew
  if (bad < bad_lines_told_ + disturbed_after_lines) return;
  bad_lines_told_ = bad;
  notify({NoticeLevel::attention,
          tr("The line to the machine is disturbed: %1 lines came garbled. What was lost is sent again and the work "
             "goes on. Keep the cable away from the spindle's, and see to its screen.")
              .arg(bad),
          {}});
}

bool Session::ask(const Result<void>& result) {
  if (connection_) {
    status_ = connection_->link().status();
    emit status_changed();
  }
  if (result) return true;
  notify({NoticeLevel::attention, to_q(result.error().message), {}});
  return false;
}

void Session::home(bool even_so) {
  if (!link()) return;
  const auto inputs = standing_of(book_, "inputs").standing, directions = standing_of(book_, "directions").standing;
  QString why, sheet;
  if (inputs == Standing::failed) {
    sheet = "inputs";
    why = tr(
        "An input did not answer as it should (sheet Inputs). Homing drives towards a switch that may never stop it.");
  } else if (directions == Standing::failed) {
    sheet = "directions";
    why = tr("An axis moves something else than it should (sheet Directions); homing would drive it into its stop.");
  } else if (inputs == Standing::never_done || directions == Standing::never_done) {
    sheet = inputs == Standing::never_done ? "inputs" : "directions";
    why =
        tr("Nobody has looked at Inputs and Directions of this machine yet. Homing the wrong way drives an axis into "
           "its stop.");
  }
  if (why.isEmpty() || even_so) {
    ask(link()->home());
    return;
  }
  notify(
      {NoticeLevel::attention,
       why,
       {{sheet == "inputs" ? tr("Go to Inputs") : tr("Go to Directions"), [this, sheet] { emit sheet_wanted(sheet); }},
        {tr("Home even so"), [this] { home(true); }}}});
}

void Session::hold() {
  if (link()) link()->hold();
}

void Session::go_on() {
  if (!link()) return;
  if (status_.state == MachineState::tool_change) {
    // At a simulated machine the hand that puts the tool in is this one.
    if (bench()) ask(bench()->put_tool(status_.wanted_tool));
    link()->tool_changed(status_.wanted_tool);
  } else
    link()->go_on();
}

void Session::jog(Axis axis, double distance) {
  if (!link()) return;
  const auto moved = link()->jog(axis, distance, book_.machine.axis(axis).max_rate);
  if (moved || moved.error().code != "busy") ask(moved);
}

void Session::end_jog() {
  if (link()) link()->end_jog();
}

void Session::set_jog_step(double mm) {
  jog_step_ = mm;
  emit jog_step_changed();
}

void Session::set_work_zero(const std::vector<Axis>& axes, double z_offset) {
  if (!link()) return;
  const MachineStatus now_at = link()->status();
  if (!now_at.all_homed()) {
    notify({NoticeLevel::attention,
            tr("Home the machine first: before homing its positions mean nothing, and a zero set now would be lost."),
            {}});
    return;
  }
  for (const Axis a : axes)
    if (!ask(link()->set_work_zero(a, now_at.position[a] - (a == Axis::z ? z_offset : 0)))) return;
  change_book(tr("Set zero"), [&](Book& b) {
    Entry entry;
    entry.time = now().toStdString();
    entry.sheet = "work_zero";
    for (const Axis a : axes) {
      entry.subject += letter(a);
      auto& zero = b.job.zero(a);
      const std::string key = std::string("work_zero.") + axis_key(a);
      if (zero) entry.as_found[key] = *zero;
      zero = now_at.position[a] - (a == Axis::z ? z_offset : 0);
      entry.as_left[key] = *zero;
    }
    entry.result = entry.as_left;
    b.history.push_back(std::move(entry));
  });
}

bool Session::apply_steps(Axis axis, double steps, Entry entry, const QString& text,
                          const std::function<void(Book&)>& also) {
  if (!link()) return false;
  const std::string setting = axis_setting(axis, "steps_per_mm");
  const auto found = link()->setting(setting);
  if (!found || !ask(link()->set_setting(setting, steps))) return false;
  entry.time = now().toStdString();
  entry.sheet = "steps_per_unit";
  entry.subject = std::string(1, letter(axis));
  entry.as_found = {{setting, *found}};
  entry.as_left = {{setting, steps}};
  change_book(text, [&](Book& b) {
    b.machine.axis(axis).steps_per_mm = *found;
    change_steps_per_mm(b, axis, steps);
    b.history.push_back(entry);
    if (also) also(b);
  });
  bring_machine_in_line();
  return true;
}

void Session::lift_then_go_to_zero(double stand_off) {
  if (!link()) return;
  const auto way = plan_way_to_zero(*link(), book_.machine.safe_height, stand_off);
  if (!way) {
    ask(tl::make_unexpected(way.error()));
    return;
  }
  way_text_.clear();
  for (const auto& block : way->blocks) way_text_ += block + "\n";
  run_is_cut_ = false;
  ask(run_.start(*link(), way_text_));
}

// ------------------------------------------------------------------------------------------------------------- program

Kinematics Session::kinematics() const {
  Kinematics k;
  for (const Axis a : all_axes) k[index(a)] = {book_.machine.axis(a).max_rate / 60, book_.machine.axis(a).acceleration};
  return k;
}

void Session::load_program(const QString& path) {
  if (cutting()) {
    notify({NoticeLevel::attention, tr("A program is being cut; load another when it has ended."), {}});
    return;
  }
  loader_.load(path, kinematics());
}

void Session::start_cut() {
  if (!link() || !program_) return;
  cut_program_ = program_;
  resume_line_ = 0;
  run_is_cut_ = true;
  ask(run_.start(*link(), cut_program_->text));
}

void Session::resume_cut(std::uint32_t line) {
  if (!link() || !program_) return;
  const auto& job = book_.job;
  if (!status_.all_homed() || !standing_ready() || !job.zero_x || !job.zero_y || !job.zero_z) {
    notify({NoticeLevel::attention,
            tr("Home the machine first, and see that work zero is set; then resume from line %1.").arg(line),
            {{tr("Home"), [this] { home(); }},
             {tr("Resume from line %1").arg(line), [this, line] { resume_cut(line); }}}});
    return;
  }
  const auto plan = plan_resume(program_->text, line, book_.machine.safe_height - *job.zero_z);
  if (!plan) {
    ask(tl::make_unexpected(plan.error()));
    return;
  }
  for (const Axis a : all_axes)
    if (!ask(link()->set_work_zero(a, *job.zero(a)))) return;
  cut_program_ = program_;
  resume_line_ = 0;
  run_is_cut_ = true;
  ask(run_.start(*link(), cut_program_->text, line, plan->lead_in));
}

void Session::abandon_cut() {
  if (run_.state() != RunState::running) return;
  run_.abandon();
  end_of_run();
}

void Session::end_of_run() {
  const bool was_cut = std::exchange(run_is_cut_, false);
  const RunState state = run_.state();
  const std::uint32_t line = run_.line_in_hand();
  if (was_cut && cut_program_ && state != RunState::finished) resume_line_ = std::max(1U, line);
  if (state == RunState::failed) {
    Notice notice{NoticeLevel::danger, to_q(run_.why()), {}};
    if (!connection_->up()) notice.actions.push_back({tr("Connect again"), [this] { connect_again(); }});
    if (was_cut && cut_program_) {
      notice.text += tr(" Cut up to line %1 of %2.").arg(line).arg(cut_program_->program.lines);
      notice.actions.push_back({tr("Resume from line %1").arg(resume_line_), [this] { resume_cut(resume_line_); }});
    }
    notify(notice);
  }
  if (was_cut && cut_program_) {
    note_in_book([&](Book& b) {
      Entry entry;
      entry.time = now().toStdString();
      entry.sheet = "cut";
      entry.subject = QFileInfo(cut_program_->path).fileName().toStdString();
      entry.result = {{"ended", state == RunState::finished    ? "finished"
                                : state == RunState::abandoned ? "abandoned"
                                                               : "failed"},
                      {"line", line},
                      {"lines", cut_program_->program.lines}};
      if (state != RunState::finished) entry.result["failed"] = true;
      b.history.push_back(std::move(entry));
    });
    if (state == RunState::finished) notify({NoticeLevel::good, tr("The program was cut to its end."), {}});
    if (state == RunState::abandoned)
      notify(
          {NoticeLevel::attention,
           tr("The job was abandoned at line %1. The position is kept, and the program remembers the line.").arg(line),
           {{tr("Resume from line %1").arg(resume_line_), [this] { resume_cut(resume_line_); }}}});
  }
  emit run_ended();
}

}  // namespace ypsi::app
