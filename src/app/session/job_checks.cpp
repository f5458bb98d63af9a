// Before the start: what is against the program, what the owner overrides, and the way round it.
#include <QFileInfo>
#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/to_q.h"
#include "core/book/machine_kinds.h"
#include "core/program/own_blocks.h"
#include "core/program/read_setting.h"
#include "core/tasks/engraving.h"
#include "core/tasks/ready_check.h"
#include "core/tasks/trials.h"

namespace ypsi::app {
namespace {

std::string key_of(const Finding& finding) {
  return finding.code + ":" + std::to_string(finding.line);
}
constexpr double trace_share = 0.5;  // of the slower axis' rate

}  // namespace

void JobSession::follow_program_checks() {
  connect(&checker_, &ProgramChecker::wanted, this,
          [this] { checker_.check(program_, editor_.book_without_record(), machine_.status().tool); });
  connect(&checker_, &ProgramChecker::done, this, [this] {
    if (!loader_.busy()) opening_.clear();
    emit checked_anew();
    if (const auto go = std::exchange(wish_, nullptr)) {
      wish_ends_.stop();
      go();
    }
  });
  connect(&editor_, &BookEditor::book_changed, this, [this] {
    drop_start();
    checker_.changed();
    // Where it goes may hang on the zeros and lengths that were changed.
    if (program_ && !in_job() && read_with_ && depends_on_setting(program_->program) &&
        !(read_setting(editor_.book()) == *read_with_))
      load_program(program_->path);
  });
  connect(this, &JobSession::program_changed, this, [this] {
    overridden_.clear();
    ticked_.clear();
    drop_start();
    cut_to_ = 0;
    cut_finished_ = false;
    checker_.changed();
    follow_program_file();
    offer_left_over();
  });
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this](const QString& path) {
    if (!program_ || path != program_->path || in_job()) return;
    notices_.notify(
        {NoticeLevel::attention,
         tr("“%1” has changed on the disk. What is loaded is the one before.").arg(QFileInfo(path).fileName()),
         {{tr("Load and check it again"), [this, path] { load_program(path); }}},
         this_job_still()});
  });
}

void JobSession::follow_program_file() {
  if (!watcher_.files().isEmpty()) watcher_.removePaths(watcher_.files());
  if (program_) watcher_.addPath(program_->path);
}

QString JobSession::overridden(const Finding& finding) const {
  const auto found = overridden_.find(key_of(finding));
  return found == overridden_.end() ? QString() : found->second;
}

void JobSession::override_finding(const Finding& finding, const QString& why) {
  if (why.trimmed().isEmpty())
    overridden_.erase(key_of(finding));
  else
    overridden_[key_of(finding)] = why.trimmed();
  emit checked_anew();
}

void JobSession::tick_point(const std::string& point, bool done) {
  if (done)
    ticked_.insert(point);
  else
    ticked_.erase(point);
  emit checked_anew();
}

std::vector<std::string> JobSession::points() const {
  const Book& book = editor_.book();
  // A head whose own block sets its gauge needs no hand for it.
  const auto lowers = [&](const std::string& name) {
    const auto& heads = book.machine.heads;
    return program_ &&
           std::any_of(program_->program.events.begin(), program_->program.events.end(), [&](const Event& e) {
             if (e.kind != EventKind::head_act || e.level) return false;
             const OwnAct act = own_act_of(e);
             return act.act == HeadAct::lower && static_cast<std::size_t>(act.head) < heads.size() &&
                    heads[static_cast<std::size_t>(act.head)].name == name;
           });
  };
  std::vector<std::string> all;
  // In the order of setting a plate up.
  if (book.machine.kind == engraver_kind) {
    all.push_back(tr("The adhesive sheet is clean and its liner is off").toStdString());
    all.push_back(tr("The plate lies against the corner, pressed down all over").toStdString());
    const auto kept = engraving_for(book, book.job.stock_name, 0);
    const Head* head = kept ? book.machine.head(kept->head) : nullptr;
    if (kept && kept->set && head && has_nose(*head) && program_)
      all.push_back(tr("The nose is turned to %1 %2, the same way as in the trial, as %3 wants it")
                        .arg(*kept->set, 0, 'f', 1)
                        .arg(to_q(head->gauge), to_q(book.job.stock_name))
                        .toStdString());
    all.push_back(tr("The chips of the cut before are brushed off, and the lid is shut").toStdString());
  }
  if (book.machine.kind == cutting_table) all.push_back(tr("It lies flat, without folds").toStdString());
  if (!book.machine.vacuum.zones.empty()) all.push_back(tr("The vacuum holds: pushed, the stock stays").toStdString());
  for (const KeptSetting& kept : kept_settings(book))
    if (kept.set && lowers(kept.head))
      all.push_back(tr("The gauge of the %1 shows %2 %3, as %4 wants it")
                        .arg(to_q(kept.head))
                        .arg(*kept.set, 0, 'g', 4)
                        .arg(to_q(kept.gauge), to_q(book.job.stock_name))
                        .toStdString());
  all.insert(all.end(), book.job.checklist.begin(), book.job.checklist.end());
  return all;
}

