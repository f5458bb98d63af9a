// The way to the machine: followed, lost, opened again, and what the owner must hear of it.
#include <cmath>

#include "app/session/session.h"

namespace ypsi::app {
namespace {
constexpr qint64 told_every_ms = 16;
constexpr std::size_t disturbed_after_lines = 5;
}  // namespace

/// What the book says of a controller's settings, by their names.
std::vector<std::pair<std::string, double>> Session::settings_in_book() const {
  std::vector<std::pair<std::string, double>> all;
  for (const Axis a : all_axes) {
    const AxisSetup& axis = book_.machine.axis(a);
    all.emplace_back(axis_setting(a, "steps_per_mm"), axis.steps_per_mm);
    if (axis.soft_min) all.emplace_back(axis_setting(a, "soft_min_mm"), *axis.soft_min);
    if (axis.soft_max) all.emplace_back(axis_setting(a, "soft_max_mm"), *axis.soft_max);
  }
  return all;
}

void Session::bring_machine_in_line() {
  if (!connection_ || !connection_->up()) return;
  // Settings follow the book (undo, redo, another save opened); a machine that moves keeps what it has and is told
  // later.
  for (const auto& [name, value] : settings_in_book()) ask(link()->set_setting(name, value));
  send_work_zero();
  keep_settings();
}

void Session::compare_settings() {
  if (!connection_ || !connection_->up()) return;
  QStringList found;
  for (const auto& [name, value] : settings_in_book())
    if (const auto there = link()->setting(name); there && std::fabs(*there - value) > 1e-6)
      found << tr("%1 is %2, in the book %3")
                   .arg(to_q(name), to_q(format_number(*there, 3)), to_q(format_number(value, 3)));
  if (found.isEmpty()) return;
  const QString more = found.size() > 2 ? tr(" and %1 more").arg(found.size() - 2) : QString();
  notify({NoticeLevel::attention,
          tr("This controller is set otherwise than the book: %1%2. Nothing was changed.")
              .arg(found.mid(0, 2).join("; "), more),
          {{tr("Set it as in the book"), [this] { bring_machine_in_line(); }}}});
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

}  // namespace ypsi::app
