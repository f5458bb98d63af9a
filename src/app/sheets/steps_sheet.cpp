#include "app/sheets/steps_sheet.h"

#include <QAction>
#include <QHeaderView>
#include <QMenu>
#include <QShortcut>
#include <QStyle>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/axis_chips.h"
#include "app/sheets/build/build_draft.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/steps_chart.h"
#include "app/sheets/steps_drawing.h"
#include "app/sheets/steps_table.h"
#include "app/sheets/steps_words.h"
#include "app/sheets/warmth_row.h"
#include "app/to_q.h"
#include "app/widgets/table_menu.h"
#include "core/book/readings_csv.h"
#include "core/book/record.h"
#include "core/book/worksheets/scale.h"
#include "core/calibration/next_reading.h"
#include "core/calibration/scale.h"
#include "core/calibration/scale_json.h"
#include "core/calibration/suspects.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi::app {
namespace {
constexpr double first_try_part = 0.2;  // of the room; suspects go up to several times the told distance
}

StepsSheet::StepsSheet(Session& session)
    : Sheet(session, steps_per_unit_task(),
            tr("Send the axis a long way, read how far it really went, and type that on the drawing.")) {
  auto* axes = new AxisChips(this);
  title_row()->addWidget(axes);
  connect(axes, &AxisChips::chosen, this, &StepsSheet::choose);

  auto* card = make_card();
  auto* top = new QVBoxLayout(card);
  top->setContentsMargins(18, 12, 18, 8);
  top->setSpacing(4);
  drawing_caption_ = make_label("drawing-caption", "caption", "", card);
  auto* heading = new QHBoxLayout;
  heading->addWidget(drawing_caption_, 1);
  heading->addWidget(new TableMenu(
      session, card, [this](const std::string& text) { return take_table(text); },
      [this] { return scale_readings_to_csv(worksheet().readings); }));
  top->addLayout(heading);
  drawing_ = new StepsDrawing(card);
  top->addWidget(drawing_);
  chart_caption_ = make_label("chart-caption", "caption", "", card);
  top->addWidget(chart_caption_);
  chart_ = new StepsChart(card);
  top->addWidget(chart_, 1);
  body()->addWidget(card, 5);

  auto* lower = make_card();
  auto* bottom = new QVBoxLayout(lower);
  bottom->setContentsMargins(1, 4, 1, 10);
  model_ = new StepsTable(this);
  table_ = new QTableView(lower);
  table_->setObjectName("readings");
  table_->setAccessibleName(tr("Readings"));
  table_->setModel(model_);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(24);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->horizontalHeader()->setStretchLastSection(true);
  table_->horizontalHeader()->setHighlightSections(false);
  table_->setShowGrid(false);
  table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  table_->setMinimumHeight(46);
  table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);  // the drawing above needs its height
  table_->setToolTip(tr("Double-click a reading to mend it; Delete takes it out"));
  bottom->addWidget(table_, 1);
  PageFoot foot(bottom, lower, PageFoot::beside_table_px);
  auto *acts = foot.acts(), *below = foot.settings();
  move_button_ = make_button("move-and-mark", tr("Move and mark"),
                             tr("Takes up the slack, marks the place, moves the told distance (Ctrl+M)"), lower);
  move_button_->setShortcut(QKeySequence("Ctrl+M"));
  read_button_ = make_button("read-instrument", tr("Read the stand-in's ruler"),
                             tr("A reading as a person with this instrument would get (Ctrl+R)"), lower);
  read_button_->setShortcut(QKeySequence("Ctrl+R"));
  instruments_ = new QComboBox(lower);
  instruments_->setObjectName("instrument");
  instruments_->setAccessibleName(tr("Read with"));
  hint_ = foot.hint("hint", "small", tr("Three readings or more, as long as the axis allows."));
  acts->addWidget(move_button_);
  acts->addWidget(read_button_);
  below->addWidget(make_label("word", "small", tr("Read with"), lower));
  below->addWidget(instruments_);
  below->addWidget(make_label("tolerance-label", "small", tr("Wanted, per m"), lower));
  tolerance_ = new LengthField("tolerance", tr("Wanted: how well the scale must be known, per metre"), lower);
  tolerance_->set_decimals(2);
  tolerance_->setFixedWidth(84);
  below->addWidget(tolerance_);
  body()->addWidget(lower, 4);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("lead", "strong");
  figure_ = finding()->add_label("figure", "big");
  was_ = finding()->add_label("was", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("verdict", "strong");
  explanation_ = finding()->add_label("explanation", "small");
  warmth_said_ = finding()->add_label("warmth-said", "attention");
  finding()->add_rule();
  also_heading_ = finding()->add_label("also-heading", "heading", tr("APPLYING THIS ALSO CHANGES"));
  also_ = finding()->add_label("also", "small");
  finding()->add_stretch();
  warmth_ = new WarmthRow(session, this);
  finding()->add(warmth_);
  correct_drive_ = finding()->add_button("correct-drive", tr("Correct the drive"),
                                         tr("Puts the drive as it behaves into Build, to be kept there"), true);
  correct_drive_->setMenu(new QMenu(correct_drive_));
  apply_ = finding()->add_button(
      "apply", tr("Apply to the machine"),
      tr("Sets it in the controller and in the book, keeping as found and as left (Ctrl+Return)"), true);
  apply_->setShortcut(QKeySequence("Ctrl+Return"));
  once_more_ = finding()->add_button("once-more", tr("Measure once more"), tr("Moves again and marks"));
  put_back_ =
      finding()->add_button("put-back", tr("Put back"), tr("Sets what was found before the last finding was applied"));

  connect(drawing_->told(), &LengthField::committed, this, [this](double mm) {
    told_ = mm;
    refresh();
  });
  connect(drawing_->told(), &LengthField::next_wanted, this, [this] { drawing_->measured()->setFocus(); });
  connect(drawing_->measured(), &LengthField::committed, this, [this](double mm) { add_reading(mm, true); });
  connect(drawing_->measured(), &LengthField::next_wanted, this, [this] { drawing_->told()->setFocus(); });
  for (auto* field : {drawing_->told(), drawing_->measured(), tolerance_})
    connect(field, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
  connect(model_, &StepsTable::edited, this, [this](int row, const ScaleReading& reading) {
    // Not while the editor is still open: the model is about to be shown anew.
    QMetaObject::invokeMethod(
        this,
        [=, this] {
          edit(tr("Mend a reading"),
               [=](ScaleWorksheet& w) { w.readings.at(static_cast<std::size_t>(row)) = reading; });
        },
        Qt::QueuedConnection);
  });
  connect(model_, &StepsTable::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
  auto* remove = new QShortcut(QKeySequence::Delete, table_);
  remove->setContext(Qt::WidgetShortcut);
  connect(remove, &QShortcut::activated, this, [this] {
    const int row = table_->currentIndex().row();
    if (row >= 0)
      edit(tr("Take out a reading"), [row](ScaleWorksheet& w) { w.readings.erase(w.readings.begin() + row); });
  });
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p != move_.get()) return;
    if (move_->phase() == Procedure::Phase::done) {
      reversed_ = false;
      hint_->setText(tr("It has moved. Measure from the mark, and type that on the drawing."));
      drawing_->measured()->setFocus();
    }
    refresh_status();
  });
  connect(move_button_, &QPushButton::clicked, this, &StepsSheet::move_and_mark);
  connect(once_more_, &QPushButton::clicked, this, &StepsSheet::move_and_mark);
  connect(read_button_, &QPushButton::clicked, this, &StepsSheet::read_instrument);
  connect(apply_, &QPushButton::clicked, this, &StepsSheet::apply);
  connect(put_back_, &QPushButton::clicked, this, &StepsSheet::put_back);
  connect(tolerance_, &LengthField::committed, this, [this](double wanted) {
    if (!(wanted > 0)) {
      session_.notices().notify(
          {NoticeLevel::attention, tr("What is wanted must be above zero; it was left as it is."), {}});
      refresh();
      return;
    }
    edit(tr("Change what is wanted"), [&](ScaleWorksheet& w) { w.tolerance_per_m = wanted; });
  });
  connect(instruments_, &QComboBox::textActivated, this, [this](const QString& name) {
    edit(tr("Choose the instrument"), [&](ScaleWorksheet& w) { w.instrument = name.toStdString(); });
  });
}

