#include "app/sheets/lost_motion_sheet.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/entry_text.h"
#include "app/sheets/axis_chips.h"

namespace ypsi::app {
namespace {

constexpr int usual_places = 5;
constexpr double approach_y = 62, field_width = 92;

/// What is meant where the book names no indicator of its own.
Instrument usual_indicator() {
  Instrument i;
  i.name = "indicator";
  i.resolution_mm = 0.01;
  return i;
}

}  // namespace

ApproachesDrawing::ApproachesDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("approaches");
  setAccessibleName(LostMotionSheet::tr("Two arrivals at one place, and what each place lost"));
  plus_ = new LengthField("arriving-plus", LostMotionSheet::tr("Reading after arriving towards +"), this);
  minus_ = new LengthField("arriving-minus", LostMotionSheet::tr("Reading after arriving towards −"), this);
  for (auto* f : {plus_, minus_}) {
    f->set_decimals(3);
    f->setFixedWidth(static_cast<int>(field_width));
  }
}

void ApproachesDrawing::show(Axis axis, LengthUnit unit, TwoApproaches::Stage stage, std::vector<double> places,
                             std::optional<LostMotionResult> result) {
  axis_ = axis;
  unit_ = unit;
  stage_ = stage;
  places_ = std::move(places);
  result_ = std::move(result);
  plus_->set_unit(unit);
  minus_->set_unit(unit);
  update();
}

void ApproachesDrawing::resizeEvent(QResizeEvent*) {
  plus_->move(static_cast<int>(middle() - 150 - field_width / 2), static_cast<int>(approach_y - 15));
  minus_->move(static_cast<int>(middle() + 150 - field_width / 2), static_cast<int>(approach_y - 15));
}

void ApproachesDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  using Stage = TwoApproaches::Stage;
  const double m = middle();
  const QString name(QChar(letter(axis_)));
  const auto arrival = [&](double side, bool now) {
    const QColor colour = now ? theme().teal : theme().second_ink;
    draft.line({m + side * 260, approach_y}, {m + side * 12, approach_y}, colour, now ? 4 : 2);
    draft.arrow_head({m + side * 10, approach_y}, {-side, 0}, colour, now ? 15 : 10);
    draft.text({m + side * 150, approach_y - 24},
               side < 0 ? LostMotionSheet::tr("arriving towards +%1").arg(name)
                        : LostMotionSheet::tr("arriving towards −%1").arg(name),
               theme().ink, 12, true, Qt::AlignHCenter);
  };
  draft.line({m, approach_y - 34}, {m, approach_y + 34}, theme().red, 2);
  draft.text({m, approach_y + 48}, LostMotionSheet::tr("one place, read twice"), theme().second_ink, 11, false,
             Qt::AlignHCenter);
  arrival(-1, stage_ == Stage::arriving_plus || stage_ == Stage::read_plus);
  arrival(1, stage_ == Stage::arriving_minus || stage_ == Stage::read_minus);
  if (!result_ || places_.empty()) return;

  // What each place lost, over where it is on the travel.
  const QRectF chart(64, approach_y + 76, width() - 90.0, std::max(60.0, height() - approach_y - 112));
  const auto ends = std::minmax_element(places_.begin(), places_.end());
  const double first = *ends.first, last = *ends.second, span = std::max(1.0, last - first);
  double low = std::min(0.0, result_->mean - result_->U), high = std::max(0.0, result_->mean + result_->U);
  for (const double d : result_->each) {
    low = std::min(low, d);
    high = std::max(high, d);
  }
  const double room = std::max(1e-4, high - low) * 0.12;
  const auto x = [&](double place) { return chart.left() + 20 + (place - first) / span * (chart.width() - 40); };
  const auto y = [&](double lost) {
    return chart.bottom() - (lost - low + room) / (high - low + 2 * room) * chart.height();
  };
  draft.box(QRectF(QPointF(chart.left(), y(result_->mean + result_->U)),
                   QPointF(chart.right(), y(result_->mean - result_->U))),
            Qt::transparent, theme().teal_soft, 0);
  draft.line({chart.left(), y(0)}, {chart.right(), y(0)}, theme().second_ink);
  draft.line({chart.left(), y(result_->mean)}, {chart.right(), y(result_->mean)}, theme().teal, 2);
  const auto label = [&](double lost, const QColor& colour) {
    draft.text({chart.left() - 8, y(lost) + 4}, to_q(format_length(lost, unit_, 2)), colour, 11, false, Qt::AlignRight);
  };
  label(0, theme().second_ink);
  if (std::fabs(y(0) - y(result_->mean)) > 14) label(result_->mean, theme().teal);
  for (std::size_t i = 0; i < places_.size(); ++i) {
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(theme().teal);
    painter.drawEllipse(QPointF(x(places_[i]), y(result_->each[i])), 5, 5);
  }
  painter.setBrush(Qt::NoBrush);
  draft.text({chart.left(), chart.bottom() + 18},
             LostMotionSheet::tr("%1 at %2").arg(name, to_q(format_length(first, unit_, 0))), theme().second_ink, 11);
  draft.text({chart.right(), chart.bottom() + 18}, to_q(format_length(last, unit_, 0)), theme().second_ink, 11, false,
             Qt::AlignRight);
}

