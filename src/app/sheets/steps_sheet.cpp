#include "app/sheets/steps_sheet.h"

#include <qcustomplot.h>

#include <QAction>
#include <QHeaderView>
#include <QShortcut>
#include <algorithm>
#include <cmath>

#include "app/session/entry_text.h"
#include "app/sheets/axis_chips.h"
#include "app/sheets/registry.h"
#include "app/sheets/steps_drawing.h"
#include "app/sheets/steps_table.h"
#include "app/sheets/steps_words.h"
#include "core/book/changes.h"
#include "core/calibration/scale_json.h"

namespace ypsi::app {

StepsSheet::StepsSheet(Session& session)
    : Sheet(session, "steps_per_unit", tr("Steps per unit"),
            tr("Send the axis a long way, read how far it really went, and type that on the drawing.")) {
  auto* axes = new AxisChips(this);
  title_row()->addWidget(axes);
  connect(axes, &AxisChips::chosen, this, &StepsSheet::choose);

  auto* card = make_card();
  auto* top = new QVBoxLayout(card);
  top->setContentsMargins(18, 12, 18, 8);
  top->setSpacing(4);
  top->addWidget(
      make_label("drawing-caption", "caption", tr("What the controller was told, what the ruler says"), card));
  drawing_ = new StepsDrawing(card);
  top->addWidget(drawing_);
  top->addWidget(make_label("chart-caption", "caption",
                            tr("What is left over after the fit (bars: how well each could be read)"), card));
  chart_ = new QCustomPlot(card);
  chart_->setObjectName("residuals");
  chart_->setAccessibleName(tr("Residuals of the fit"));
  chart_->setMinimumHeight(76);
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
  table_->setMinimumHeight(70);
  table_->setToolTip(tr("Double-click a reading to mend it; Delete takes it out"));
  bottom->addWidget(table_, 1);
  auto* acts = new QHBoxLayout;
  acts->setContentsMargins(12, 0, 12, 0);
  move_button_ = make_button("move-and-mark", tr("Move and mark"),
                             tr("Takes up the slack, marks the place, moves the told distance (Ctrl+M)"), lower);
  move_button_->setShortcut(QKeySequence("Ctrl+M"));
  read_button_ = make_button("read-instrument", tr("Read the stand-in's ruler"),
                             tr("A reading as a person with this instrument would get (Ctrl+R)"), lower);
  read_button_->setShortcut(QKeySequence("Ctrl+R"));
  instruments_ = new QComboBox(lower);
  instruments_->setObjectName("instrument");
  instruments_->setAccessibleName(tr("Read with"));
  hint_ = make_label("hint", "small", tr("Three readings or more, as long as the axis allows."), lower);
  acts->addWidget(move_button_);
  acts->addWidget(read_button_);
  acts->addWidget(instruments_);
  hint_->setWordWrap(false);
  acts->addStretch();
  auto* below = new QHBoxLayout;
  below->setContentsMargins(14, 0, 12, 0);
  below->addWidget(hint_);
  bottom->addLayout(acts);
  bottom->addLayout(below);
  body()->addWidget(lower, 4);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("lead", "strong");
  figure_ = finding()->add_label("figure", "big");
  was_ = finding()->add_label("was", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("verdict", "strong");
  explanation_ = finding()->add_label("explanation", "small");
  finding()->add_rule();
  also_heading_ = finding()->add_label("also-heading", "heading", tr("APPLYING THIS ALSO CHANGES"));
  also_ = finding()->add_label("also", "small");
  finding()->add_stretch();
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
  for (auto* field : {drawing_->told(), drawing_->measured()})
    connect(field, &LengthField::refused, this, [this](const QString& why) {
      session_.notify({NoticeLevel::attention, why, {}});
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
    session_.notify({NoticeLevel::attention, why, {}});
  });
  auto* remove = new QShortcut(QKeySequence::Delete, table_);
  remove->setContext(Qt::WidgetShortcut);
  connect(remove, &QShortcut::activated, this, [this] {
    const int row = table_->currentIndex().row();
    if (row >= 0)
      edit(tr("Take out a reading"), [row](ScaleWorksheet& w) { w.readings.erase(w.readings.begin() + row); });
  });
  connect(&session_, &Session::status_changed, this, [this] {
    if (!isVisible() && move_.state() == MeasuredMoveState::running) refresh_status();
  });
  connect(move_button_, &QPushButton::clicked, this, &StepsSheet::move_and_mark);
  connect(once_more_, &QPushButton::clicked, this, &StepsSheet::move_and_mark);
  connect(read_button_, &QPushButton::clicked, this, &StepsSheet::read_instrument);
  connect(apply_, &QPushButton::clicked, this, &StepsSheet::apply);
  connect(put_back_, &QPushButton::clicked, this, &StepsSheet::put_back);
  connect(instruments_, &QComboBox::textActivated, this, [this](const QString& name) {
    edit(tr("Choose the instrument"), [&](ScaleWorksheet& w) { w.instrument = name.toStdString(); });
  });
}

void StepsSheet::choose(Axis axis) {
  axis_ = axis;
  told_ = 0;
  move_.cancel();
  refresh();
}

double StepsSheet::suggested_distance() const {
  const AxisSetup& a = session_.book().machine.axis(axis_);
  const double room = a.soft_min && a.soft_max ? *a.soft_max - *a.soft_min : a.travel;
  // Long first, then shorter, so that the fit rests on different lengths.
  static constexpr double parts[] = {0.85, 0.6, 0.4, 0.85};
  const double step = room > 300 ? 50 : room > 60 ? 10 : 5;
  const double part = parts[worksheet().readings.size() % 4];
  const double distance = std::max(step, std::floor(room * part / step) * step);
  return a.home_at_max ? -distance : distance;
}

QString StepsSheet::instrument_name() const {
  const auto& w = worksheet();
  if (session_.book().instrument(w.instrument)) return to_q(w.instrument);
  return session_.book().instruments.empty() ? QString() : to_q(session_.book().instruments.front().name);
}

ScaleInput StepsSheet::input() const {
  ScaleInput in;
  const AxisSetup& axis = session_.book().machine.axis(axis_);
  in.current_steps = axis.steps_per_mm;
  if (const Instrument* i = session_.book().instrument(instrument_name().toStdString())) in.instrument = *i;
  in.readings = worksheet().readings;
  in.tolerance_per_m = worksheet().tolerance_per_m;
  in.transmission = axis.drive.transmission;
  return in;
}

void StepsSheet::edit(const QString& text, const std::function<void(ScaleWorksheet&)>& change) {
  session_.change_book(text, [&](Book& b) { change(b.scale_worksheets[index(axis_)]); });
}

void StepsSheet::add_reading(double measured, bool typed) {
  if (told_ == 0) told_ = drawing_->told()->value().value_or(0);
  if (told_ == 0 || measured == 0) {
    session_.notify({NoticeLevel::attention, tr("Both the told and the measured length must be other than zero."), {}});
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
  if (!session_.link() || !session_.bench()) return;
  if (told_ == 0) told_ = drawing_->told()->value().value_or(suggested_distance());
  if (session_.ask(
          move_.start(*session_.link(), *session_.bench(), axis_, told_, session_.book().machine.axis(axis_).max_rate)))
    refresh_status();
}

void StepsSheet::read_instrument() {
  if (!session_.bench()) return;
  const auto read = session_.bench()->read_distance(axis_, instrument_name().toStdString());
  if (!read) {
    session_.ask(tl::make_unexpected(read.error()));
    return;
  }
  add_reading(*read, false);
}

void StepsSheet::apply() {
  if (!result_ || !result_->fit) return;
  const ScaleFit& fit = *result_->fit;
  const bool leave = result_->verdict == ScaleVerdict::within_uncertainty;
  Entry entry;
  entry.instrument = instrument_name().toStdString();
  entry.readings = readings_json(worksheet().readings);
  entry.result = scale_json(*result_);
  const double steps = leave ? input().current_steps : fit.new_steps;
  if (!session_.apply_steps(axis_, steps, std::move(entry),
                            leave ? tr("Record steps per unit of %1").arg(QChar(letter(axis_)))
                                  : tr("Apply steps per unit of %1").arg(QChar(letter(axis_))),
                            [this](Book& b) { b.scale_worksheets[index(axis_)].readings.clear(); }))
    return;
  session_.notify(
      {NoticeLevel::good,
       leave ? tr("Recorded: %1 stays at %2.").arg(QChar(letter(axis_))).arg(steps_text(steps, fit.U_new_steps))
             : tr("%1 is now %2 steps per mm. Measure again to see that it is right.")
                   .arg(QChar(letter(axis_)))
                   .arg(steps_text(steps, fit.U_new_steps)),
       {}});
}

void StepsSheet::put_back() {
  const Book& book = session_.book();
  const auto last = newest(book, "steps_per_unit", std::string(1, letter(axis_)));
  if (!last) return;
  const double found = book.history[*last].as_found.value(axis_setting(axis_, "steps_per_mm"), 0.0);
  if (!(found > 0)) return;
  Entry entry;
  entry.note = "put back";
  entry.result = book.history[*last].result;
  if (session_.apply_steps(axis_, found, std::move(entry),
                           tr("Put back steps per unit of %1").arg(QChar(letter(axis_)))))
    session_.notify(
        {NoticeLevel::good,
         tr("%1 is back at %2 steps per mm, as it was found.").arg(QChar(letter(axis_))).arg(steps_text(found, 0.01)),
         {}});
}

void StepsSheet::show_chart() {
  chart_->clearPlottables();
  chart_->clearItems();
  chart_->setBackground(theme().sheet);
  const LengthUnit unit = session_.unit();
  QVector<double> x, y, u;
  double widest = 0.01, longest = 1;
  if (result_ && result_->fit)
    for (std::size_t i = 0; i < worksheet().readings.size(); ++i) {
      const auto& r = result_->fit->readings[i];
      x << in_unit(std::fabs(worksheet().readings[i].commanded), unit);
      y << in_unit(r.residual, unit);
      u << in_unit(r.u, unit);
      widest = std::max({widest, std::fabs(y.last()) + u.last()});
      longest = std::max(longest, x.last());
    }
  const double one =
      x.isEmpty() ? 0 : in_unit(session_.book().instrument(instrument_name().toStdString())->u_mm(0), unit);
  if (!x.isEmpty()) {
    auto* band = new QCPItemRect(chart_);
    band->setPen(Qt::NoPen);
    band->setBrush(theme().teal_soft);
    band->setSelectable(false);
    band->topLeft->setCoords(0, one);
    band->bottomRight->setCoords(longest * 1.05, -one);
  }
  auto* zero = new QCPItemStraightLine(chart_);
  zero->setPen(QPen(theme().ink, 1.2));
  zero->point1->setCoords(0, 0);
  zero->point2->setCoords(1, 0);
  auto* graph = chart_->addGraph();
  graph->setData(x, y);
  graph->setLineStyle(QCPGraph::lsNone);
  graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, theme().teal, 8));
  auto* bars = new QCPErrorBars(chart_->xAxis, chart_->yAxis);
  bars->setData(u);
  bars->setDataPlottable(graph);
  bars->setPen(QPen(theme().teal, 1.4));
  bars->setSymbolGap(0);
  for (QCPAxis* axis : {chart_->xAxis, chart_->yAxis}) {
    axis->setBasePen(Qt::NoPen);
    axis->setTickPen(Qt::NoPen);
    axis->setSubTickPen(Qt::NoPen);
    axis->setTickLabelColor(theme().second_ink);
    axis->setLabelColor(theme().second_ink);
    axis->setTickLabelFont(text_font(10));
    axis->setLabelFont(text_font(10));
    axis->grid()->setPen(QPen(theme().rule, 1, Qt::DotLine));
    axis->grid()->setZeroLinePen(Qt::NoPen);
  }
  chart_->xAxis->grid()->setVisible(false);
  chart_->xAxis->setLabel(tr("distance told, %1").arg(to_q(unit_name(unit))));
  chart_->xAxis->setRange(0, longest * 1.05);
  chart_->yAxis->setRange(-widest * 1.2, widest * 1.2);
  chart_->yAxis->ticker()->setTickCount(4);
  chart_->xAxis->setVisible(!x.isEmpty());
  chart_->yAxis->setVisible(!x.isEmpty());
  if (x.isEmpty()) {
    auto* empty = new QCPItemText(chart_);
    empty->position->setType(QCPItemPosition::ptAxisRectRatio);
    empty->position->setCoords(0.5, 0.3);
    empty->setText(tr("Each reading will stand here with what it differs from the common scale."));
    empty->setFont(text_font(12));
    empty->setColor(theme().second_ink);
  }
  chart_->replot();
}

void StepsSheet::show_finding() {
  const Book& book = session_.book();
  const auto last = newest(book, "steps_per_unit", std::string(1, letter(axis_)));
  const AxisSetup& axis = book.machine.axis(axis_);
  const bool has = result_ && !worksheet().readings.empty();
  lead_->setVisible(true);
  also_heading_->setVisible(false);
  also_->setText({});
  apply_->setVisible(has && result_->fit);
  put_back_->setVisible(!has && last && book.history[*last].as_found != book.history[*last].as_left);
  once_more_->setVisible(has);
  if (!has) {
    lead_->setText(tr("%1 has").arg(QChar(letter(axis_))));
    figure_->setText(to_q(format_number(axis.steps_per_mm, 2)));
    was_->setText(tr("steps per mm in the book and the controller"));
    verdict_->setText(last ? entry_text(book.history[*last], session_.unit()) : tr("Never measured."));
    explanation_->setText(
        tr("You need a ruler or a caliper, and about five minutes.\n\n1. Home the machine.\n2. Move and mark: the axis "
           "takes up its slack, you mark the place, it moves.\n3. Measure from mark to mark and type it on the "
           "drawing.\n4. Repeat over other lengths, three times at least."));
    verdict_->setStyleSheet({});
    return;
  }
  const double part = axis_ == Axis::y   ? book.job.part_height
                      : axis_ == Axis::x ? book.job.part_width
                                         : std::max(10.0, book.job.stock_size[2]);
  const StepsWords words =
      describe(input(), *result_, letter(axis_), part,
               axis.soft_min && axis.soft_max ? *axis.soft_max - *axis.soft_min : axis.travel, session_.unit());
  lead_->setText(words.lead);
  figure_->setText(words.figure);
  was_->setText(words.was);
  verdict_->setText(words.verdict);
  verdict_->setStyleSheet(words.good ? QString() : QStringLiteral("color: %1;").arg(theme().ochre.name()));
  explanation_->setText(words.explanation);
  if (!result_->fit) return;
  const bool leave = result_->verdict == ScaleVerdict::within_uncertainty;
  apply_->setText(leave                                           ? tr("Record, leave as it is")
                  : result_->verdict == ScaleVerdict::gross_error ? tr("Apply all the same")
                                                                  : tr("Apply to the machine"));
  if (leave) return;
  Book then = book;
  change_steps_per_mm(then, axis_, result_->fit->new_steps);
  QStringList also;
  for (const auto& id : downstream("steps_per_unit")) {
    const auto standing = standing_of(book, id).standing;
    if (id == "limits" && axis.soft_max) {
      const auto& moved = axis.home_at_max ? then.machine.axis(axis_).soft_min : then.machine.axis(axis_).soft_max;
      const auto& was = axis.home_at_max ? axis.soft_min : axis.soft_max;
      if (moved && was)
        also << tr("◐ Travel and limits: %1 → %2, carried over")
                    .arg(to_q(format_length(*was, session_.unit(), 1)),
                         to_q(format_length(*moved, session_.unit(), 1)));
    } else if (standing != Standing::never_done) {
      also << tr("◐ %1: measure again").arg(sheet_title(to_q(id)));
    }
  }
  also_heading_->setVisible(!also.isEmpty());
  also_->setText(also.join("\n"));
}

void StepsSheet::refresh() {
  const AxisSetup& axis = session_.book().machine.axis(axis_);
  result_.reset();
  if (!worksheet().readings.empty()) {
    if (auto fitted = fit_scale(input()))
      result_ = std::move(*fitted);
    else
      session_.notify({NoticeLevel::attention, to_q(fitted.error().message), {}});
  }
  const double span =
      std::max(axis.soft_min && axis.soft_max ? *axis.soft_max - *axis.soft_min : axis.travel, std::fabs(told_));
  const double told = told_ != 0 ? told_ : suggested_distance();
  drawing_->show(span, told, std::nullopt, session_.unit());
  model_->show(worksheet().readings,
               result_ && result_->fit ? result_->fit->readings : std::vector<ScaleReadingResult>{}, instrument_name(),
               session_.unit());
  const int wide = table_->viewport()->width();
  const double parts[] = {0.08, 0.18, 0.2, 0.18, 0.2};
  for (int c = 0; c < 5; ++c) table_->setColumnWidth(c, static_cast<int>(wide * parts[c]));
  if (model_->rowCount() > 0) table_->scrollToBottom();
  QStringList names;
  for (const auto& i : session_.book().instruments) names << to_q(i.name);
  QStringList shown;
  for (int i = 0; i < instruments_->count(); ++i) shown << instruments_->itemText(i);
  if (names != shown) {
    instruments_->clear();
    instruments_->addItems(names);
  }
  instruments_->setCurrentText(instrument_name());
  read_button_->setVisible(session_.bench() != nullptr);
  read_button_->setText(tr("Read the stand-in's %1").arg(instrument_name()));
  show_finding();
  show_chart();
  refresh_status();
}

void StepsSheet::refresh_status() {
  const bool was_running = move_.state() == MeasuredMoveState::running;
  move_.tick();
  if (was_running && move_.state() == MeasuredMoveState::done) {
    reversed_ = false;
    hint_->setText(tr("It has moved. Measure from the mark, and type that on the drawing."));
    drawing_->measured()->setFocus();
  }
  if (was_running && move_.state() == MeasuredMoveState::failed) session_.ask(tl::make_unexpected(move_.error()));
  const bool running = move_.state() == MeasuredMoveState::running, free = session_.standing_ready() && !running;
  if (running)
    hint_->setText(tr("Moving. Keep clear of the machine."));
  else if (session_.status().state == MachineState::not_homed)
    hint_->setText(tr("Home the machine first (Ctrl+H): a long move needs to know where the ends are."));
  else if (move_.state() != MeasuredMoveState::done)
    hint_->setText(tr("Three readings or more, as long as the axis allows."));
  move_button_->setEnabled(free);
  once_more_->setEnabled(free);
  read_button_->setEnabled(move_.state() == MeasuredMoveState::done);
  apply_->setEnabled(free);
  put_back_->setEnabled(free);
}

}  // namespace ypsi::app
