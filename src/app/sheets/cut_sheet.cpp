#include "app/sheets/cut_sheet.h"

#include <QFileInfo>
#include <QPainter>
#include <cmath>
#include <functional>
#include <set>

#include "app/drawing/draft.h"
#include "app/drawing/toolpath.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/beam_checks.h"
#include "app/sheets/references/tool_drawing.h"
#include "app/to_q.h"
#include "app/widgets/elevation_view.h"
#include "core/program/own_blocks.h"
#include "core/program/pauses.h"
#include "core/tasks/cut.h"

namespace ypsi::app {
namespace {
constexpr int long_press_ms = 2000;
constexpr std::size_t most_passes = 40;
}  // namespace

LongPressButton::LongPressButton(const QString& text, QWidget* parent) : QPushButton(text, parent) {
  setAutoRepeat(false);
  timer_.setInterval(40);
  connect(this, &QPushButton::pressed, this, [this] {
    since_.start();
    timer_.start();
  });
  connect(this, &QPushButton::released, this, &LongPressButton::end_press);
  connect(&timer_, &QTimer::timeout, this, [this] {
    if (!isDown()) return end_press();
    update();
    if (since_.elapsed() >= long_press_ms) {
      end_press();
      emit pressed_long();
    }
  });
}

void LongPressButton::end_press() {
  timer_.stop();
  update();
}

void LongPressButton::paintEvent(QPaintEvent* event) {
  QPushButton::paintEvent(event);
  if (!timer_.isActive()) return;
  QPainter painter(this);
  painter.fillRect(
      QRectF(3, height() - 8, (width() - 6) * std::min(1.0, since_.elapsed() / static_cast<double>(long_press_ms)), 5),
      theme().red);
}

ProgressStrip::ProgressStrip(QWidget* parent) : QWidget(parent) {
  setObjectName("progress");
  setAccessibleName(CutSheet::tr("Progress"));
  setFixedHeight(24);
}

void ProgressStrip::show(double part, std::vector<double> marks) {
  part_ = std::clamp(part, 0.0, 1.0);
  marks_ = std::move(marks);
  update();
}

void ProgressStrip::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QRectF bar(0.5, 6, width() - 1, 12);
  draft.box(bar, theme().second_ink, theme().teal_soft);
  draft.box(QRectF(bar.left(), bar.top(), bar.width() * part_, bar.height()), theme().teal, theme().teal);
  for (const double m : marks_)
    draft.line({bar.left() + bar.width() * m, 1}, {bar.left() + bar.width() * m, 23}, theme().ink, 2);
}

LinesView::LinesView(QWidget* parent) : QWidget(parent) {
  setObjectName("lines");
  setAccessibleName(CutSheet::tr("Program lines"));
  setFixedWidth(206);
}

void LinesView::show(std::shared_ptr<const LoadedProgram> program, std::uint32_t line) {
  if (program == program_ && line == line_) return;
  program_ = std::move(program);
  line_ = line;
  update();
}

void LinesView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  draft.box(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), theme().rule, theme().paper);
  draft.text({12, 22}, CutSheet::tr("Program"), theme().second_ink, 12, true);
  if (!program_) return;
  const int row = 22, rows = (height() - 40) / row;
  const std::int64_t first = std::max<std::int64_t>(1, static_cast<std::int64_t>(line_) - rows / 3);
  for (int i = 0; i < rows; ++i) {
    const std::int64_t number = first + i;
    if (number > static_cast<std::int64_t>(program_->line_starts.size())) break;
    const double y = 34 + i * row;
    const bool now = number == line_;
    if (now) draft.box(QRectF(2, y, width() - 4, row), Qt::transparent, theme().teal_soft, 0);
    painter.setFont(mono_font(11, now));
    const QString text = painter.fontMetrics().elidedText(program_->line(static_cast<std::uint32_t>(number)),
                                                          Qt::ElideRight, width() - 20);
    painter.setPen(number < line_ ? theme().second_ink : theme().ink);
    painter.drawText(QPointF(10, y + 15), text);
  }
}