void StepsSheet::choose(Axis axis) {
  axis_ = axis;
  told_ = 0;
  forget_move();
  refresh();
}

double StepsSheet::longest() const {
  return std::max(1.0, session_.machine().room(axis_).size() - take_up_mm);
}

double StepsSheet::suggested_distance() const {
  const double room = longest(), step = room > 300 ? 10 : room > 60 ? 5 : 1;
  const double wanted = tries_short() ? room * first_try_part : next_ ? next_->distance : room;
  const double distance = std::max(step, std::floor(wanted / step) * step);
  return session_.editor().book().machine.axis(axis_).home_at_max ? -distance : distance;
}

/// A drive that nobody measured may go several times as far as it is told: the first move leaves room for that.
bool StepsSheet::tries_short() const {
  return worksheet().readings.empty() &&
         standing_of(session_.editor().book(), steps_per_unit_id, axis_).standing == Standing::never_done;
}

Result<void> StepsSheet::take_table(const std::string& text) {
  auto readings = scale_readings_from_csv(text);
  if (!readings) return tl::make_unexpected(readings.error());
  edit(tr("Read a table"), [&](ScaleWorksheet& w) {
    if (w.instrument.empty()) w.instrument = instrument_name().toStdString();
    w.readings.insert(w.readings.end(), readings->begin(), readings->end());
  });
  return {};
}