std::size_t JobSession::unticked() const {
  const auto all = points();
  return static_cast<std::size_t>(
      std::count_if(all.begin(), all.end(), [this](const std::string& p) { return !ticked(p); }));
}

std::size_t JobSession::stops() const {
  std::size_t left = 0;
  for (const Finding& f : findings()) left += f.weight == Weight::stops && overridden(f).isEmpty() ? 1 : 0;
  return left;
}

/// What was found, and why it was gone on in spite of it, kept with the start.
void JobSession::keep_ready_check() {
  editor_.note_in_book([&](Book& b) {
    Entry entry;
    entry.time = editor_.now().toStdString();
    entry.sheet = ready_check_id;
    entry.subject = QFileInfo(program_->path).fileName().toStdString();
    RecordJson reasons = RecordJson::from_text("[]");
    for (const Finding& f : findings())
      if (const QString why = overridden(f); !why.isEmpty())
        reasons.push_back({{"code", f.code}, {"line", f.line}, {"why", why.toStdString()}});
    entry.result = result_of(ReadyEntry{static_cast<int>(count(findings(), Weight::stops)),
                                        static_cast<int>(count(findings(), Weight::warns))});
    entry.readings = std::move(reasons);
    b.history.push_back(std::move(entry));
  });
}

void JobSession::go(const Result<ZeroWay>& way) {
  if (!machine_.must_be_free()) return;
  if (run_.state() == RunState::running) {
    machine_.ask(fail("busy", "A program runs; wait for its end, or end it first."));
    return;
  }
  if (!way) {
    machine_.ask(tl::make_unexpected(way.error()));
    return;
  }
  way_text_.clear();
  for (const auto& block : way->blocks) way_text_ += block + "\n";
  run_is_cut_ = false;
  machine_.ask(run_.start(*machine_.link(), way_text_));
}

void JobSession::lift_then_go_to_zero(double stand_off) {
  if (!machine_.must_be_free()) return;
  // The zero that is shown is the one that is gone to.
  if (!editor_.book().job.has_zero()) {
    notices_.notify({NoticeLevel::attention, tr("Set work zero first: before that there is no zero to go to."), {}});
    return;
  }
  if (machine_.send_work_zero()) go(plan_way_to_zero(*machine_.link(), editor_.book().machine.safe_height, stand_off));
}

void JobSession::lift_then_go_over(const MachinePosition& place) {
  if (machine_.must_be_free()) go(plan_way_over(*machine_.link(), editor_.book().machine.safe_height, place));
}

void JobSession::trace_perimeter(PerimeterKind kind) {
  if (!program_ || !machine_.must_be_free()) return;
  const auto lift = plan_way_over(*machine_.link(), editor_.book().machine.safe_height, machine_.status().position);
  if (!lift) {
    machine_.ask(tl::make_unexpected(lift.error()));
    return;
  }
  if (!editor_.book().job.has_zero()) {
    notices_.notify(
        {NoticeLevel::attention, tr("Set work zero first: before that nobody knows where the program lies."), {}});
    return;
  }
  if (!machine_.send_work_zero()) return;
  const auto corners = perimeter(program_->program, kind);
  for (const Point2& p : corners)
    for (const Axis a : {Axis::x, Axis::y}) {
      const double at = (a == Axis::x ? p.x : p.y) + *editor_.book().job.zero(a);
      const MachineSession::Room r = machine_.room(a);
      if (at >= r.low - 1e-6 && at <= r.high + 1e-6) continue;
      notices_.notify({NoticeLevel::attention,
                       tr("The way round would take %1 to %2, beyond the machine's limits. Nothing moved.")
                           .arg(QChar(letter(a)))
                           .arg(to_q(format_length(at, editor_.unit(a), 1))),
                       {}});
      return;
    }
  ZeroWay way = *lift;
  const double feed = trace_share * std::min(editor_.book().machine.axis(Axis::x).max_rate,
                                             editor_.book().machine.axis(Axis::y).max_rate);
  way.blocks = trace(corners, lift->safe_z - machine_.status().work_zero.z, feed);
  if (!way.blocks.empty()) go(way);
}

}  // namespace ypsi::app