CutSheet::CutSheet(Session& session) : Sheet(session, cut_task(), tr("Keep a hand near Hold. Stay with the machine.")) {
  auto* card = make_card();
  auto* layout = new QVBoxLayout(card);
  layout->setContentsMargins(18, 12, 18, 12);
  layout->addWidget(make_label("plan-caption", "caption", tr("What has been cut (dark), what is left (light)"), card));
  auto* across = new QHBoxLayout;
  across->setSpacing(12);
  plan_ = new PlanView(session, PlanView::Subject::cut, card);
  lines_ = new LinesView(card);
  across->addWidget(plan_, 1);
  across->addWidget(lines_);
  layout->addLayout(across, 5);
  layout->addWidget(make_label("elevation-caption", "caption", tr("Depth, front elevation"), card));
  elevation_ = new ElevationView(session, false, card);
  elevation_->setMinimumHeight(86);
  layout->addWidget(elevation_, 1);
  strip_ = new ProgressStrip(card);
  layout->addWidget(strip_);
  auto* under = new QHBoxLayout;
  message_ = make_label("cut-message", "small", "", card);
  left_ = make_label("time-left", "small", "", card);
  left_->setAlignment(Qt::AlignRight);
  under->addWidget(message_, 1);
  under->addWidget(left_, 1);
  layout->addLayout(under);
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("CUT"));
  what_ = finding()->add_label("cut-what", "strong");
  percent_ = finding()->add_label("cut-percent", "big");
  line_ = finding()->add_label("cut-line", "small");
  finding()->add_rule();
  facts_ = finding()->add_label("cut-facts", "small");
  tool_ = new ToolDrawing(this);
  tool_->setObjectName("awaited-tool");
  tool_->setMinimumHeight(130);
  finding()->add(tool_);
  finding()->box()->addSpacing(8);
  override_label_ = finding()->add_label("override-label", "small");
  override_ = new QSlider(Qt::Horizontal, this);
  override_->setObjectName("feed-override");
  override_->setAccessibleName(tr("Feed, in per cent of the program's"));
  override_->setRange(10, 200);
  override_->setValue(100);
  override_->setFixedHeight(30);
  finding()->add(override_);
  auto* ends = new QHBoxLayout;
  ends->addWidget(make_label("slower", "small", tr("Slower"), this));
  auto* faster = make_label("faster", "small", tr("Faster"), this);
  faster->setAlignment(Qt::AlignRight);
  ends->addWidget(faster);
  finding()->box()->addLayout(ends);
  finding()->add_stretch();
  beam_ = new BeamChecks(session_, 2, this);
  finding()->add(beam_);
  start_ = finding()->add_button("start", tr("Start"), tr("Starts the program from its first line (F9)"), true);
  start_->setShortcut(QKeySequence("F9"));
  continue_ = finding()->add_button("continue", tr("Continue"), tr("Goes on from where it was held (F10)"), true);
  continue_->setShortcut(QKeySequence("F10"));
  resume_row_ = new QWidget(this);
  auto* resume_row = new QHBoxLayout(resume_row_);
  resume_row->setContentsMargins(0, 0, 0, 0);
  from_ = add_field(resume_row, "resume-line", tr("Line"), tr("Line of the program to go on from"), 0, session_,
                    resume_row_)
              .field;
  from_->set_unit(LengthUnit::none);
  resume_ = make_button("resume-from", tr("Resume from"),
                        tr("Lifts, goes over, spindle on, down, and on from that line (Ctrl+1)"), resume_row_);
  resume_->setShortcut(QKeySequence("Ctrl+1"));
  resume_row->addWidget(resume_, 1);
  finding()->add(resume_row_);
  stand_over_ = finding()->add_button("stand-over", tr("Only stand over it"),
                                      tr("Tries the way in without spindle and without going down (Ctrl+2)"));
  stand_over_->setShortcut(QKeySequence("Ctrl+2"));
  finding()->box()->addSpacing(12);
  finding()->add_label("abandon-label", "small", tr("Ends the job. The program remembers where it was."));
  abandon_ = new LongPressButton(tr("Press two seconds to abandon"), this);
  abandon_->setObjectName("abandon");
  abandon_->setAccessibleName(tr("Abandon"));
  abandon_->setToolTip(tr("Hold it down, with the mouse or with Space"));
  finding()->add(abandon_);
  connect(start_, &QPushButton::clicked, this, [this] { session_.job().start_cut(); });
  connect(&session_.job(), &JobSession::checked_anew, this, &CutSheet::refresh_status);
  connect(continue_, &QPushButton::clicked, this, [this] {
    if (session_.job().awaited())
      session_.job().continue_after_pause();
    else
      session_.machine().go_on();
  });
  const auto resume = [this](bool dry) {
    if (const auto line = from_->value(); line && *line >= 1)
      session_.job().resume_cut(static_cast<std::uint32_t>(std::lround(*line)), dry);
  };
  connect(resume_, &QPushButton::clicked, this, [resume] { resume(false); });
  connect(stand_over_, &QPushButton::clicked, this, [resume] { resume(true); });
  connect(from_, &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
  connect(abandon_, &LongPressButton::pressed_long, this, [this] { session_.job().abandon_cut(); });
  connect(override_, &QSlider::valueChanged, this, [this](int percent) {
    if (session_.machine().link()) session_.machine().link()->set_feed_override(percent / 100.0);
  });
}