LostMotionSheet::LostMotionSheet(Session& session)
    : Sheet(session, "lost_motion", tr("Lost motion"),
            tr("Arrive at one place from both sides and read an indicator each time.")) {
  auto* axes = new AxisChips(this);
  title_row()->addWidget(axes);
  connect(axes, &AxisChips::chosen, this, &LostMotionSheet::choose);

  auto* card = make_card();
  auto* top = new QVBoxLayout(card);
  top->setContentsMargins(18, 12, 18, 8);
  top->addWidget(make_label("approaches-caption", "caption",
                            tr("The two arrivals; below, what each place lost (band: U of the mean)"), card));
  drawing_ = new ApproachesDrawing(card);
  top->addWidget(drawing_, 1);
  body()->addWidget(card, 5);

  auto* lower = make_card();
  auto* bottom = new QVBoxLayout(lower);
  bottom->setContentsMargins(1, 4, 1, 10);
  table_ = new QTableWidget(0, 4, lower);
  table_->setObjectName("places");
  table_->setAccessibleName(tr("Places and readings"));
  table_->setHorizontalHeaderLabels({tr("Place"), tr("Arriving +"), tr("Arriving −"), tr("Lost")});
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(24);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setShowGrid(false);
  table_->setToolTip(tr("Delete takes a place out"));
  table_->installEventFilter(this);
  bottom->addWidget(table_, 1);
  auto* acts = new QHBoxLayout;
  acts->setContentsMargins(12, 0, 12, 0);
  auto* below = new QHBoxLayout;
  below->setContentsMargins(14, 0, 12, 0);
  below->addWidget(make_label("place-label", "small", tr("Place"), lower));
  place_ = new LengthField("place", tr("Place on the axis, machine position"), lower);
  place_->set_decimals(1);
  place_->setFixedWidth(84);
  below->addWidget(place_);
  arrive_ = make_button("arrive", tr("Arrive from both sides"),
                        tr("Goes there from below, waits for the reading, then from above (Ctrl+M)"), lower);
  arrive_->setShortcut(QKeySequence("Ctrl+M"));
  acts->addWidget(arrive_);
  read_ = make_button("read-here", tr("Read the indicator"),
                      tr("A reading as a person with this instrument would get (Ctrl+R)"), lower);
  read_->setShortcut(QKeySequence("Ctrl+R"));
  acts->addWidget(read_);
  instruments_ = new QComboBox(lower);
  instruments_->setObjectName("lost-instrument");
  instruments_->setAccessibleName(tr("Read with"));
  acts->addWidget(instruments_);
  acts->addStretch();
  bottom->addLayout(acts);
  hint_ = make_label("lost-hint", "small", "", lower);
  hint_->setWordWrap(false);
  below->addWidget(hint_, 1);
  bottom->addLayout(below);
  body()->addWidget(lower, 3);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("lost-lead", "strong");
  figure_ = finding()->add_label("lost-figure", "big");
  figure_->setStyleSheet("font-size: 25px;");  // with its U it fits on one line
  spread_ = finding()->add_label("lost-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("lost-verdict", "strong");
  cure_ = finding()->add_label("lost-cure", "task");
  finding()->add_stretch();
  keep_ = finding()->add_button("keep", tr("Keep this finding"),
                                tr("Writes it into the book with its readings (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));
  connect(arrive_, &QPushButton::clicked, this, &LostMotionSheet::arrive);
  connect(read_, &QPushButton::clicked, this, &LostMotionSheet::read_here);
  connect(keep_, &QPushButton::clicked, this, &LostMotionSheet::keep);
  connect(drawing_->plus(), &LengthField::committed, this, [this](double) {
    if (approaches_.stage() == TwoApproaches::Stage::read_plus) approaches_.go_on();
    drawing_->minus()->setFocus();
    refresh_status();
  });
  connect(drawing_->minus(), &LengthField::committed, this,
          [this](double minus) { take(drawing_->plus()->value().value_or(0), minus); });
  for (auto* f : {drawing_->plus(), drawing_->minus(), place_})
    connect(f, &LengthField::refused, this, [this](const QString& sentence) {
      session_.notify({NoticeLevel::attention, sentence, {}});
    });
  connect(instruments_, &QComboBox::activated, this, [this] { show_result(); });
}

const std::vector<TurnAt>& LostMotionSheet::readings() const {
  return session_.book().lost_motion_worksheets[index(axis_)];
}

void LostMotionSheet::choose(Axis axis) {
  approaches_.cancel();
  axis_ = axis;
  place_->show_value(std::nullopt);
  refresh();
}

double LostMotionSheet::next_place() const {
  const AxisSetup& axis = session_.book().machine.axis(axis_);
  const double low = axis.soft_min.value_or(0) + run_up_mm, high = axis.soft_max.value_or(axis.travel) - run_up_mm;
  const auto done = static_cast<int>(readings().size());
  // Evenly, but not at equal steps: a screw's period must not hide between them (handbook, section 6).
  static constexpr double uneven[] = {0, 0.07, -0.05, 0.04, -0.06};
  const int i = done % usual_places;
  return low + (high - low) * (i + 0.5 + uneven[i]) / usual_places;
}

void LostMotionSheet::arrive() {
  if (!session_.link()) return;
  const double place = place_->value().value_or(next_place());
  place_->show_value(place);
  drawing_->plus()->show_value(std::nullopt);
  drawing_->minus()->show_value(std::nullopt);
  if (session_.ask(approaches_.start(*session_.link(), axis_, place, session_.book().machine.axis(axis_).max_rate)))
    refresh_status();
}

void LostMotionSheet::read_here() {
  Bench* bench = session_.bench();
  if (!bench) return;
  if (approaches_.stage() == TwoApproaches::Stage::read_plus) {
    bench->mark(axis_);  // the indicator is set to zero here
    drawing_->plus()->show_value(0.0);
    approaches_.go_on();
    refresh_status();
  } else if (approaches_.stage() == TwoApproaches::Stage::read_minus) {
    const auto read = bench->read_distance(axis_, instruments_->currentText().toStdString());
    if (!read) {
      session_.ask(tl::make_unexpected(read.error()));
      return;
    }
    take(drawing_->plus()->value().value_or(0), *read);
  }
}

void LostMotionSheet::take(double plus, double minus) {
  const double place = approaches_.stage() == TwoApproaches::Stage::read_minus ? approaches_.place()
                                                                               : place_->value().value_or(next_place());
  approaches_.cancel();
  session_.change_book(tr("Add a place"), [&](Book& b) {
    b.lost_motion_worksheets[index(axis_)].push_back({place, {minus, plus}});
  });
  drawing_->plus()->show_value(std::nullopt);
  drawing_->minus()->show_value(std::nullopt);
  place_->show_value(std::nullopt);
  refresh();
}

bool LostMotionSheet::eventFilter(QObject* object, QEvent* event) {
  if (object == table_ && event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete && table_->currentRow() >= 0) {
    const auto row = static_cast<std::ptrdiff_t>(table_->currentRow());
    session_.change_book(tr("Take a place out"), [&](Book& b) {
      auto& all = b.lost_motion_worksheets[index(axis_)];
      if (row < static_cast<std::ptrdiff_t>(all.size())) all.erase(all.begin() + row);
    });
    return true;
  }
  return Sheet::eventFilter(object, event);
}

void LostMotionSheet::keep() {
  if (!result_) return;
  session_.change_book(tr("Keep the lost motion"), [&](Book& b) {
    Entry entry;
    entry.time = session_.now().toStdString();
    entry.sheet = "lost_motion";
    entry.subject = std::string(1, letter(axis_));
    entry.instrument = instruments_->currentText().toStdString();
    for (const auto& r : readings())
      entry.readings.push_back({{"place_mm", r.place},
                                {"arriving_plus_mm", r.reading.arriving_plus},
                                {"arriving_minus_mm", r.reading.arriving_minus}});
    entry.result = {{"lost_motion_mm", result_->mean},
                    {"U_lost_motion_mm", result_->U},
                    {"s_mm", result_->s},
                    {"largest_mm", result_->largest},
                    {"places", result_->each.size()}};
    b.history.push_back(std::move(entry));
    b.lost_motion_worksheets[index(axis_)].clear();
  });
}

void LostMotionSheet::show_result() {
  const LengthUnit unit = session_.unit();
  std::vector<TurnRound> turns;
  std::vector<double> places;
  for (const auto& r : readings()) {
    turns.push_back(r.reading);
    places.push_back(r.place);
  }
  result_.reset();
  const Instrument* instrument = session_.book().instrument(instruments_->currentText().toStdString());
  if (auto found = evaluate_lost_motion(turns, instrument ? *instrument : usual_indicator()))
    result_ = std::move(*found);
  drawing_->show(axis_, unit, approaches_.stage(), places, result_);
  const auto len = [&](double mm, int d) { return to_q(format_length(mm, unit, d) + " " + unit_name(unit)); };
  keep_->setEnabled(result_ && !session_.read_only());
  if (!result_) {
    const auto last = newest(session_.book(), "lost_motion", std::string(1, letter(axis_)));
    lead_->setText(tr("%1 is not measured yet").arg(QChar(letter(axis_))));
    if (last) lead_->setText(tr("%1 in the book").arg(QChar(letter(axis_))));
    figure_->setText(last ? entry_words(session_.book().history[*last], unit) : QString());
    spread_->setText(last ? entry_date(session_.book().history[*last]) : QString());
    verdict_->clear();
    cure_->setText(
        tr("You need a dial indicator on a foot and ten minutes. Set it against the carriage along %1, arrive from "
           "both sides at three places or more, and read it each time.")
            .arg(QChar(letter(axis_))));
    return;
  }
  const LostMotionResult& r = *result_;
  const int digits = std::min(decimals_for(r.U, 2), 3);
  lead_->setText(tr("%1 loses when it turns round").arg(QChar(letter(axis_))));
  figure_->setText(tr("%1 ±%2").arg(to_q(format_length(r.mean, unit, digits)), len(r.U, digits)));
  spread_->setText(r.each.size() == 1
                       ? tr("one place")
                       : tr("%1 places · s %2 · largest %3").arg(r.each.size()).arg(len(r.s, 3), len(r.largest, 3)));
  const bool felt = std::fabs(r.mean) > r.U;
  verdict_->setText(r.each.size() < 3 ? tr("◐ Three places or more, to see whether it is the same everywhere.")
                    : !felt           ? tr("● Nothing that these readings can tell from none.")
                    : r.mean < 0 ? tr("✕ Less than nothing cannot be: the indicator's signs are the wrong way round.")
                                 : tr("◐ It is there: mend what is loose first."));
  cure_->setText(
      !felt ? tr("Leave it as it is.")
            : tr("In this order: the nut or its preload, the belt's tension, the gibs, the coupling's screws. A "
                 "controller's compensation comes last: it moves at each turn and hides what is loose. A closed "
                 "contour comes out narrower by this much, inside and outside alike."));
}

void LostMotionSheet::refresh() {
  const Book& book = session_.book();
  QStringList names;
  for (const auto& i : book.instruments) names << to_q(i.name);
  const QString usual = to_q(usual_indicator().name);
  if (!names.contains(usual)) names << usual;
  if (instruments_->count() != names.size()) {
    instruments_->clear();
    instruments_->addItems(names);
    instruments_->setCurrentText(usual);
  }
  const LengthUnit unit = session_.unit();
  place_->set_unit(unit);
  const auto& all = readings();
  table_->setRowCount(static_cast<int>(all.size()));
  for (std::size_t i = 0; i < all.size(); ++i) {
    const auto cell = [&](int column, double mm, int decimals) {
      table_->setItem(static_cast<int>(i), column, new QTableWidgetItem(to_q(format_length(mm, unit, decimals))));
    };
    cell(0, all[i].place, 1);
    cell(1, all[i].reading.arriving_plus, 3);
    cell(2, all[i].reading.arriving_minus, 3);
    cell(3, all[i].reading.arriving_minus - all[i].reading.arriving_plus, 3);
  }
  show_result();
  refresh_status();
}

void LostMotionSheet::refresh_status() {
  using Stage = TwoApproaches::Stage;
  const Stage before = approaches_.stage();
  approaches_.tick();
  const Stage stage = approaches_.stage();
  if (stage == Stage::failed) {
    session_.notify({NoticeLevel::attention, to_q(approaches_.error().message), {}});
    approaches_.cancel();
  }
  if (stage != before) show_result();
  if (stage != before && (stage == Stage::read_plus || stage == Stage::read_minus))
    (stage == Stage::read_plus ? drawing_->plus() : drawing_->minus())->setFocus();
  const bool waits = stage == Stage::read_plus || stage == Stage::read_minus;
  const QString hint =
      stage == Stage::read_plus    ? tr("It has arrived towards +: read the indicator, or set it to zero, and type it.")
      : stage == Stage::read_minus ? tr("It has arrived towards −: read the indicator and type it.")
      : approaches_.moving()       ? tr("It moves; keep the indicator's foot clear.")
      : !session_.status().all_homed()
          ? tr("Home the machine first (Ctrl+H).")
          : tr("%1 places or so, spread over the travel; the sheet proposes the next.").arg(usual_places);
  if (hint_->text() != hint) hint_->setText(hint);
  arrive_->setEnabled(session_.standing_ready() && !approaches_.moving() && !waits);
  read_->setVisible(session_.bench() != nullptr);
  read_->setEnabled(waits);
  if (!place_->hasFocus() && !place_->value() && session_.status().all_homed()) place_->show_value(next_place());
}

}  // namespace ypsi::app
