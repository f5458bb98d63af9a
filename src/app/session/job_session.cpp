// The program: loaded, cut, ended.
#include <QFileInfo>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "core/book/tool_change.h"
#include "core/motion/machine_kinematics.h"
#include "core/program/cut_length.h"
#include "core/program/own_blocks.h"
#include "core/program/read_setting.h"
#include "core/tasks/cut.h"
#include "core/tasks/ready_check.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {
namespace {
constexpr int start_within_ms = 2000;
constexpr double same_place_mm = 1e-6;
}  // namespace

JobSession::JobSession(BookEditor& editor, MachineSession& machine, Notices& notices)
    : editor_(editor),
      machine_(machine),
      notices_(notices),
      loader_(this),
      checker_(this),
      progress_(editor.book_path()),
      opening_(editor.book_path()) {
  machine_.set_streaming({[this] { return run_.state() == RunState::running; }, [this] { return tick(); },
                          [this] {
                            if (std::exchange(tool_checked_, machine_.status().tool) != tool_checked_)
                              checker_.changed();
                            if (wish_ && !machine_.standing_ready()) drop_start();
                          },
                          [this](std::vector<NoticeAction> acts) {
                            if (resume_line_ > 0) acts.push_back(resume_act());
                            return acts;
                          }});
  follow_program_checks();
  connect(&editor_, &BookEditor::book_opened, this, &JobSession::load_last_program);
  connect(&machine_, &MachineSession::connected_elsewhere, this, [this] {
    dialled_ = 0;
    drop_start();
    if (awaited_) abandon_cut();  // what that machine waited for is not this one's
  });
  connect(&machine_, &MachineSession::acted, this, &JobSession::drop_start);
  wish_ends_.setSingleShot(true);
  wish_ends_.setInterval(start_within_ms);
  connect(&wish_ends_, &QTimer::timeout, this, &JobSession::drop_start);
  connect(&loader_, &ProgramLoader::loaded, this, [this](std::shared_ptr<const LoadedProgram> loaded) {
    program_ = std::move(loaded);
    resume_line_ = 0;
    ground_.reset();
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
    opening_.clear();
    notices_.notify({NoticeLevel::danger, tr("“%1” was not loaded. %2").arg(QFileInfo(path).fileName(), sentence), {}});
    emit program_changed();
  });
}

/// The one that was broken off, or the last one of this book.
void JobSession::load_last_program() {
  left_over_ = progress_.left();
  if (const QString path = editor_.read_only() ? QString() : opening_.take_left(); !path.isEmpty()) {
    notices_.notify({NoticeLevel::attention,
                     tr("The last time Ypsilograph ended while “%1” was being opened, so it was not opened again.")
                         .arg(QFileInfo(path).fileName()),
                     {{tr("Open it"), [this, path] { load_program(path); }, [this] { return !program_; }}}});
    return;
  }
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
  opening_.set(path);
  read_with_ = read_setting(editor_.book());
  loader_.load(path, kinematics_of(editor_.book().machine), *read_with_);
}

void JobSession::start_cut(bool even_so) {
  if (!program_ || !must_be_idle() || !judged([this, even_so] { start_cut(even_so); })) return;
  if (const std::size_t open = unticked(); open > 0 && !even_so) {
    notices_.notify({NoticeLevel::attention,
                     open == 1 ? tr("One point before a cut is not ticked on the sheet Ready check.")
                               : tr("%1 points before a cut are not ticked on the sheet Ready check.").arg(open),
                     {{tr("Go to Ready check"), [this] { notices_.lead_to(ready_check_id); }},
                      {tr("Start even so"), [this] { start_cut(true); }}},
                     this_job_still()});
    return;
  }
  const auto& events = program_->program.events;
  const auto first =
      std::find_if(events.begin(), events.end(), [](const Event& e) { return e.kind == EventKind::spindle_on; });
  if (first != events.end() && !dial_set(first->value, [this, even_so] { start_cut(even_so); })) return;
  if (uses_beam(program_->program, editor_.book().machine.heads) && !machine_.beam_seen_to()) return;
  if (!machine_.send_work_zero()) return;
  keep_ready_check();
  ticked_.clear();  // the next part is held down anew
  machine_.forget_beam_points();
  cut_program_ = program_;
  begin_progress();
  run_cut(1, {});
}

/// Whether no program is on its way, or waits for a hand; else says so.
bool JobSession::must_be_idle() {
  if (!machine_.must_be_free()) return false;
  if (run_.state() != RunState::running && !awaited_) return true;
  return machine_.ask(fail("busy", "A program is being cut already; wait for its end, or abandon it first."));
}

/// Whether the program was judged as book and machine are now, and nothing stops it that its owner has not answered
/// for. Where the check is still on its way, `go` comes after it; see start_cut().
bool JobSession::judged(const std::function<void()>& go) {
  if (!checked()) {
    wish_ = go;
    wish_ends_.start();
    emit checked_anew();
    return false;
  }
  const std::size_t left = stops();
  if (left == 0) return true;
  notices_.notify({NoticeLevel::danger,
                   left == 1
                       ? tr("The ready check found one thing that stops the start. Mend it, or say there why you go "
                            "on.")
                       : tr("The ready check found %1 things that stop the start. Mend them, or say there why you "
                            "go on.")
                             .arg(left),
                   {{tr("Go to Ready check"), [this] { notices_.lead_to(ready_check_id); }}},
                   [this, program = program_] { return program == program_ && stops() > 0; }});
  return false;
}

