// The program: loaded, cut, ended.
#include <QFileInfo>
#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "core/book/tool_change.h"
#include "core/motion/machine_kinematics.h"
#include "core/program/read_setting.h"
#include "core/tasks/cut.h"
#include "core/tasks/ready_check.h"

namespace ypsi::app {

JobSession::JobSession(BookEditor& editor, MachineSession& machine, Notices& notices)
    : editor_(editor),
      machine_(machine),
      notices_(notices),
      loader_(this),
      checker_(this),
      progress_(editor.book_path()) {
  machine_.set_streaming(
      {[this] { return run_.state() == RunState::running; }, [this] { return tick(); },
       [this] {
         if (std::exchange(tool_checked_, machine_.status().tool) != tool_checked_) checker_.changed();
       },
       [this](std::vector<NoticeAction> acts) {
         if (resume_line_ > 0)
           acts.push_back({tr("Resume from line %1").arg(resume_line_), [this] { resume_cut(resume_line_); }});
         return acts;
       }});
  follow_program_checks();
  connect(&editor_, &BookEditor::book_opened, this, &JobSession::load_last_program);
  connect(&machine_, &MachineSession::connected_elsewhere, this, [this] { dialled_ = 0; });
  connect(&loader_, &ProgramLoader::loaded, this, [this](std::shared_ptr<const LoadedProgram> loaded) {
    program_ = std::move(loaded);
    resume_line_ = 0;
    const std::string path = program_->path.toStdString();
    editor_.note_in_book([&](Book& b) {
      b.job.program = path;
      auto& recent = b.job.recent_programs;
      std::erase(recent, path);
      recent.insert(recent.begin(), path);
      if (recent.size() > 8) recent.resize(8);
    });
    emit program_changed();
  });
  connect(&loader_, &ProgramLoader::failed, this, [this](const QString& path, const QString& sentence) {
    notices_.notify({NoticeLevel::danger, tr("“%1” was not loaded. %2").arg(QFileInfo(path).fileName(), sentence), {}});
    emit program_changed();
  });
}

/// The one that was broken off, or the last one of this book.
void JobSession::load_last_program() {
  left_over_ = progress_.left();
  if (left_over_ && QFileInfo::exists(to_q(left_over_->program)))
    load_program(to_q(left_over_->program));
  else if (const std::string& last = editor_.book().job.program; !last.empty() && QFileInfo::exists(to_q(last)))
    load_program(to_q(last));
}

bool JobSession::tick() {
  if (run_.state() != RunState::running) return false;
  run_.tick();
  if (run_is_cut_) progress_.line(run_.line_in_hand());
  if (run_.state() == RunState::running) return false;
  end_of_run();
  return run_.state() == RunState::failed;
}

void JobSession::load_program(const QString& path) {
  if (in_job()) {
    notices_.notify({NoticeLevel::attention, tr("A program is being cut; load another when it has ended."), {}});
    return;
  }
  read_with_ = read_setting(editor_.book());
  loader_.load(path, kinematics_of(editor_.book().machine), *read_with_);
}

void JobSession::start_cut(bool even_so) {
  if (!program_ || !machine_.must_be_free()) return;
  if (!checked()) {
    start_wanted_ = true;  // it is a matter of a moment
    return;
  }
  start_wanted_ = false;
  if (const std::size_t left = stops(); left > 0) {
    notices_.notify({NoticeLevel::danger,
                     tr("The ready check found %n thing(s) that stop the start. Mend them, or say there why you go on.",
                        "", static_cast<int>(left)),
                     {{tr("Go to Ready check"), [this] { notices_.lead_to(ready_check_id); }}}});
    return;
  }
  if (const std::size_t open = unticked(); open > 0 && !even_so) {
    notices_.notify(
        {NoticeLevel::attention,
         tr("%n point(s) of your own list are not ticked on the sheet Ready check.", "", static_cast<int>(open)),
         {{tr("Go to Ready check"), [this] { notices_.lead_to(ready_check_id); }},
          {tr("Start even so"), [this] { start_cut(true); }}}});
    return;
  }
  const auto& events = program_->program.events;
  const auto first =
      std::find_if(events.begin(), events.end(), [](const Event& e) { return e.kind == EventKind::spindle_on; });
  if (first != events.end() && !dial_set(first->value, [this, even_so] { start_cut(even_so); })) return;
  if (!machine_.send_work_zero()) return;
  keep_ready_check();
  ticked_.clear();  // the next part is held down anew
  cut_program_ = program_;
  begin_progress();
  run_cut(1, {});
}

/// Says so where a crash could not be resumed from.
void JobSession::begin_progress() {
  if (progress_.begin(program_->path, program_->text)) return;
  notices_.notify(
      {NoticeLevel::attention,
       tr("How far the cut comes cannot be written beside the book, so that after a crash or a power cut nobody would "
          "know the line. Is there room on the disk?"),
       {}});
}

void JobSession::run_cut(std::uint32_t first, std::vector<std::string> lead_in, std::uint32_t seen) {
  resume_line_ = cut_to_ = 0;
  cut_finished_ = false;
  left_over_.reset();
  pause_ = next_pause(program_->program, editor_.book(), machine_.status().tool, dialled_, std::max(first, seen + 1));
  run_is_cut_ = true;
  if (!machine_.ask(
          run_.start(*machine_.link(), cut_program_->text, first, std::move(lead_in), pause_ ? pause_->line : 0)))
    run_is_cut_ = false;
}

/// Whether the spindle turns at `rpm` for all the owner said of its dial; else asks, and goes on with `then`.
bool JobSession::dial_set(double rpm, const std::function<void()>& then) {
  const auto dial = dial_for(editor_.book().machine.spindle, rpm, dialled_);
  if (!dial) return true;
  notices_.notify({NoticeLevel::attention,
                   tr("Set the spindle's dial to %1: the program wants %2 rpm.")
                       .arg(dial->position, 0, 'f', 1)
                       .arg(dial->rpm, 0, 'f', 0),
                   {{tr("The dial is set"), [this, then, set = dial->rpm] {
                       dialled_ = set;
                       then();
                     }}}});
  return false;
}

void JobSession::abandon_cut() {
  if (awaited_) {
    resume_line_ = awaited_->line;
    awaited_.reset();
    return keep_end_of_cut(RunState::abandoned, resume_line_);
  }
  if (run_.state() != RunState::running) return;
  run_.abandon();
  end_of_run();
}

void JobSession::end_of_run() {
  const bool was_cut = std::exchange(run_is_cut_, false);
  const RunState state = run_.state();
  const std::uint32_t line = run_.line_in_hand();
  if (was_cut) {
    cut_to_ = line;
    cut_finished_ = state == RunState::finished && !pause_;
  }
  if (was_cut && cut_program_ && state != RunState::finished) resume_line_ = std::max(1U, line);
  if (state == RunState::failed) {
    Notice notice{NoticeLevel::danger, to_q(run_.why()), {}};
    if (!machine_.up()) notice.actions.push_back({tr("Connect again"), [this] { machine_.connect_again(); }});
    if (was_cut && cut_program_) {
      notice.text += tr(" Cut up to line %1 of %2.").arg(line).arg(cut_program_->program.lines);
      notice.actions.push_back({tr("Resume from line %1").arg(resume_line_), [this] { resume_cut(resume_line_); }});
    }
    notices_.notify(notice);
  }
  if (was_cut && cut_program_ && state == RunState::finished && pause_) {
    ask_for_pause();
  } else if (was_cut && cut_program_) {
    keep_end_of_cut(state, line);
  }
  emit run_ended();
}

void JobSession::keep_end_of_cut(RunState ended, std::uint32_t line) {
  const bool finished = ended == RunState::finished, abandoned = ended == RunState::abandoned;
  if (finished || abandoned) progress_.end();
  QString next;
  editor_.note_in_book([&](Book& b) {
    Entry entry;
    entry.time = editor_.now().toStdString();
    entry.sheet = cut_id;
    entry.subject = QFileInfo(cut_program_->path).fileName().toStdString();
    entry.result = result_of(CutEntry{.ended = finished    ? "finished"
                                               : abandoned ? "abandoned"
                                                           : "failed",
                                      .line = static_cast<int>(line),
                                      .lines = static_cast<int>(cut_program_->program.lines),
                                      .failed = !finished});
    b.history.push_back(std::move(entry));
    if (finished && !b.job.queue.empty()) {
      next = to_q(b.job.queue.front());
      b.job.queue.erase(b.job.queue.begin());
    }
  });
  if (finished && !next.isEmpty())
    notices_.notify({NoticeLevel::good,
                     tr("The program was cut to its end. Next on this zero: “%1”.").arg(QFileInfo(next).fileName()),
                     {{tr("Load it"), [this, next] { load_program(next); }}}});
  else if (finished)
    notices_.notify({NoticeLevel::good, tr("The program was cut to its end."), {}});
  if (abandoned)
    notices_.notify(
        {NoticeLevel::attention,
         tr("The job was abandoned at line %1. The position is kept, and the program remembers the line.").arg(line),
         {{tr("Resume from line %1").arg(resume_line_), [this] { resume_cut(resume_line_); }}}});
}

}  // namespace ypsi::app
