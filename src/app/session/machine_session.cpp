// The way to the machine: followed, lost, opened again, and what the owner must hear of it.
#include "app/session/machine_session.h"

#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/session/setting_words.h"
#include "core/program/own_blocks.h"
#include "core/tasks/limits.h"
#include "link/by_hand/hand_link.h"
#include "link/lines/line_link.h"

namespace ypsi::app {
namespace {
constexpr qint64 told_every_ms = 16, told_at_least_every_ms = 500;  // what simulated people do is no status
constexpr std::size_t disturbed_after_lines = 5;
constexpr const char* ended_by_wish = "ended";  // needs no sentence, unless something could not be put back
}  // namespace

MachineSession::MachineSession(std::unique_ptr<Connection> connection, BookEditor& editor, Notices& notices)
    : editor_(editor), notices_(notices), connection_(std::move(connection)), lent_(editor.book_path()) {
  told_.start();
  connect(&editor_, &BookEditor::book_changed, this, [this] { rooms_ = {}; });
  connect(&editor_, &BookEditor::machine_must_follow, this, &MachineSession::set_machine_as_changed);
  connect(&editor_, &BookEditor::book_opened, this, [this] {
    if (!editor_.read_only()) send_work_zero();
    compare_settings();
  });
  connect(this, &MachineSession::connection_changed, this, [this] { rooms_ = {}; });
  follow_connection();
}

MachineSession::~MachineSession() {
  runner_.part_from_link({"closed", "The window was closed.", ""});
  if (connection_) lent_.keep(connection_->line(), runner_.owed());
  if (connection_) connection_->save_settings();
}

void MachineSession::follow_connection() {
  editor_.set_told_by_hand(hands() != nullptr);
  if (!connection_) return;
  connect(connection_.get(), &Connection::ticked, this, &MachineSession::tick);
  lent_before_ = true;
  bad_lines_told_ = connection_->bad_lines();
}

link::HandLink* MachineSession::told_inputs() const {
  if (!connection_ || (connection_->lines() && connection_->lines()->tells_inputs())) return nullptr;
  return connection_->cards();
}

bool MachineSession::use_connection(std::unique_ptr<Connection> connection) {
  const bool runs = streaming_.running();
  if (runs || status_.state == MachineState::moving || status_.state == MachineState::cutting ||
      status_.state == MachineState::held || status_.state == MachineState::tool_change) {
    notices_.notify({NoticeLevel::attention,
                     runs ? tr("A program is running; connect to another machine when it has ended.")
                          : tr("The machine is moving; connect to another when it stands."),
                     {}});
    if (connection) connection.release()->deleteLater();  // this may be called from its own tick
    return false;
  }
  if (connection_) {
    end_procedure(tr("Another machine was chosen, so what was under way at this one was ended."));
    runner_.part_from_link({"left", "", ""});
    connection_->save_settings();
    connection_->disconnect(this);
    connection_.release()->deleteLater();  // or from this one's
  }
  connection_ = std::move(connection);
  circuit_.forget();
  beam_points_.clear();
  armed_ = 0;
  clear_ = false;
  runner_.owed().clear();  // that was another controller's
  follow_connection();
  status_ = connection_ ? connection_->link().status() : MachineStatus{};
  line_lost_ = connecting_again_ = false;
  ++which_machine_;
  emit connected_elsewhere();
  emit status_changed();
  emit connection_changed();
  return true;
}

bool MachineSession::work_by_hand() {
  QString damaged;
  if (!use_connection(Connection::by_hand(editor_.book(), editor_.book_path() + QStringLiteral(".by-hand"), &damaged)))
    return false;
  if (!damaged.isEmpty()) notices_.notify({NoticeLevel::attention, damaged, {}});
  compare_settings();
  return true;
}

void MachineSession::connect_again() {
  if (!connection_) return;
  line_lost_ = connecting_again_ = true;
  (void)connection_->open();  // watch_opening() says why not
  status_ = connection_->link().status();
  emit status_changed();
  emit connection_changed();
}

void MachineSession::watch_opening() {
  if (line_lost_ && status_.state != MachineState::offline) came_back();
  if (!connecting_again_) return;
  const auto opened = connection_->opened();
  connecting_again_ = opened && !*opened;
  if (!opened)
    notices_.notify({NoticeLevel::danger,
                     to_q(opened.error().message),
                     {{tr("Connect again"), [this] { connect_again(); }}},
                     while_it_is(false)});
}

void MachineSession::look_until(QObject* asker, std::function<bool()> seen) {
  const bool looks = std::any_of(looking_.begin(), looking_.end(), [&](const auto& l) { return l.asker == asker; });
  if (!looks) looking_.push_back({asker, which_machine_, std::move(seen)});
  go_on_looking();
}

void MachineSession::go_on_looking() {
  auto looking = std::exchange(looking_, {});  // what is seen may lead to another look
  std::erase_if(
      looking, [this](const Looking& l) { return !l.asker || !bench() || l.at_machine != which_machine_ || l.seen(); });
  looking_.insert(looking_.begin(), looking.begin(), looking.end());
}

/// After a line that was lost, or a controller that was started again.
void MachineSession::came_back() {
  line_lost_ = false;
  give_back_what_was_lent();
  emit status_changed();
  emit connection_changed();
  notices_.notify(
      {NoticeLevel::attention,
       status_.message.empty()
           ? tr("Connected again to %1. Home the machine before anything else.").arg(connection_->description())
           : tr("Connected again to %1. %2 Home the machine before anything else.")
                 .arg(connection_->description(), to_q(status_.message)),
       streaming_.after_reconnecting({{tr("Home"), [this] { home(); }}}), while_it_is(true)});
  compare_settings();  // what was undone or applied meanwhile was not told to the controller
}

/// For a notice whose reason is that this machine's line is there, or is lost.
std::function<bool()> MachineSession::while_it_is(bool connected) const {
  return [this, connected, here = which_machine()] { return up() == connected && which_machine() == here; };
}

/// A line that was lost in the middle left the controller with settings that were only lent.
void MachineSession::give_back_what_was_lent() {
  auto& owed = runner_.owed();
  std::erase_if(owed, [this](const LentSetting& s) { return link()->set_setting(s.name, s.found).has_value(); });
  if (owed.empty()) return;
  notices_.notify(
      {NoticeLevel::danger,
       tr("The controller was left with a setting that was changed for a moment (%1), and does not take the "
          "old one back. Do not rely on its limits; set them on the sheet Travel and limits.")
           .arg(setting_words(owed.front().name)),
       {{tr("Go to Travel and limits"), [this] { notices_.lead_to(limits_id); }}}});
}

/// What is lent is kept on the disk, so that a run that was killed in the middle is put right by the next.
void MachineSession::watch_what_is_lent() {
  const Line& line = connection_->line();
  if (lent_before_ && up() && stands(status_.state) && !editor_.read_only()) {
    lent_before_ = false;
    std::vector<LentSetting> left = lent_.left(line);
    std::erase_if(left, [this](const LentSetting& s) { return link()->setting(s.name) == s.found; });
    if (!left.empty()) {
      notices_.notify(
          {NoticeLevel::attention,
           tr("The program was ended in the middle of something that had changed a setting of the controller "
              "for a moment (%1). It was put back.")
               .arg(setting_words(left.front().name)),
           {}});
      runner_.owed() = std::move(left);
      give_back_what_was_lent();
    }
  }
  if (lent_before_) return;
  std::vector<LentSetting> lent = runner_.owed();
  if (runner_.running()) lent.insert(lent.end(), runner_.current()->owed().begin(), runner_.current()->owed().end());
  lent_.keep(line, lent);
}

bool MachineSession::begin(const std::shared_ptr<Procedure>& procedure,
                           const std::function<Result<void>(MachineLink&)>& start) {
  if (!must_be_there()) return false;
  emit acted();
  if (streaming_.running()) return ask(fail("busy", "A program runs; wait for its end, or end it first."));
  tell_hands_the_blocks();
  return ask(runner_.start(procedure, [&] { return start(*link()); }));
}

void MachineSession::tell_hands_the_blocks() {
  if (auto* owner = hands()) owner->know_blocks(own_blocks(editor_.book().machine.heads));
  if (auto* lines = connection_ ? connection_->lines() : nullptr)
    lines->know_blocks(own_blocks(editor_.book().machine.heads));
}

void MachineSession::end_procedure() {
  if (!runner_.running()) return;
  const auto over = runner_.current();
  runner_.cancel({ended_by_wish, "", ""});
  ask({});                                 // what stands now is known at once
  if (!over->running()) procedure_over();  // else once the machine stands
}

void MachineSession::end_procedure(const QString& why) {
  if (!runner_.running()) return;
  end_procedure();
  notices_.notify({NoticeLevel::attention, why, {}});
}

void MachineSession::check_circuit() {
  if (must_be_there()) ask(circuit_.start(*link()));
}

/// The sentence for what the owner did not end, or what went wrong in ending it.
void MachineSession::procedure_over() {
  const Procedure& over = *runner_.current();
  if (over.phase() == Procedure::Phase::failed) {
    if (over.error().code != ended_by_wish) circuit_.forget();
    if (!over.error().message.empty()) notices_.notify({NoticeLevel::attention, to_q(over.error().message), {}});
  }
  emit procedure_ended(&over);
}

void MachineSession::tick() {
  const MachineStatus before = status_;
  const bool run_told = streaming_.tick();
  status_ = connection_->link().status();
  circuit_.tick(status_);
  const bool procedure_ran = runner_.running(), ended = runner_.tick();
  if (procedure_ran) status_ = connection_->link().status();
  watch_what_is_lent();
  if (ended) procedure_over();
  watch_opening();
  streaming_.status_known();
  go_on_looking();
  // A free-running machine ticks a thousand times a second; the sheets are told as often as a screen shows.
  untold_ = untold_ || status_ != before;
  if (status_.state != before.state || (untold_ && told_.elapsed() >= told_every_ms) ||
      told_.elapsed() >= told_at_least_every_ms) {
    untold_ = false;
    told_.restart();
    emit status_changed();
  }
  if (!procedure_ran && !run_told) watch_refusals(before);
  watch_status(before, run_told);
  watch_line();
}

/// What the owner must hear of, whichever sheet is open.
void MachineSession::watch_status(const MachineStatus& before, bool run_told) {
  const bool new_message = status_.message != before.message && !status_.message.empty();
  const bool was_up = before.state != MachineState::offline;
  if (status_.state != before.state &&
      (status_.state == MachineState::offline || status_.state == MachineState::stopped ||
       status_.state == MachineState::emergency_stop))
    beam_points_.clear();
  if (status_.state == MachineState::offline || status_.state == MachineState::emergency_stop) {
    armed_ = 0;
    clear_ = false;
  }
  if (status_.state == MachineState::offline) {
    if (was_up) {
      line_lost_ = true;
      emit connection_changed();
    }
    if (was_up && !run_told)
      notices_.notify({NoticeLevel::danger,
                       to_q(status_.message),
                       {{tr("Connect again"), [this] { connect_again(); }}},
                       while_it_is(false)});
  } else if (run_told) {
    return;  // the end of the run has said it, and more
  } else if (status_.state == MachineState::emergency_stop && before.state != status_.state) {
    notices_.notify({NoticeLevel::danger, to_q(status_.message), {}});
  } else if (new_message && (status_.state == MachineState::stopped ||
                             (status_.state == MachineState::not_homed && before.state != MachineState::offline))) {
    notices_.notify({NoticeLevel::danger, to_q(status_.message), {{tr("Home"), [this] { home(); }}}});
  } else if (new_message && status_.state == MachineState::ready && before.state == MachineState::moving) {
    notices_.notify({NoticeLevel::attention, to_q(status_.message), {}});
  }
  if (status_.inputs.probe && !before.inputs.probe && was_up && status_.state != MachineState::moving &&
      status_.state != MachineState::cutting)
    notices_.notify(
        {NoticeLevel::attention,
         tr("The probe's input came on while nothing was searching. If plate and cutter do not touch, its wire or "
            "the plate is shorted: see to it before you touch off, or the cutter will not stop."),
         {}});
}

/// What was taken on trust and then refused, where nobody else says so.
void MachineSession::watch_refusals(const MachineStatus& before) {
  if (status_.refusal && status_.refusal != before.refusal && status_.refusal->code != "busy")
    notices_.notify({NoticeLevel::attention, to_q(status_.refusal->message), {}});
  bool settings_differ = false;
  for (const Refusal& refused : link()->refusals()) {
    notices_.notify({NoticeLevel::attention, to_q(refused.why.message), {}});
    settings_differ = settings_differ || !refused.setting.empty();
  }
  if (settings_differ) compare_settings();
}

void MachineSession::watch_line() {
  const std::size_t bad = connection_->bad_lines();
  bad_lines_told_ = std::min(bad_lines_told_, bad);  // opened anew, counted anew
  if (bad < bad_lines_told_ + disturbed_after_lines) return;
  bad_lines_told_ = bad;
  notices_.notify(
      {NoticeLevel::attention,
       tr("The line to the machine is disturbed: %1 lines came garbled. What was lost is sent again and the work "
          "goes on. Keep the cable away from the spindle's, and see to its screen.")
           .arg(bad),
       {}});
}

}  // namespace ypsi::app