/// The depths at which the program cuts; a relief has no passes.
void CutSheet::find_passes() {
  passes_.clear();
  if (!passes_of_) return;
  std::set<long, std::greater<>> depths;  // hundredths of a millimetre
  const Program& p = passes_of_->program;
  for (std::size_t i = 0; i < p.motions.size() && depths.size() <= most_passes; ++i)
    if (is_cut(p.motions[i]) && p.motions[i].end.z == p.begin_of(i).z)
      depths.insert(std::lround(p.motions[i].end.z * 100));
  if (depths.size() > most_passes) return;
  for (const long d : depths) passes_.push_back(static_cast<double>(d) / 100);
}

QString CutSheet::pass_words(std::uint32_t line) const {
  if (!passes_of_ || passes_.empty() || line == 0) return {};
  const std::size_t motion = motion_at_line(*passes_of_, line);
  if (motion >= passes_of_->program.motions.size()) return {};
  const double z = passes_of_->program.motions[motion].end.z;
  for (std::size_t i = 0; i < passes_.size(); ++i)
    if (std::fabs(passes_[i] - z) < 0.006)
      return tr("Pass  %1 of %2, at %3")
          .arg(i + 1)
          .arg(passes_.size())
          .arg(to_q(format_length(z, session_.editor().unit(), 2)));
  return {};
}

void CutSheet::refresh() {
  if (std::exchange(passes_of_, session_.job().program()) != session_.job().program()) {
    from_->show_value(std::nullopt);  // a line of another program
    find_passes();
  }
  plan_->invalidate();
  marks_.clear();
  if (const auto p = session_.job().program(); p && p->time.total_s > 0)
    for (const Event& e : p->program.events)
      if ((e.kind == EventKind::tool_change || e.kind == EventKind::stop) && e.before > 0 &&
          e.before < p->time.end_s.size())
        marks_.push_back(static_cast<double>(p->time.end_s[e.before - 1]) / p->time.total_s);
  refresh_status();
}

/// A start that waits for the check is a wish of the person who sees this sheet.
void CutSheet::leave() {
  session_.job().drop_start();
  Sheet::leave();
}