/// What the gross error looks like, where it is a part of the drive: to be put into Build, where it is kept.
void StepsSheet::offer_drives() {
  auto* menu = correct_drive_->menu();
  menu->clear();
  if (result_ && result_->verdict == ScaleVerdict::gross_error)
    for (const auto& suspect : result_->suspects)
      if (const auto drive = drive_as_it_behaves(session_.editor().book().machine.axis(axis_).drive, suspect))
        connect(menu->addAction(suspect_words(suspect, input())), &QAction::triggered, this, [this, drive = *drive] {
          BuildDraft(session_).change_drive(axis_, [&](DriveTrain& d) { d = drive; });
          session_.notices().lead_to("build#" + QString(QChar(letter(axis_))).toLower());
        });
  const bool offered = !menu->isEmpty();
  correct_drive_->setVisible(offered);
  // The act that mends the cause comes first; scaling it away is possible, not proposed.
  if (apply_->property("act").toString() != (offered ? "" : "main")) {
    apply_->setProperty("act", offered ? "" : "main");
    apply_->style()->unpolish(apply_);
    apply_->style()->polish(apply_);
  }
}

QString StepsSheet::instrument_name() const {
  const auto& w = worksheet();
  if (session_.editor().book().instrument(w.instrument)) return to_q(w.instrument);
  return session_.editor().book().instruments.empty() ? QString()
                                                      : to_q(session_.editor().book().instruments.front().name);
}

ScaleInput StepsSheet::input() const {
  ScaleInput in;
  const AxisSetup& axis = session_.editor().book().machine.axis(axis_);
  in.current_steps = axis.steps_per_mm;
  if (const Instrument* i = session_.editor().book().instrument(instrument_name().toStdString())) in.instrument = *i;
  in.readings = worksheet().readings;
  in.tolerance_per_m = worksheet().tolerance_per_m;
  in.transmission = axis.drive.transmission;
  return in;
}

