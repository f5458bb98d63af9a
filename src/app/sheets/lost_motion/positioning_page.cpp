#include "app/sheets/lost_motion/positioning_page.h"

#include <QFileInfo>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/copy_beside.h"
#include "app/sheets/instrument_choice.h"
#include "app/sheets/lost_motion/deviation_graph.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/table_menu.h"
#include "core/book/readings_csv.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/positioning.h"
#include "core/calibration/positioning_json.h"
#include "core/tasks/lost_motion.h"

namespace ypsi::app {
namespace {
constexpr int usual_targets = 9, usual_runs = 5, most_targets = 60, most_runs = 20;
constexpr double dwell_s = 4;

/// What the means do not take out, where it scatters most: ±2s, mm.
double left_by(const PositioningResult& result) {
  double worst = 0;
  for (const auto& t : result.targets) worst = std::max({worst, 2 * t.s_plus, 2 * t.s_minus});
  return worst;
}

/// Each reading without the mean of its target and direction: as a table of those would leave it.
PositioningReadings with_table(PositioningReadings readings, const PositioningResult& result) {
  readings.runs = readings.whole_runs();
  for (PositioningRun& run : readings.runs)
    for (std::size_t i = 0; i < run.deviations.size(); ++i)
      run.deviations[i] -= run.plus ? result.targets[i].mean_plus : result.targets[i].mean_minus;
  return readings;
}

}  // namespace

PositioningPage::PositioningPage(Session& session) : LostMotionPage(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* card = make_card(this);
  auto* top = new QVBoxLayout(card);
  top->setContentsMargins(18, 12, 18, 8);
  auto* table = new TableMenu(
      session, card, [this](const std::string& text) { return take_table(text); },
      [this] { return positioning_to_csv(readings()); });
  table->add_writer(tr("Write the test as a program…"), tr("Programs (*.ngc)"), "ngc", [this] {
    return positioning_program(axis_, targets(), runs(), session_.editor().book().machine.axis(axis_).max_rate / 2,
                               dwell_s);
  });
  auto* heading = new QHBoxLayout;
  heading->addWidget(make_label("graph-caption", "caption", tr("Actual less target, with bands of ±2s"), card), 1);
  as_corrected_ = make_chip("as-corrected", tr("As corrected"),
                            tr("What would be left if every place were corrected by these means: what scatters"), card);
  as_corrected_->setAutoExclusive(false);
  connect(as_corrected_, &QPushButton::clicked, this, [this] { refresh(); });
  heading->addWidget(as_corrected_);
  heading->addWidget(table);
  top->addLayout(heading);
  graph_ = new DeviationGraph(card);
  top->addWidget(graph_, 1);
  column->addWidget(card, 5);

  auto* lower = make_card(this);
  auto* bottom = new QVBoxLayout(lower);
  bottom->setContentsMargins(1, 4, 1, 10);
  table_ = new QTableWidget(0, 0, lower);
  table_->setObjectName("deviations");
  table_->setAccessibleName(tr("Deviations by target and run"));
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(22);
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setShowGrid(false);
  bottom->addWidget(table_, 1);
  PageFoot foot(bottom, lower, PageFoot::beside_table_px);
  auto *acts = foot.acts(), *below = foot.settings();
  start_ = make_button("start-test", tr("Start the test"),
                       tr("Goes to every target from below and from above, run after run (Ctrl+M)"), lower);
  start_->setShortcut(QKeySequence("Ctrl+M"));
  read_ = make_button("read-deviation", tr("Read it"),
                      tr("A reading as a person with this instrument would get (Ctrl+R)"), lower);
  read_->setShortcut(QKeySequence("Ctrl+R"));
  read_all_ = make_button("read-all", tr("Read all"), tr("The stand-in's hand reads at every target by itself"), lower);
  instruments_ = new QComboBox(lower);
  instruments_->setObjectName("positioning-instrument");
  instruments_->setAccessibleName(tr("Read with"));
  acts->addWidget(start_);
  acts->addWidget(read_);
  acts->addWidget(read_all_);
  acts->addWidget(instruments_);
  const auto field = [&](const char* name, const QString& word, const QString& what, int width) {
    below->addWidget(make_label("word", "small", word, lower));
    auto* f = new LengthField(name, what, lower);
    f->setFixedWidth(width);
    below->addWidget(f);
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
    return f;
  };
  count_ = field("targets", tr("Targets"), tr("How many targets over the travel"), 62);
  runs_ = field("runs", tr("Runs"), tr("How many runs in each direction"), 62);
  for (auto* f : {count_, runs_}) {
    f->set_unit(LengthUnit::none);
    f->set_decimals(0);
    connect(f, &LengthField::committed, this, [this] { refresh(); });
  }
  count_->show_value(usual_targets);
  runs_->show_value(usual_runs);
  deviation_ = field("deviation", tr("Deviation"), tr("Actual less target, at the target where it stands"), 96);
  deviation_->set_decimals(3);
  hint_ = foot.hint("positioning-hint");
  column->addWidget(lower, 4);

  connect(start_, &QPushButton::clicked, this, &PositioningPage::start);
  connect(read_, &QPushButton::clicked, this, &PositioningPage::read_here);
  connect(read_all_, &QPushButton::clicked, this, [this] {
    by_itself_ = true;
    refresh_status();
  });
  connect(deviation_, &LengthField::committed, this, [this](double mm) {
    take(mm, true);
    deviation_->show_value(std::nullopt);
  });
}

int PositioningPage::runs() const {
  return std::clamp(static_cast<int>(runs_->value().value_or(usual_runs)), 2, most_runs);
}

std::vector<double> PositioningPage::targets() const {
  const MachineSession::Room room = session_.machine().room(axis_);
  return positioning_targets(room.low + overrun_mm, room.high - overrun_mm,
                             std::clamp(static_cast<int>(count_->value().value_or(usual_targets)), 2, most_targets));
}

void PositioningPage::start() {
  by_itself_ = false;
  if (!session_.machine().start(test_, axis_, targets(), runs(), session_.editor().book().machine.axis(axis_).max_rate))
    return;
  store();
  refresh_status();
}

void PositioningPage::read_here() {
  Bench* bench = session_.machine().bench();
  if (!bench || test_->waits_for() != WaitsFor::reading) return;
  if (test_->done() == 0) {
    bench->mark(axis_);  // the scale is set to zero at the first target
    take(0, false);
    return;
  }
  session_.machine().look(
      this,
      [axis = axis_, with = instruments_->currentText().toStdString()](Bench& b) {
        return b.read_distance(axis, with);
      },
      [this, axis = axis_](double read) {
        if (axis == axis_) take(read - (test_->target() - test_->targets().front()), false);
      },
      [this] { by_itself_ = false; });
}

void PositioningPage::take(double deviation, bool typed) {
  if (test_->waits_for() != WaitsFor::reading) return;
  const int run = test_->run();
  const bool plus = test_->plus();
  test_->read(deviation);
  // A typed reading is in the book at once; those that read themselves, run by run.
  if (typed || run != test_->run() || plus != test_->plus() || test_->phase() == Procedure::Phase::done) store();
  if (!by_itself_) refresh_status();
}

void PositioningPage::store() {
  session_.editor().note_in_book([&](Book& b) {
    b.worksheets[positioning_worksheets][index(axis_)] = {coordinates(test_->targets()), test_->readings()};
  });
}

Result<void> PositioningPage::take_table(const std::string& text) {
  auto read = positioning_from_csv(text);
  if (!read) return tl::make_unexpected(read.error());
  if (const auto sound = evaluate_positioning(plain(read->targets), read->runs); !sound)
    return tl::make_unexpected(sound.error());
  session_.editor().change_book(
      tr("Read a table"), [&](Book& b) { b.worksheets[positioning_worksheets][index(axis_)] = std::move(*read); });
  return {};
}

void PositioningPage::cancel() {
  if (test_->running()) session_.machine().end_procedure();
  by_itself_ = false;
}

void PositioningPage::keep() {
  if (!result_) return;
  const auto whole = static_cast<int>(readings().whole_runs().size());
  const MeanReversal slack = mean_reversal(
      *result_, whole / 2, instrument_or_indicator(session_.editor().book(), instruments_->currentText()));
  session_.editor().change_book(tr("Keep the positioning test"), [&](Book& b) {
    Entry entry;
    entry.time = session_.editor().now().toStdString();
    entry.sheet = lost_motion_id;
    entry.subject = std::string(1, letter(axis_));
    entry.instrument = instruments_->currentText().toStdString();
    entry.readings = nlohmann::json::array({positioning_json(readings())});
    entry.result = result_of(PositioningEntry{{.lost_motion = slack.lost_motion, .U = slack.U}, *result_});
    b.history.push_back(std::move(entry));
    b.worksheets[positioning_worksheets][index(axis_)] = {};
  });
}

PageFinding PositioningPage::finding() const {
  const LengthUnit unit = session_.editor().unit(axis_);
  const QChar name(letter(axis_));
  PageFinding f;
  if (!result_) {
    f.lead = tr("%1 after ISO 230-2").arg(name);
    f.text =
        tr("You need a scale or a laser that reads hundredths over the whole travel, and half an hour. The axis "
           "goes to each target from below and from above, five times; you read how far it is off. Or take the "
           "readings elsewhere and read them in as a table.");
    return f;
  }
  const PositioningResult& r = *result_;
  const auto len = [&](double mm) { return to_q(format_length(mm, unit, 3)); };
  f.can_keep = true;
  f.lead = tr("%1: accuracy A, both directions").arg(name);
  f.figure = len(r.accuracy) + " " + to_q(unit_name(unit));
  f.spread = tr("after ISO 230-2 · %1 targets, %2 runs each way")
                 .arg(r.targets.size())
                 .arg(readings().whole_runs().size() / 2);
  f.verdict = std::fabs(r.mean_reversal) > r.repeatability_plus / 2 + r.repeatability_minus / 2
                  ? tr("◐ It turns round with %1 %2 lost.").arg(len(std::fabs(r.mean_reversal)), to_q(unit_name(unit)))
                  : tr("● No slack that stands out of the scatter.");
  const std::pair<QString, double> figures[] = {
      {tr("A↑  accuracy, towards +"), r.accuracy_plus},
      {tr("A↓  accuracy, towards −"), r.accuracy_minus},
      {tr("E  systematic deviation"), r.systematic},
      {tr("E↑  towards +"), r.systematic_plus},
      {tr("E↓  towards −"), r.systematic_minus},
      {tr("M  range of the mean deviation"), r.mean_deviation_range},
      {tr("R  repeatability, both ways"), r.repeatability},
      {tr("R↑  towards +"), r.repeatability_plus},
      {tr("R↓  towards −"), r.repeatability_minus},
      {tr("B  reversal value"), r.reversal},
      {tr("<span style='text-decoration: overline;'>B</span>  mean reversal value"), r.mean_reversal}};
  QString rows;
  for (const auto& [words, mm] : figures)
    rows += QString("<tr><td>%1</td><td align='right' style='padding-left: 10px;'>%2</td></tr>").arg(words, len(mm));
  f.text = "<table>" + rows + "</table>";
  if (axis_ == Axis::z) return f;
  if (!seen_) return f;
  if (seen_->period_too_short) {
    f.text += "<p>" +
              tr("No table of these: the targets are too far apart to see what the drive repeats with every turn, and "
                 "that is not known to be small. Measure it under Turn, or take more targets.") +
              "</p>";
    return f;
  }
  QString left = tr("A table of these would leave what scatters: ±%1 where it is worst.").arg(len(left_by(r)));
  if (const auto periodic = periodic_error_of(session_.editor().book(), axis_).amplitude; periodic && *periodic > 0)
    left += " " + tr("What repeats with every turn, ±%1, it sees in part only.").arg(len(*periodic));
  f.text += "<p>" + left + "</p>";
  f.second = tr("Write a corrected copy");
  return f;
}

void PositioningPage::second() {
  const WorkZero zero = session_.machine().status().work_zero;
  const Book& book = session_.editor().book();
  const auto made = copy_beside(session_, this, "-by-table", [&](std::string_view text) {
    return tabled_copy(text, {positional_table(book, Axis::x), positional_table(book, Axis::y)}, zero, lines_within_mm);
  });
  if (!made) return;
  session_.notices().notify(
      {NoticeLevel::good,
       tr("“%1” arrives where it means by the table, from either side; its places moved by %2 at most. It holds for "
          "this work zero alone; what is really left only a second test tells.")
           .arg(QFileInfo(made->path).fileName(), session_.editor().length(made->copy.largest_change, 3)),
       {{tr("Load it"), [this, to = made->path] { session_.job().load_program(to); }}}});
}

void PositioningPage::fill_table() {
  const auto& all = readings();
  const LengthUnit unit = session_.editor().unit(axis_);
  table_->setColumnCount(1 + static_cast<int>(all.runs.size()));
  table_->setRowCount(static_cast<int>(all.targets.size()));
  QStringList headings{tr("Target")};
  for (std::size_t r = 0; r < all.runs.size(); ++r)
    headings << QString("%1 %2").arg(all.runs[r].plus ? "↑" : "↓").arg(r / 2 + 1);
  table_->setHorizontalHeaderLabels(headings);
  for (std::size_t i = 0; i < all.targets.size(); ++i)
    table_->setItem(static_cast<int>(i), 0, new QTableWidgetItem(to_q(format_length(all.targets[i], unit, 2))));
  for (std::size_t r = 0; r < all.runs.size(); ++r) {
    const auto& run = all.runs[r];
    const std::size_t from = run.plus ? 0 : all.targets.size() - run.deviations.size();
    for (std::size_t i = 0; i < run.deviations.size(); ++i)
      table_->setItem(static_cast<int>(from + i), static_cast<int>(r) + 1,
                      new QTableWidgetItem(to_q(format_length(run.deviations[i], unit, 3))));
  }
  const int columns = table_->columnCount(), wide = table_->viewport()->width();
  for (int c = 0; c < columns; ++c) table_->setColumnWidth(c, std::max(56, wide / std::max(1, columns)));
}

void PositioningPage::refresh() {
  QStringList names;
  for (const auto& i : session_.editor().book().instruments) names << to_q(i.name);
  QStringList shown;
  for (int i = 0; i < instruments_->count(); ++i) shown << instruments_->itemText(i);
  if (names != shown) {
    instruments_->clear();
    instruments_->addItems(names);
    // The finest that spans the travel is not known by its name; the owner's last is as good a guess as any.
    if (!names.isEmpty()) instruments_->setCurrentIndex(static_cast<int>(names.size()) - 1);
  }
  deviation_->set_unit(session_.editor().unit(axis_));
  result_.reset();
  const auto& all = readings();
  if (auto found = evaluate_positioning(plain(all.targets), all.whole_runs())) result_ = std::move(*found);
  seen_ = positional_table(session_.editor().book(), axis_);
  const bool corrects = seen_ && !seen_->period_too_short;
  as_corrected_->setVisible(corrects);
  if (result_ && corrects && as_corrected_->isChecked()) {
    const PositioningReadings left = with_table(all, *result_);
    const auto then = evaluate_positioning(plain(left.targets), left.runs);
    graph_->show(left, then ? std::optional(*then) : std::nullopt, session_.editor().unit(axis_));
  } else {
    graph_->show(all, result_, session_.editor().unit(axis_));
  }
  fill_table();
  emit found();
  refresh_status();
}

void PositioningPage::refresh_status() {
  if (!test_->running()) by_itself_ = false;
  const bool waits = test_->waits_for() == WaitsFor::reading, new_target = waits && !std::exchange(asked_, waits);
  asked_ = waits;
  if (waits && by_itself_)
    read_here();
  else if (new_target)
    deviation_->setFocus();
  const bool reading = test_->waits_for() == WaitsFor::reading, busy = test_->running();
  QString hint;
  if (busy)
    hint = tr("Run %1 of %2, %3, at %4 (%5 of %6)")
               .arg(test_->run())
               .arg(test_->run_count())
               .arg(test_->plus() ? tr("towards +") : tr("towards −"),
                    to_q(format_length(test_->target(), session_.editor().unit(axis_), 1)))
               .arg(test_->done())
               .arg(test_->total());
  else if (!session_.machine().status().all_homed())
    hint = tr("Home the machine first (Ctrl+H).");
  else if (test_->phase() == Procedure::Phase::done)
    hint = tr("The test is done.");
  else
    hint = tr("Targets are uneven: no period can hide.");
  set_text(hint_, hint);
  start_->setEnabled(session_.machine().standing_ready() && !busy);
  const bool hand = session_.machine().bench() != nullptr;
  read_->setVisible(hand);
  read_all_->setVisible(hand);
  read_->setEnabled(reading && !by_itself_);
  read_all_->setEnabled(reading && !by_itself_);
  deviation_->setEnabled(reading && !by_itself_);
}

}  // namespace ypsi::app