void CutSheet::refresh_status() {
  const MachineStatus& s = session_.machine().status();
  const auto p = session_.job().program();
  const LengthUnit unit = session_.editor().unit();
  const bool running = session_.job().cutting();
  const bool waits = session_.job().awaited().has_value();
  const int awaited = session_.job().tool_awaited();
  const auto dial = waits ? session_.job().awaited()->dial : std::nullopt;
  const std::uint32_t line = session_.job().cut_line();
  const bool finished = p && session_.job().cut_finished();
  double part = 0, left = p ? p->time.total_s : 0;
  if (p && (running || finished || waits) && !p->time.end_s.empty()) {
    const std::size_t motion = std::min(motion_at_line(*p, line), p->time.end_s.size() - 1);
    const double done = finished ? p->time.total_s : motion > 0 ? static_cast<double>(p->time.end_s[motion - 1]) : 0;
    part = done / std::max(1e-9, p->time.total_s);
    left = p->time.total_s - done;
  }
  strip_->show(part, marks_);
  plan_->set_done_line(finished ? p->program.lines + 1 : line);
  elevation_->update();
  lines_->show(p, line);

  set_text(what_, p ? QFileInfo(p->path).fileName() : tr("No program loaded"));
  set_text(percent_, finished ? tr("Done") : QString("%1 %").arg(static_cast<int>(part * 100)));
  set_text(line_, p ? (line > 0 ? tr("line %1 of %2").arg(line).arg(p->program.lines)
                                : tr("%1 lines, not started").arg(p->program.lines))
                    : tr("Load one on the sheet Stock and program."));
  const WorkPosition at = to_work(s.position, s.work_zero);
  QStringList facts;
  facts
      << tr("Feed  %1 mm/min · %2 %").arg(QString::number(s.feed, 'f', 0)).arg(static_cast<int>(s.feed_override * 100));
  facts << (s.spindle_rpm > 0 ? tr("Spindle  %1 rpm").arg(QString::number(s.spindle_rpm, 'f', 0)) : tr("Spindle  off"));
  if (const QString pass = running ? pass_words(line) : QString(); !pass.isEmpty()) facts << pass;
  facts << tr("Depth now  %1").arg(to_q(format_length(at.z, unit, 2)));
  if (awaited > 0)
    facts << (s.tool == awaited ? tr("T%1 is in; Z zero as on Work zero").arg(awaited)
                                : tr("Put in  T%1").arg(awaited));
  if (dial) facts << tr("Set the dial to  %1").arg(dial->position, 0, 'f', 1);
  if (s.wanted_tool > 0) facts << tr("Put in  tool %1").arg(s.wanted_tool);
  set_text(facts_, facts.join("\n"));
  set_text(override_label_, tr("Feed %1 % of the program's").arg(override_->value()));
  set_text(left_, p ? tr("%1 left · %2 in all")
                          .arg(to_q(format_duration(left / std::max(0.1, s.feed_override))),
                               to_q(format_duration(p->time.total_s)))
                    : QString());
  QString message = to_q(s.message);
  if (!running && p && !s.all_homed())
    message = tr("Home the machine before the start (Ctrl+H).");
  else if (!running && p && !session_.editor().book().job.zero(Axis::z))
    message = tr("Set work zero before the start.");
  else if (const auto asked = p && s.state == MachineState::held ? asked_at(p->program, line) : std::string_view();
           !asked.empty())
    message = tr("The program asks for this: %1. Continue when it is done.")
                  .arg(QString::fromUtf8(asked.data(), static_cast<qsizetype>(asked.size())));
  set_text(message_, message);
  const bool job = session_.job().in_job(), ready = p && session_.machine().standing_ready() && s.all_homed() &&
                                                    session_.editor().book().job.has_zero();
  beam_->setVisible(p && !job && uses_beam(p->program, session_.editor().book().machine.heads));
  beam_->refresh_status();
  start_->setVisible(!job);
  start_->setEnabled(ready && !session_.job().start_waits());
  set_text(start_, session_.job().start_waits() ? tr("Checking…") : tr("Start"));
  continue_->setVisible(job);
  continue_->setEnabled(s.state == MachineState::held || s.state == MachineState::tool_change ||
                        (waits && session_.machine().standing_ready()));
  set_text(continue_, awaited > 0 && s.tool != awaited       ? tr("Tool %1 is in").arg(awaited)
                      : dial                                 ? tr("Dial at %1, continue").arg(dial->position, 0, 'f', 1)
                      : awaited > 0                          ? tr("Continue with T%1").arg(awaited)
                      : s.state == MachineState::tool_change ? tr("Tool %1 is in, continue").arg(s.wanted_tool)
                                                             : tr("Continue"));
  tool_->setVisible(awaited > 0);
  if (awaited > 0) {
    const Tool* tool = session_.editor().book().tool(awaited);
    tool_->show(tool ? std::optional(*tool) : std::nullopt, unit);
  }
  resume_row_->setVisible(!job);
  stand_over_->setVisible(!job);
  resume_->setEnabled(ready && from_->value());
  stand_over_->setEnabled(ready && from_->value());
  if (!from_->value() && session_.job().resume_line() > 0) from_->show_value(session_.job().resume_line());
  abandon_->setEnabled(job);
}

}  // namespace ypsi::app