void StepsSheet::edit(const QString& text, const std::function<void(ScaleWorksheet&)>& change) {
  session_.editor().change_book(text, [&](Book& b) { change(b.worksheets[scale_worksheets][index(axis_)]); });
}

void StepsSheet::add_reading(double measured, bool typed) {
  if (told_ == 0) told_ = drawing_->told()->value().value_or(0);
  if (told_ == 0 || measured == 0) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("Both the told and the measured length must be other than zero."), {}});
    return;
  }
  // A person types the size that the ruler shows; the sign is the move's, unless a minus says that it went the other
  // way.
  const double told = told_, signed_measured = typed && told < 0 && measured > 0 ? -measured : measured;
  const bool reversed = reversed_;
  told_ = 0;
  edit(tr("Add a reading"), [&](ScaleWorksheet& w) {
    if (w.instrument.empty()) w.instrument = instrument_name().toStdString();
    w.readings.push_back({told, signed_measured, reversed});
  });
}

void StepsSheet::move_and_mark() {
  if (move_->waits_for() == WaitsFor::act) return move_->go_on();  // the owner has marked the place
  if (told_ == 0) told_ = drawing_->told()->value().value_or(suggested_distance());
  if (session_.machine().start(move_, session_.machine().bench(), axis_, told_,
                               session_.editor().book().machine.axis(axis_).max_rate))
    refresh_status();
}

void StepsSheet::forget_move() {
  if (move_->running()) session_.machine().end_procedure();
  move_ = std::make_shared<MeasuredMove>();
}

void StepsSheet::read_instrument() {
  session_.machine().look(
      this, [axis = axis_, with = instrument_name().toStdString()](Bench& b) { return b.read_distance(axis, with); },
      [this, axis = axis_](double read) {
        if (axis == axis_) add_reading(read, false);
      });
}

/// What comes after another number of steps, while it has not been done.
std::vector<NoticeAction> StepsSheet::home_now() {
  if (session_.machine().status().all_homed()) return {};
  return {{tr("Home now"), [this] { session_.machine().home(); },
           [this] { return session_.machine().up() && !session_.machine().status().all_homed(); }}};
}

void StepsSheet::apply() {
  if (!result_ || !result_->fit) return;
  const ScaleFit& fit = *result_->fit;
  const bool leave = result_->verdict == ScaleVerdict::within_uncertainty;
  Entry entry;
  entry.instrument = instrument_name().toStdString();
  entry.readings = readings_json(worksheet().readings);
  entry.result = result_of(steps_entry(*result_));
  const double steps = leave ? input().current_steps : fit.new_steps;
  if (!session_.machine().apply_steps(
          axis_, steps, std::move(entry),
          leave ? tr("Record steps per unit of %1").arg(QChar(letter(axis_)))
                : tr("Apply steps per unit of %1").arg(QChar(letter(axis_))),
          [this](Book& b) { b.worksheets[scale_worksheets][index(axis_)].readings.clear(); }))
    return;
  session_.notices().notify(
      {NoticeLevel::good,
       leave ? tr("Recorded: %1 stays at %2.").arg(QChar(letter(axis_))).arg(steps_text(steps, fit.U_new_steps))
             : tr("%1 is now %2 steps per mm. Home it, since its positions mean other places now, and measure again to "
                  "see that it is right.")
                   .arg(QChar(letter(axis_)))
                   .arg(steps_text(steps, fit.U_new_steps)),
       home_now()});
}

