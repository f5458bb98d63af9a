// A pause, a line to go on at, and the way in.
#include <QFileInfo>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "core/book/tool_change.h"
#include "core/program/own_blocks.h"
#include "core/program/read_setting.h"
#include "core/program/resume.h"
#include "core/tasks/cut.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {

void JobSession::ask_for_pause() {
  awaited_ = pause_;
  const QString dial = awaited_->dial ? tr("Set the spindle's dial to %1 for %2 rpm.")
                                            .arg(awaited_->dial->position, 0, 'f', 1)
                                            .arg(awaited_->dial->rpm, 0, 'f', 0)
                                      : QString();
  QString words = dial + " " + tr("The machine stands; on the sheet Cut say when it is set.");
  if (awaited_->tool > 0) {
    const Tool* tool = editor_.book().tool(awaited_->tool);
    words = tr("Tool change: put T%1 in%2. The machine stands; on the sheet Cut say when it is in.")
                .arg(awaited_->tool)
                .arg(tool && !tool->name.empty() ? " (" + to_q(tool->name) + ")" : QString());
    if (awaited_->dial) words += " " + dial;
  }
  notices_.notify({NoticeLevel::attention, words, {{tr("Go to Cut"), [this] { notices_.lead_to(cut_id); }}}, [this] {
                     return awaited_.has_value();
                   }});
}

void JobSession::tool_is_in() {
  const int tool = tool_awaited();
  if (tool == 0 || !machine_.standing_ready() || !machine_.tool_put_in(tool)) return;
  const auto how = zero_after_change(editor_.book(), tool);
  if (how == ZeroAfterChange::by_length) {
    if (machine_.set_zero_by_length())
      notices_.notify(
          {NoticeLevel::good, tr("Z zero is set for T%1 by its length. Continue when you are ready.").arg(tool), {}});
  } else if (how != ZeroAfterChange::holds) {
    notices_.notify(
        {NoticeLevel::attention,
         tr("T%1 is in, and nobody knows how long it is: set Z zero for it, then come back and continue.").arg(tool),
         {{tr("Go to Work zero"), [this] { notices_.lead_to(work_zero_id); }}}});
  }
}

void JobSession::continue_after_pause(bool even_so) {
  if (!awaited_) return;
  const Pause done = *awaited_;
  if (done.tool > 0 && machine_.status().tool != done.tool) return tool_is_in();
  const std::uint32_t line = done.tool > 0 ? done.line + 1 : done.line;  // the change itself is done
  const auto again = [this, even_so] { continue_after_pause(even_so); };
  if (!knows_its_place(line, again) || !judged(again)) return;
  if (!even_so && !on_the_same_ground(done.tool > 0, tr("Continue even so"), [this] { continue_after_pause(true); }))
    return;
  const auto plan = way_in(line);
  if (!plan) return;
  if (done.dial) dialled_ = done.dial->rpm;
  go_on_at(*plan, done.seen);
}

/// Where the machine may go, told from work zero.
Extents JobSession::room_in_work() const {
  Extents room;
  WorkPosition low, high;
  for (const Axis a : all_axes) {
    low[a] = machine_.room(a).low - editor_.book().job.zero(a).value_or(0);
    high[a] = machine_.room(a).high - editor_.book().job.zero(a).value_or(0);
  }
  room.include(low.x, low.y, low.z);
  room.include(high.x, high.y, high.z);
  return room;
}

/// Whether the machine stands homed, with a work zero, so that `line` is a place; else says so, with `again` to try it
/// anew.
bool JobSession::knows_its_place(std::uint32_t line, const std::function<void()>& again) {
  if (!machine_.must_be_there() || !program_) return false;
  const auto& job = editor_.book().job;
  if (!machine_.status().all_homed() || !machine_.standing_ready() || !job.has_zero()) {
    notices_.notify(
        {NoticeLevel::attention,
         tr("Home the machine first, and see that work zero is set; then resume from line %1.").arg(line),
         {{tr("Home"), [this] { machine_.home(); }}, {tr("Resume from line %1").arg(line), again, this_job_still()}}});
    return false;
  }
  return true;
}

/// The way into the program at `line`; none where there is none now, which is said.
std::optional<ResumePlan> JobSession::way_in(std::uint32_t line) {
  const auto& job = editor_.book().job;
  auto plan = plan_resume(program_->text, line, editor_.book().machine.safe_height - *job.zero(Axis::z),
                          read_setting(editor_.book()), machine_.status().tool, room_in_work());
  if (!plan) machine_.ask(tl::make_unexpected(plan.error()));
  if (!plan || !machine_.send_work_zero()) return std::nullopt;
  return std::move(*plan);
}

void JobSession::go_on_at(const ResumePlan& plan, std::uint32_t seen) {
  const bool new_run = !cut_program_ || cut_program_ != program_ || !progress_.open();
  cut_program_ = program_;
  if (new_run) {
    begin_progress();
  } else {
    ground_ = ground();
    progress_.ground(*ground_);
  }
  awaited_.reset();
  run_cut(plan.line, plan.lead_in, seen);
}

void JobSession::resume_cut(std::uint32_t line, bool dry, bool even_so) {
  const auto again = [this, line, dry, even_so] { resume_cut(line, dry, even_so); };
  if (!program_ || !must_be_idle() || !knows_its_place(line, again)) return;
  if (!dry && !judged(again)) return;
  if (!dry && uses_beam(program_->program, editor_.book().machine.heads) && !machine_.beam_seen_to()) return;
  if (!even_so && !on_the_same_ground(false, tr("Resume even so"), [this, line, dry] { resume_cut(line, dry, true); }))
    return;
  const auto plan = way_in(line);
  if (!plan) return;
  if (dry) {
    ZeroWay way;
    way.blocks = plan->over;
    return go(way);
  }
  if (plan->modes.spindle_on && !dial_set(plan->modes.speed, again)) return;
  const auto at_once = next_pause(program_->program, editor_.book(), machine_.status().tool, dialled_, plan->line);
  if (at_once && at_once->line == plan->line && at_once->tool == 0 && !dial_set(at_once->dial->rpm, again)) return;
  go_on_at(*plan, 0);
}

/// A run that was broken off by a crash or a power cut is offered once its program is there.
void JobSession::offer_left_over() {
  if (!left_over_ || !program_ || program_->path != to_q(left_over_->program)) return;
  const Progress left = *std::exchange(left_over_, std::nullopt);
  const QString name = QFileInfo(program_->path).fileName();
  if (fingerprint(program_->text) != left.print) {
    notices_.notify(
        {NoticeLevel::attention,
         tr("The last cut of “%1” was broken off at line %2, but the file has changed since: it cannot be resumed.")
             .arg(name)
             .arg(left.line),
         {}});
    return;
  }
  resume_line_ = left.line;
  ground_ = left.ground;
  notices_.notify({NoticeLevel::attention,
                   tr("The last cut of “%1” was broken off at line %2 of %3. Home the machine, then resume it.")
                       .arg(name)
                       .arg(left.line)
                       .arg(program_->program.lines),
                   {resume_act()}});
}

}  // namespace ypsi::app