void JobSession::drop_start() {
  if (!std::exchange(wish_, nullptr)) return;
  wish_ends_.stop();
  notices_.notify({NoticeLevel::attention,
                   tr("The start was dropped: the check had not ended when something else came, or within two seconds. "
                      "Press it again."),
                   {}});
  emit checked_anew();
}

/// For a notice about the job as it is now: another program, another machine, or a cut makes it void.
std::function<bool()> JobSession::this_job_still() const {
  return [this, program = program_, machine = machine_.which_machine()] {
    return program == program_ && machine == machine_.which_machine() && !cutting();
  };
}

NoticeAction JobSession::resume_act() {
  return {tr("Resume from line %1").arg(resume_line_), [this, line = resume_line_] { resume_cut(line); },
          [this, still = this_job_still(), line = resume_line_] { return still() && resume_line_ == line; }};
}

CutGround JobSession::ground() const {
  CutGround now;
  const Job& job = editor_.book().job;
  for (const Axis a : all_axes)
    if (const auto& zero = job.zero(a)) now.zero[index(a)] = zero->mm;
  now.frame = job.frame;
  if (machine_.connection()) now.machine = machine_.connection()->line().to_text().toStdString();
  return now;
}

/// Whether zero, frame and machine are those of the cut that is gone on with; else says what differs and offers `act`.
/// After a tool change Z zero is another, and rightly.
bool JobSession::on_the_same_ground(bool z_may_differ, const QString& act, const std::function<void()>& even_so) {
  if (!ground_) return true;
  const CutGround now = ground();
  QStringList words;
  if (now.frame != ground_->frame)
    words << tr("the work frame was %1 and is %2").arg(to_q(frame_name(ground_->frame)), to_q(frame_name(now.frame)));
  else
    for (const Axis a : all_axes) {
      const auto &was = ground_->zero[index(a)], &is = now.zero[index(a)];
      if ((a == Axis::z && z_may_differ) || !was || !is || std::fabs(*is - *was) < same_place_mm) continue;
      words << tr("zero of %1 was moved by %2").arg(QChar(letter(a))).arg(editor_.length(*is - *was, 2));
    }
  if (now.machine != ground_->machine) words << tr("it was cut at another machine (%1)").arg(to_q(ground_->machine));
  if (words.isEmpty()) return true;
  notices_.notify({NoticeLevel::danger,
                   tr("Since that cut something has changed: %1. Gone on with like this, it meets another place than "
                      "where it ended. Nothing moved.")
                       .arg(words.join("; ")),
                   {{tr("Go to Work zero"), [this] { notices_.lead_to(work_zero_id); }},
                    {act, even_so, [this, now, still = this_job_still()] { return still() && ground() == now; }}}});
  return false;
}

/// Says so where a crash could not be resumed from.
void JobSession::begin_progress() {
  ground_ = ground();
  if (progress_.begin(program_->path, program_->text, *ground_)) return;
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
  run_first_ = first;
  run_tool_ = machine_.status().tool;
  machine_.tell_hands_the_blocks();
  run_.watch_beams(editor_.book().machine.heads);
  if (!machine_.ask(run_.start(*machine_.link(), cut_program_->text, first, std::move(lead_in),
                               pause_ ? pause_->line : cut_program_->program.lines + 1)))
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
                   {{tr("The dial is set"),
                     [this, then, set = dial->rpm] {
                       dialled_ = set;
                       then();
                     }}},
                   this_job_still()});
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
  if (was_cut && cut_program_)
    count_metres(state == RunState::finished && !pause_ ? cut_program_->program.lines : line);
  if (was_cut && cut_program_ && state != RunState::finished) resume_line_ = std::max(1U, line);
  if (state == RunState::failed) {
    Notice notice{NoticeLevel::danger, to_q(run_.why()), {}};
    if (!machine_.up()) notice.actions.push_back({tr("Connect again"), [this] { machine_.connect_again(); }});
    if (was_cut && cut_program_) {
      notice.text += tr(" Cut up to line %1 of %2.").arg(line).arg(cut_program_->program.lines);
      notice.actions.push_back(resume_act());
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

/// Blades wear by what they have cut.
void JobSession::count_metres(std::uint32_t last) {
  const auto metres = cut_metres(cut_program_->program, run_first_, last, run_tool_);
  const auto cut_any = [&](const Tool& t) { return metres.contains(t.number); };
  if (const auto& tools = editor_.book().tools; std::none_of(tools.begin(), tools.end(), cut_any)) return;
  editor_.note_in_book([&](Book& b) {
    for (Tool& t : b.tools)
      if (const auto cut = metres.find(t.number); cut != metres.end()) t.cut_m += cut->second;
  });
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
                     {{tr("Load it"), [this, next] { load_program(next); }}},
                     this_job_still()});
  else if (finished)
    notices_.notify({NoticeLevel::good, tr("The program was cut to its end."), {}});
  if (abandoned)
    notices_.notify(
        {NoticeLevel::attention,
         tr("The job was abandoned at line %1. The position is kept, and the program remembers the line.").arg(line),
         {resume_act()}});
}

}  // namespace ypsi::app