void StepsSheet::put_back() {
  const Book& book = session_.editor().book();
  const auto last = newest(book, steps_per_unit_id, std::string(1, letter(axis_)));
  if (!last) return;
  const double found = book.history[*last].as_found.value(axis_setting(axis_, "steps_per_mm"), 0.0);
  if (!(found > 0)) return;
  Entry entry;
  entry.note = "put back";
  entry.result = book.history[*last].result;
  if (session_.machine().apply_steps(axis_, found, std::move(entry),
                                     tr("Put back steps per unit of %1").arg(QChar(letter(axis_)))))
    session_.notices().notify({NoticeLevel::good,
                               tr("%1 is back at %2 steps per mm, as it was found. Home it before you go on.")
                                   .arg(QChar(letter(axis_)))
                                   .arg(steps_text(found, 0.01)),
                               home_now()});
}

void StepsSheet::refresh() {
  const AxisSetup& axis = session_.editor().book().machine.axis(axis_);
  result_.reset();
  if (!worksheet().readings.empty()) {
    if (auto fitted = fit_scale(input()))
      result_ = std::move(*fitted);
    else
      session_.notices().notify({NoticeLevel::attention, to_q(fitted.error().message), {}});
  }
  const LengthUnit unit = session_.editor().unit(axis_);
  next_ = next_reading(input(), longest());
  const double span = std::max(longest() + take_up_mm, std::fabs(told_));
  drawing_->show(span, told_ != 0 ? told_ : suggested_distance(), std::nullopt, unit);
  model_->show(worksheet().readings,
               result_ && result_->fit ? result_->fit->readings : std::vector<ScaleReadingResult>{}, instrument_name(),
               unit);
  tolerance_->set_unit(unit == LengthUnit::degree ? LengthUnit::none : LengthUnit::millimetre);
  tolerance_->show_value(worksheet().tolerance_per_m);
  const int wide = table_->viewport()->width();
  const double parts[] = {0.08, 0.18, 0.2, 0.18, 0.2};
  for (int c = 0; c < 5; ++c) table_->setColumnWidth(c, static_cast<int>(wide * parts[c]));
  if (model_->rowCount() > 0) table_->scrollToBottom();
  QStringList names;
  for (const auto& i : session_.editor().book().instruments) names << to_q(i.name);
  QStringList shown;
  for (int i = 0; i < instruments_->count(); ++i) shown << instruments_->itemText(i);
  if (names != shown) {
    instruments_->clear();
    instruments_->addItems(names);
  }
  instruments_->setCurrentText(instrument_name());
  read_button_->setVisible(session_.machine().bench() != nullptr);
  set_text(read_button_, tr("Read the stand-in's %1").arg(instrument_name()));
  guidance_ = guidance();
  show_finding();
  chart_->show(input(), result_, axis.drive, unit);
  drawing_caption_->setText(tr("What the controller was told, what the %1 says").arg(instrument_name()));
  chart_caption_->setText(chart_->shows_drives()
                              ? tr("What the ratio looks like")
                              : tr("What is left over after the fit (bars: how well each could be read)"));
  refresh_status();
}

void StepsSheet::refresh_status() {
  const bool running = move_->running(), marks = move_->waits_for() == WaitsFor::act,
             moved = move_->phase() == Procedure::Phase::done, free = session_.machine().standing_ready() && !running;
  set_text(move_button_, marks ? tr("It is marked: move") : tr("Move and mark"));
  if (marks)
    hint_->setText(tr("Mark where the carriage stands now, then let it move."));
  else if (running)
    hint_->setText(tr("Moving. Keep clear of the machine."));
  else if (session_.machine().status().state == MachineState::not_homed)
    hint_->setText(tr("Home the machine first (Ctrl+H): a long move needs to know where the ends are."));
  else if (!moved)
    hint_->setText(guidance_);
  move_button_->setEnabled(free || marks);
  once_more_->setEnabled(free);
  read_button_->setEnabled(moved);
  // A setting is changed at a machine that stands, homed or not.
  const bool stands = free || (session_.machine().status().state == MachineState::not_homed && !running);
  apply_->setEnabled(stands);
  put_back_->setEnabled(stands);
}

}  // namespace ypsi::app
