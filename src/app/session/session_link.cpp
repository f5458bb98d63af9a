// The way to the machine: followed, lost, opened again, and what the owner must hear of it.
#include <algorithm>
#include <map>

#include "app/session/session.h"
#include "app/session/setting_words.h"
#include "core/book/build.h"
#include "core/book/changes.h"

namespace ypsi::app {
namespace {
constexpr qint64 told_every_ms = 16;
constexpr std::size_t disturbed_after_lines = 5;
}  // namespace

/// The controller follows a change of the book, and only it: what else differs is the owner's to settle.
void Session::set_machine_as_changed(const Book& before) {
  if (!connection_ || !connection_->up()) return;
  std::map<std::string, double> was;
  for (const auto& setting : controller_settings(before.machine)) was[setting.name] = setting.value;
  for (const auto& setting : controller_settings(book_.machine)) {
    const auto found = was.find(setting.name);
    // A machine that moves keeps what it has and is told later.
    if (found == was.end() || found->second != setting.value) ask(link()->set_setting(setting.name, setting.value));
  }
  send_work_zero();
  keep_settings();
}

std::vector<SettingDifference> Session::setting_differences() const {
  if (!connection_ || !connection_->up()) return {};
  const auto in_book = controller_settings(book_.machine);
  return differences(in_book, read_back(connection_->link(), in_book));
}

void Session::compare_settings() {
  const auto found = setting_differences();
  if (found.empty()) return;
  QStringList words;
  for (std::size_t i = 0; i < std::min<std::size_t>(2, found.size()); ++i)
    words << tr("%1 is %2, in the book %3")
                 .arg(setting_words(found[i].in_book), setting_value(found[i].in_book, found[i].in_controller, unit()),
                      setting_value(found[i].in_book, found[i].in_book.value, unit()));
  const QString more = found.size() > 2 ? tr(" and %1 more").arg(found.size() - 2) : QString();
  notify({NoticeLevel::attention,
          tr("This controller is set otherwise than the book: %1%2. Nothing was changed.").arg(words.join("; "), more),
          {{tr("Settle them one by one"), [this] { emit sheet_wanted("build#controller"); }}}});
}

void Session::settle(const SettingDifference& d, bool from_controller) {
  if (!link()) return;
  const std::string& name = d.in_book.name;
  const double left = from_controller ? d.in_controller : d.in_book.value;
  if (!from_controller && !ask(link()->set_setting(name, left))) return;
  Entry entry;
  entry.time = now().toStdString();
  entry.sheet = "build";
  entry.subject = std::string(1, letter(d.in_book.axis));
  entry.as_found = {{name, from_controller ? d.in_book.value : d.in_controller}};
  entry.as_left = {{name, left}};
  const QString words =
      tr("%1: %2").arg(setting_words(d.in_book), setting_value(d.in_book, left, LengthUnit::millimetre));
  entry.result = {{"words", (from_controller ? tr("%1, taken from the controller").arg(words)
                                             : tr("%1, set in the controller as in the book").arg(words))
                                .toStdString()}};
  // Undoing what the book took must not turn the controller round: it was never changed.
  change_book(
      tr("Settle %1").arg(setting_words(d.in_book)),
      [&](Book& b) {
        if (from_controller) take_from_controller(b, name, left);
        b.history.push_back(std::move(entry));
      },
      from_controller ? MachineFollows::no : MachineFollows::yes);
  keep_settings();
}

void Session::keep_build(const QString& words) {
  if (!book_.build_worksheet) return;
  const Book before = without_history(book_);
  // What the controller has where the book has none yet.
  std::array<std::optional<Room>, axis_count> limits;
  std::array<double, axis_count> steps{};
  for (const Axis a : all_axes)
    if (!book_.machine.axis(a).soft_min && connection_ && connection_->up())
      if (const auto in_use = link()->setting(axis_setting(a, "steps_per_mm"))) {
        limits[index(a)] = room(a);
        steps[index(a)] = *in_use;
      }
  change_book(tr("Keep the build"), [&](Book& b) {
    ypsi::keep_build(b, *b.build_worksheet, now().toStdString(), words.toStdString());
    for (const Axis a : all_axes)
      if (const auto& found = limits[index(a)]) take_limits(b, a, found->low, found->high, steps[index(a)]);
  });
  set_machine_as_changed(before);
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
  if (status_.state == MachineState::moving || status_.state == MachineState::cutting ||
      status_.state == MachineState::held || status_.state == MachineState::tool_change) {
    notify({NoticeLevel::attention, tr("The machine is moving; connect to another when it stands."), {}});
    return false;
  }
  emit leaving_connection();
  if (connection_) {
    connection_->save_settings();
    connection_->disconnect(this);
    connection_.release()->deleteLater();  // this may be called from its own tick
  }
  connection_ = std::move(connection);
  dialled_ = 0;  // another machine has another dial
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
  if (ran && run_is_cut_) progress_.line(run_.line_in_hand());
  const bool run_ended = ran && run_.state() != RunState::running;
  if (run_ended) end_of_run();
  status_ = connection_->link().status();
  if (status_.tool != before.tool) checker_.changed();
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
