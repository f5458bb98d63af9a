// Before the start: what is against the program, what the owner overrides, the way round it, and what an earlier run
// has left.
#include <QFile>
#include <QFileInfo>
#include <algorithm>

#include "app/session/session.h"
#include "core/program/read_setting.h"

namespace ypsi::app {
namespace {

std::string key_of(const Finding& finding) {
  return finding.code + ":" + std::to_string(finding.line);
}
constexpr double trace_share = 0.5;  // of the slower axis' rate

}  // namespace

void Session::follow_program_checks() {
  connect(&checker_, &ProgramChecker::wanted, this,
          [this] { checker_.check(program_, without_history(book_), status_.tool); });
  connect(&checker_, &ProgramChecker::done, this, [this] {
    emit checked_anew();
    if (start_wanted_) start_cut();
  });
  connect(this, &Session::book_changed, this, [this] {
    checker_.changed();
    // Where it goes may hang on the zeros and lengths that were changed.
    if (program_ && !in_job() && read_with_ && depends_on_setting(program_->program) &&
        !(read_setting(book_) == *read_with_))
      load_program(program_->path);
  });
  connect(this, &Session::program_changed, this, [this] {
    overridden_.clear();
    ticked_.clear();
    start_wanted_ = false;
    cut_to_ = 0;
    cut_finished_ = false;
    checker_.changed();
    follow_program_file();
    offer_left_over();
  });
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this](const QString& path) {
    if (!program_ || path != program_->path || in_job()) return;
    notify({NoticeLevel::attention,
            tr("“%1” has changed on the disk. What is loaded is the one before.").arg(QFileInfo(path).fileName()),
            {{tr("Load and check it again"), [this, path] { load_program(path); }}}});
  });
}

void Session::follow_program_file() {
  if (!watcher_.files().isEmpty()) watcher_.removePaths(watcher_.files());
  if (program_) watcher_.addPath(program_->path);
}

QString Session::overridden(const Finding& finding) const {
  const auto found = overridden_.find(key_of(finding));
  return found == overridden_.end() ? QString() : found->second;
}

void Session::override_finding(const Finding& finding, const QString& why) {
  if (why.trimmed().isEmpty())
    overridden_.erase(key_of(finding));
  else
    overridden_[key_of(finding)] = why.trimmed();
  emit checked_anew();
}

void Session::tick_point(const std::string& point, bool done) {
  if (done)
    ticked_.insert(point);
  else
    ticked_.erase(point);
  emit checked_anew();
}

std::size_t Session::unticked() const {
  const auto& points = book_.job.checklist;
  return static_cast<std::size_t>(
      std::count_if(points.begin(), points.end(), [this](const std::string& p) { return !ticked(p); }));
}

std::size_t Session::stops() const {
  std::size_t left = 0;
  for (const Finding& f : findings()) left += f.weight == Weight::stops && overridden(f).isEmpty() ? 1 : 0;
  return left;
}

/// What was found, and why it was gone on in spite of it, kept with the start.
void Session::keep_ready_check() {
  note_in_book([&](Book& b) {
    Entry entry;
    entry.time = now().toStdString();
    entry.sheet = "ready_check";
    entry.subject = QFileInfo(program_->path).fileName().toStdString();
    RecordJson reasons = RecordJson::from_text("[]");
    for (const Finding& f : findings())
      if (const QString why = overridden(f); !why.isEmpty())
        reasons.push_back({{"code", f.code}, {"line", f.line}, {"why", why.toStdString()}});
    entry.result = {{"stops", count(findings(), Weight::stops)}, {"warns", count(findings(), Weight::warns)}};
    entry.readings = std::move(reasons);
    b.history.push_back(std::move(entry));
  });
}

void Session::trace_perimeter(PerimeterKind kind) {
  if (!link() || !program_) return;
  const auto lift = plan_way_over(*link(), book_.machine.safe_height, status_.position);
  if (!lift) {
    ask(tl::make_unexpected(lift.error()));
    return;
  }
  if (!book_.job.has_zero()) {
    notify({NoticeLevel::attention, tr("Set work zero first: before that nobody knows where the program lies."), {}});
    return;
  }
  const auto corners = perimeter(program_->program, kind);
  for (const Point2& p : corners)
    for (const Axis a : {Axis::x, Axis::y}) {
      const double at = (a == Axis::x ? p.x : p.y) + *book_.job.zero(a);
      const Room r = room(a);
      if (at >= r.low - 1e-6 && at <= r.high + 1e-6) continue;
      notify({NoticeLevel::attention,
              tr("The way round would take %1 to %2, beyond the machine's limits. Nothing moved.")
                  .arg(QChar(letter(a)))
                  .arg(to_q(format_length(at, unit(a), 1))),
              {}});
      return;
    }
  ZeroWay way = *lift;
  const double feed =
      trace_share * std::min(book_.machine.axis(Axis::x).max_rate, book_.machine.axis(Axis::y).max_rate);
  way.blocks = trace(corners, lift->safe_z - status_.work_zero.z, feed);
  if (!way.blocks.empty()) go(way);
}

/// A run that was broken off by a crash or a power cut is offered once its program is there.
void Session::offer_left_over() {
  if (!left_over_ || !program_ || program_->path != to_q(left_over_->program)) return;
  const Progress left = *std::exchange(left_over_, std::nullopt);
  const QString name = QFileInfo(program_->path).fileName();
  if (fingerprint(program_->text) != left.print) {
    notify({NoticeLevel::attention,
            tr("The last cut of “%1” was broken off at line %2, but the file has changed since: it cannot be resumed.")
                .arg(name)
                .arg(left.line),
            {}});
    return;
  }
  resume_line_ = left.line;
  notify({NoticeLevel::attention,
          tr("The last cut of “%1” was broken off at line %2 of %3. Home the machine, then resume it.")
              .arg(name)
              .arg(left.line)
              .arg(program_->program.lines),
          {{tr("Resume from line %1").arg(left.line), [this, line = left.line] { resume_cut(line); }}}});
}

}  // namespace ypsi::app
