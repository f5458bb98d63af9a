#include "app/sheets/lost_motion/indicator_page.h"

#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/instrument_choice.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/table_menu.h"
#include "core/book/readings_csv.h"
#include "core/book/record.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/lost_motion.h"
#include "core/tasks/lost_motion.h"

namespace ypsi::app {
namespace {
constexpr int usual_places = 5;
}

IndicatorPage::IndicatorPage(Session& session) : LostMotionPage(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* card = make_card(this);
  auto* top = new QVBoxLayout(card);
  top->setContentsMargins(18, 12, 18, 8);
  auto* heading = new QHBoxLayout;
  heading->addWidget(make_label("approaches-caption", "caption", tr("Two arrivals; what each place lost, ±U"), card),
                     1);
  heading->addWidget(new TableMenu(
      session, card, [this](const std::string& text) { return take_table(text); },
      [this] { return turns_to_csv(readings()); }));
  top->addLayout(heading);
  drawing_ = new ApproachesDrawing(card);
  top->addWidget(drawing_, 1);
  column->addWidget(card, 5);

  auto* lower = make_card(this);
  auto* bottom = new QVBoxLayout(lower);
  bottom->setContentsMargins(1, 4, 1, 10);
  table_ = make_table("places", tr("Places and readings"),
                      {tr("Place"), tr("Arriving +"), tr("Arriving −"), tr("Lost")}, -1, 24, lower);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setToolTip(tr("Delete takes a place out"));
  table_->installEventFilter(this);
  bottom->addWidget(table_, 1);
  PageFoot foot(bottom, lower, PageFoot::beside_table_px);
  auto *acts = foot.acts(), *below = foot.settings();
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
  hint_ = foot.hint("lost-hint");
  column->addWidget(lower, 3);

  connect(arrive_, &QPushButton::clicked, this, &IndicatorPage::arrive);
  connect(read_, &QPushButton::clicked, this, &IndicatorPage::read_here);
  connect(drawing_->plus(), &LengthField::committed, this, [this](double) {
    if (approaches_->stage() == TwoApproaches::Stage::read_plus) approaches_->go_on();
    drawing_->minus()->setFocus();
    refresh_status();
  });
  connect(drawing_->minus(), &LengthField::committed, this,
          [this](double minus) { take(drawing_->plus()->value().value_or(0), minus); });
  for (auto* f : {drawing_->plus(), drawing_->minus(), place_})
    connect(f, &LengthField::refused, this, [this](const QString& sentence) {
      session_.notices().notify({NoticeLevel::attention, sentence, {}});
    });
  connect(instruments_, &QComboBox::activated, this, [this] { show_result(); });
}

void IndicatorPage::cancel() {
  if (approaches_->running()) session_.machine().end_procedure();
}

const std::vector<TurnAt>& IndicatorPage::readings() const {
  return session_.editor().book().worksheets[lost_motion_worksheets][index(axis_)];
}

Result<void> IndicatorPage::take_table(const std::string& text) {
  auto turns = turns_from_csv(text);
  if (!turns) return tl::make_unexpected(turns.error());
  session_.editor().change_book(tr("Read a table"), [&](Book& b) {
    auto& all = b.worksheets[lost_motion_worksheets][index(axis_)];
    all.insert(all.end(), turns->begin(), turns->end());
  });
  return {};
}

double IndicatorPage::next_place() const {
  const MachineSession::Room room = session_.machine().room(axis_);
  const double low = room.low + run_up_mm, high = room.high - run_up_mm;
  const auto done = static_cast<int>(readings().size());
  // Evenly, but not at equal steps: a screw's period must not hide between them (handbook, section 6).
  static constexpr double uneven[] = {0, 0.07, -0.05, 0.04, -0.06};
  const int i = done % usual_places;
  return low + (high - low) * (i + 0.5 + uneven[i]) / usual_places;
}

void IndicatorPage::arrive() {
  const double place = place_->value().value_or(next_place());
  place_->show_value(place);
  drawing_->plus()->show_value(std::nullopt);
  drawing_->minus()->show_value(std::nullopt);
  if (session_.machine().start(approaches_, axis_, place, session_.editor().book().machine.axis(axis_).max_rate))
    refresh_status();
}

void IndicatorPage::read_here() {
  Bench* bench = session_.machine().bench();
  if (!bench) return;
  if (approaches_->stage() == TwoApproaches::Stage::read_plus) {
    bench->mark(axis_);  // the indicator is set to zero here
    drawing_->plus()->show_value(0.0);
    approaches_->go_on();
    refresh_status();
  } else if (approaches_->stage() == TwoApproaches::Stage::read_minus) {
    session_.machine().look(
        this,
        [axis = axis_, with = instruments_->currentText().toStdString()](Bench& b) {
          return b.read_distance(axis, with);
        },
        [this, axis = axis_](double read) {
          if (axis == axis_ && approaches_->stage() == TwoApproaches::Stage::read_minus)
            take(drawing_->plus()->value().value_or(0), read);
        });
  }
}

void IndicatorPage::take(double plus, double minus) {
  const double place = approaches_->stage() == TwoApproaches::Stage::read_minus
                           ? approaches_->place()
                           : place_->value().value_or(next_place());
  approaches_->go_on();
  session_.editor().change_book(tr("Add a place"), [&](Book& b) {
    b.worksheets[lost_motion_worksheets][index(axis_)].push_back({place, {minus, plus}});
  });
  drawing_->plus()->show_value(std::nullopt);
  drawing_->minus()->show_value(std::nullopt);
  place_->show_value(std::nullopt);
  refresh();
}

bool IndicatorPage::eventFilter(QObject* object, QEvent* event) {
  if (object == table_ && event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete && table_->currentRow() >= 0) {
    const auto row = static_cast<std::ptrdiff_t>(table_->currentRow());
    session_.editor().change_book(tr("Take a place out"), [&](Book& b) {
      auto& all = b.worksheets[lost_motion_worksheets][index(axis_)];
      if (row < static_cast<std::ptrdiff_t>(all.size())) all.erase(all.begin() + row);
    });
    return true;
  }
  return LostMotionPage::eventFilter(object, event);
}

void IndicatorPage::keep() {
  if (!result_) return;
  session_.editor().change_book(tr("Keep the lost motion"), [&](Book& b) {
    Entry entry;
    entry.time = session_.editor().now().toStdString();
    entry.sheet = lost_motion_id;
    entry.subject = std::string(1, letter(axis_));
    entry.instrument = instruments_->currentText().toStdString();
    for (const auto& r : readings())
      entry.readings.push_back({{"place_mm", r.place.mm},
                                {"arriving_plus_mm", r.reading.arriving_plus},
                                {"arriving_minus_mm", r.reading.arriving_minus}});
    entry.result = result_of(LostMotionEntry{.lost_motion = result_->mean,
                                             .U = result_->U,
                                             .k = result_->coverage.k,
                                             .s = result_->s,
                                             .largest = result_->largest,
                                             .places = static_cast<double>(result_->each.size())});
    b.history.push_back(std::move(entry));
    b.worksheets[lost_motion_worksheets][index(axis_)].clear();
  });
}

void IndicatorPage::show_result() {
  std::vector<TurnRound> turns;
  std::vector<double> places;
  for (const auto& r : readings()) {
    turns.push_back(r.reading);
    places.push_back(r.place);
  }
  result_.reset();
  if (auto found =
          evaluate_lost_motion(turns, instrument_or_indicator(session_.editor().book(), instruments_->currentText())))
    result_ = std::move(*found);
  drawing_->show(axis_, session_.editor().unit(axis_), approaches_->stage(), places, result_);
  emit found();
}

PageFinding IndicatorPage::finding() const {
  const LengthUnit unit = session_.editor().unit(axis_);
  const QChar name(letter(axis_));
  const auto len = [&](double mm, int d) { return to_q(format_length(mm, unit, d) + " " + unit_name(unit)); };
  PageFinding f;
  if (!result_) {
    const auto last = newest(session_.editor().book(), lost_motion_id, std::string(1, letter(axis_)));
    f.lead = last ? tr("%1 in the book").arg(name) : tr("%1 is not measured yet").arg(name);
    if (last) {
      const Entry& e = session_.editor().book().history[*last];
      f.figure = len(finding_of<LostMotionEntry>(e).lost_motion.value_or(0), 2);
      f.spread = entry_date(e);
    }
    f.text =
        tr("You need a dial indicator on a foot and ten minutes. Set it against the carriage along %1, arrive from "
           "both sides at three places or more, and read it each time.")
            .arg(name);
    return f;
  }
  const LostMotionResult& r = *result_;
  const int digits = std::min(decimals_for(r.U, 2), 3);
  f.can_keep = true;
  f.lead = tr("%1 loses when it turns round").arg(name);
  f.figure = tr("%1 ±%2").arg(to_q(format_length(r.mean, unit, digits)), len(r.U, digits));
  f.spread = r.each.size() == 1
                 ? tr("one place")
                 : tr("%1 places · s %2 · largest %3").arg(r.each.size()).arg(len(r.s, 3), len(r.largest, 3));
  const bool felt = std::fabs(r.mean) > r.U;
  f.verdict = r.each.size() < 3 ? tr("◐ Three places or more, to see whether it is the same everywhere.")
              : !felt           ? tr("● Nothing that these readings can tell from none.")
              : r.mean < 0      ? tr("✕ Less than nothing cannot be: the indicator's signs are the wrong way round.")
                                : tr("◐ It is there: mend what is loose first.");
  f.text = !felt ? tr("Leave it as it is.")
                 : tr("In this order: the nut or its preload, the belt's tension, the gibs, the coupling's screws. A "
                      "controller's compensation comes last: it moves at each turn and hides what is loose. A closed "
                      "contour comes out narrower by this much, inside and outside alike.");
  return f;
}

void IndicatorPage::forget_typed() {
  place_->show_value(std::nullopt);
}

void IndicatorPage::refresh() {
  offer_instruments(instruments_, session_.editor().book());
  const LengthUnit unit = session_.editor().unit(axis_);
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

void IndicatorPage::refresh_status() {
  using Stage = TwoApproaches::Stage;
  const Stage stage = approaches_->stage(), before = std::exchange(shown_, stage);
  if (stage != before) show_result();
  if (stage != before && (stage == Stage::read_plus || stage == Stage::read_minus))
    (stage == Stage::read_plus ? drawing_->plus() : drawing_->minus())->setFocus();
  const bool waits = stage == Stage::read_plus || stage == Stage::read_minus;
  const QString hint =
      stage == Stage::read_plus    ? tr("It has arrived towards +: read the indicator, or set it to zero, and type it.")
      : stage == Stage::read_minus ? tr("It has arrived towards −: read the indicator and type it.")
      : approaches_->waits_for() == WaitsFor::machine ? tr("It moves; keep the indicator's foot clear.")
      : !session_.machine().status().all_homed()
          ? tr("Home the machine first (Ctrl+H).")
          : tr("%1 places or so, spread over the travel; the sheet proposes the next.").arg(usual_places);
  if (hint_->text() != hint) hint_->setText(hint);
  arrive_->setEnabled(session_.machine().standing_ready() && approaches_->waits_for() != WaitsFor::machine && !waits);
  read_->setVisible(session_.machine().bench() != nullptr);
  read_->setEnabled(waits);
  if (!place_->hasFocus() && !place_->value() && session_.machine().status().all_homed())
    place_->show_value(next_place());
}

}  // namespace ypsi::app
