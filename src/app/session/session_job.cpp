// The program: loaded, cut, ended, resumed.
#include <QFileInfo>

#include "app/session/session.h"
#include "core/program/resume.h"

namespace ypsi::app {

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
  if (!link() || !program_ || !send_work_zero()) return;
  cut_program_ = program_;
  resume_line_ = 0;
  run_is_cut_ = true;
  ask(run_.start(*link(), cut_program_->text));
}

/// The controller may be another than the one at which work zero was set.
bool Session::send_work_zero() {
  for (const Axis a : all_axes)
    if (const auto& zero = book_.job.zero(a); zero && !ask(link()->set_work_zero(a, *zero))) return false;
  return true;
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
  if (!send_work_zero()) return;
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
