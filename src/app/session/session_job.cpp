// The program: loaded, cut, ended, resumed.
#include <QFileInfo>
#include <algorithm>

#include "app/session/session.h"
#include "core/book/tool_change.h"
#include "core/motion/machine_kinematics.h"
#include "core/program/read_setting.h"
#include "core/program/resume.h"

namespace ypsi::app {

void Session::load_program(const QString& path) {
  if (in_job()) {
    notify({NoticeLevel::attention, tr("A program is being cut; load another when it has ended."), {}});
    return;
  }
  read_with_ = read_setting(book_);
  loader_.load(path, kinematics_of(book_.machine), *read_with_);
}

void Session::start_cut(bool even_so) {
  if (!link() || !program_) return;
  if (!checked()) {
    start_wanted_ = true;  // it is a matter of a moment
    return;
  }
  start_wanted_ = false;
  if (const std::size_t left = stops(); left > 0) {
    notify({NoticeLevel::danger,
            tr("The ready check found %n thing(s) that stop the start. Mend them, or say there why you go on.", "",
               static_cast<int>(left)),
            {{tr("Go to Ready check"), [this] { emit sheet_wanted("ready_check"); }}}});
    return;
  }
  if (const std::size_t open = unticked(); open > 0 && !even_so) {
    notify({NoticeLevel::attention,
            tr("%n point(s) of your own list are not ticked on the sheet Ready check.", "", static_cast<int>(open)),
            {{tr("Go to Ready check"), [this] { emit sheet_wanted("ready_check"); }},
             {tr("Start even so"), [this] { start_cut(true); }}}});
    return;
  }
  const auto& events = program_->program.events;
  const auto first =
      std::find_if(events.begin(), events.end(), [](const Event& e) { return e.kind == EventKind::spindle_on; });
  if (first != events.end() && !dial_set(first->value, [this, even_so] { start_cut(even_so); })) return;
  if (!send_work_zero()) return;
  keep_ready_check();
  ticked_.clear();  // the next part is held down anew
  cut_program_ = program_;
  begin_progress();
  run_cut(1, {});
}

/// Says so where a crash could not be resumed from.
void Session::begin_progress() {
  if (progress_.begin(program_->path, program_->text)) return;
  notify(
      {NoticeLevel::attention,
       tr("How far the cut comes cannot be written beside the book, so that after a crash or a power cut nobody would "
          "know the line. Is there room on the disk?"),
       {}});
}

void Session::run_cut(std::uint32_t first, std::vector<std::string> lead_in, std::uint32_t seen) {
  resume_line_ = cut_to_ = 0;
  cut_finished_ = false;
  left_over_.reset();
  pause_ = next_pause(program_->program, book_, status_.tool, dialled_, std::max(first, seen + 1));
  run_is_cut_ = true;
  if (!ask(run_.start(*link(), cut_program_->text, first, std::move(lead_in), pause_ ? pause_->line : 0)))
    run_is_cut_ = false;
}

/// Whether the spindle turns at `rpm` for all the owner said of its dial; else asks, and goes on with `then`.
bool Session::dial_set(double rpm, const std::function<void()>& then) {
  const auto dial = dial_for(book_.machine.spindle, rpm, dialled_);
  if (!dial) return true;
  notify({NoticeLevel::attention,
          tr("Set the spindle's dial to %1: the program wants %2 rpm.")
              .arg(dial->position, 0, 'f', 1)
              .arg(dial->rpm, 0, 'f', 0),
          {{tr("The dial is set"), [this, then, set = dial->rpm] {
              dialled_ = set;
              then();
            }}}});
  return false;
}

void Session::ask_for_pause() {
  awaited_ = pause_;
  const QString dial = awaited_->dial ? tr("Set the spindle's dial to %1 for %2 rpm.")
                                            .arg(awaited_->dial->position, 0, 'f', 1)
                                            .arg(awaited_->dial->rpm, 0, 'f', 0)
                                      : QString();
  QString words = dial + " " + tr("The machine stands; on the sheet Cut say when it is set.");
  if (awaited_->tool > 0) {
    const Tool* tool = book_.tool(awaited_->tool);
    words = tr("Tool change: put T%1 in%2. The machine stands; on the sheet Cut say when it is in.")
                .arg(awaited_->tool)
                .arg(tool && !tool->name.empty() ? " (" + to_q(tool->name) + ")" : QString());
    if (awaited_->dial) words += " " + dial;
  }
  notify({NoticeLevel::attention, words, {{tr("Go to Cut"), [this] { emit sheet_wanted("cut"); }}}});
}

void Session::tool_is_in() {
  const int tool = tool_awaited();
  if (!link() || tool == 0 || !standing_ready()) return;
  if (bench() && !ask(bench()->put_tool(tool))) return;
  link()->tool_changed(tool);
  ask({});
  status_.tool = tool;
  const auto how = zero_after_change(book_, tool);
  if (how == ZeroAfterChange::by_length) {
    if (set_zero_by_length())
      notify(
          {NoticeLevel::good, tr("Z zero is set for T%1 by its length. Continue when you are ready.").arg(tool), {}});
  } else if (how != ZeroAfterChange::holds) {
    notify({NoticeLevel::attention,
            tr("T%1 is in, and nobody knows how long it is: set Z zero for it, then come back and continue.").arg(tool),
            {{tr("Go to Work zero"), [this] { emit sheet_wanted("work_zero"); }}}});
  }
}

void Session::continue_after_pause() {
  if (!awaited_) return;
  const Pause done = *awaited_;
  if (done.tool > 0 && status_.tool != done.tool) return tool_is_in();
  const auto plan = way_in(done.tool > 0 ? done.line + 1 : done.line,  // the change itself is done
                           [this] { continue_after_pause(); });
  if (!plan) return;
  if (done.dial) dialled_ = done.dial->rpm;
  go_on_at(*plan, done.seen);
}

/// The controller may be another than the one at which work zero was set.
bool Session::send_work_zero() {
  if (!link()) return false;
  for (std::size_t frame = 0; frame < work_frame_count; ++frame)
    for (const Axis a : all_axes)
      if (const auto& zero = book_.job.frames[frame].zero(a))
        if (const std::string name = work_zero_setting(static_cast<int>(frame), a);
            link()->setting(name) != *zero && !ask(link()->set_setting(name, *zero)))
          return false;
  // A controller without the setting starts in G54.
  const auto in_use = link()->setting("work.frame");
  if (!in_use && book_.job.frame == 0) return true;
  return (in_use && *in_use == book_.job.frame) || ask(link()->set_setting("work.frame", book_.job.frame));
}

/// Where the machine may go, told from work zero.
Extents Session::room_in_work() const {
  Extents room;
  WorkPosition low, high;
  for (const Axis a : all_axes) {
    low[a] = this->room(a).low - book_.job.zero(a).value_or(0);
    high[a] = this->room(a).high - book_.job.zero(a).value_or(0);
  }
  room.include(low.x, low.y, low.z);
  room.include(high.x, high.y, high.z);
  return room;
}

/// The way into the program at `line`; none where there is none now, which is said with `again` to try it anew.
std::optional<ResumePlan> Session::way_in(std::uint32_t line, const std::function<void()>& again) {
  if (!link() || !program_) return std::nullopt;
  const auto& job = book_.job;
  if (!status_.all_homed() || !standing_ready() || !job.has_zero()) {
    notify({NoticeLevel::attention,
            tr("Home the machine first, and see that work zero is set; then resume from line %1.").arg(line),
            {{tr("Home"), [this] { home(); }}, {tr("Resume from line %1").arg(line), again}}});
    return std::nullopt;
  }
  auto plan = plan_resume(program_->text, line, book_.machine.safe_height - *job.zero(Axis::z), read_setting(book_),
                          status_.tool, room_in_work());
  if (!plan) ask(tl::make_unexpected(plan.error()));
  if (!plan || !send_work_zero()) return std::nullopt;
  return std::move(*plan);
}

void Session::go_on_at(const ResumePlan& plan, std::uint32_t seen) {
  const bool new_run = !cut_program_ || cut_program_ != program_ || !progress_.open();
  cut_program_ = program_;
  if (new_run) begin_progress();
  awaited_.reset();
  run_cut(plan.line, plan.lead_in, seen);
}

void Session::resume_cut(std::uint32_t line, bool dry) {
  const auto again = [this, line, dry] { resume_cut(line, dry); };
  const auto plan = way_in(line, again);
  if (!plan) return;
  if (dry) {
    ZeroWay way;
    way.blocks = plan->over;
    return go(way);
  }
  if (plan->modes.spindle_on && !dial_set(plan->modes.speed, again)) return;
  const auto at_once = next_pause(program_->program, book_, status_.tool, dialled_, plan->line);
  if (at_once && at_once->line == plan->line && at_once->tool == 0 && !dial_set(at_once->dial->rpm, again)) return;
  go_on_at(*plan, 0);
}

void Session::abandon_cut() {
  if (awaited_) {
    resume_line_ = awaited_->line;
    awaited_.reset();
    return keep_end_of_cut(RunState::abandoned, resume_line_);
  }
  if (run_.state() != RunState::running) return;
  run_.abandon();
  end_of_run();
}

void Session::end_of_run() {
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
    if (!connection_->up()) notice.actions.push_back({tr("Connect again"), [this] { connect_again(); }});
    if (was_cut && cut_program_) {
      notice.text += tr(" Cut up to line %1 of %2.").arg(line).arg(cut_program_->program.lines);
      notice.actions.push_back({tr("Resume from line %1").arg(resume_line_), [this] { resume_cut(resume_line_); }});
    }
    notify(notice);
  }
  if (was_cut && cut_program_ && state == RunState::finished && pause_) {
    ask_for_pause();
  } else if (was_cut && cut_program_) {
    keep_end_of_cut(state, line);
  }
  emit run_ended();
}

void Session::keep_end_of_cut(RunState ended, std::uint32_t line) {
  const bool finished = ended == RunState::finished, abandoned = ended == RunState::abandoned;
  if (finished || abandoned) progress_.end();
  QString next;
  note_in_book([&](Book& b) {
    Entry entry;
    entry.time = now().toStdString();
    entry.sheet = "cut";
    entry.subject = QFileInfo(cut_program_->path).fileName().toStdString();
    entry.result = {{"ended", finished    ? "finished"
                              : abandoned ? "abandoned"
                                          : "failed"},
                    {"line", line},
                    {"lines", cut_program_->program.lines}};
    if (!finished) entry.result["failed"] = true;
    b.history.push_back(std::move(entry));
    if (finished && !b.job.queue.empty()) {
      next = to_q(b.job.queue.front());
      b.job.queue.erase(b.job.queue.begin());
    }
  });
  if (finished && !next.isEmpty())
    notify({NoticeLevel::good,
            tr("The program was cut to its end. Next on this zero: “%1”.").arg(QFileInfo(next).fileName()),
            {{tr("Load it"), [this, next] { load_program(next); }}}});
  else if (finished)
    notify({NoticeLevel::good, tr("The program was cut to its end."), {}});
  if (abandoned)
    notify({NoticeLevel::attention,
            tr("The job was abandoned at line %1. The position is kept, and the program remembers the line.").arg(line),
            {{tr("Resume from line %1").arg(resume_line_), [this] { resume_cut(resume_line_); }}}});
}

}  // namespace ypsi::app
