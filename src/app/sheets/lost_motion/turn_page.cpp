#include "app/sheets/lost_motion/turn_page.h"

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
#include "core/book/record.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/procedures/two_approaches.h"
#include "core/tasks/lost_motion.h"

namespace ypsi::app {
namespace {

constexpr double usual_reach_mm = 9;

}  // namespace

TurnPage::TurnPage(Session& session) : LostMotionPage(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* card = make_card(this);
  auto* top = new QVBoxLayout(card);
  top->setContentsMargins(18, 12, 18, 8);
  top->addWidget(make_label("turn-caption", "caption", tr("What is left over a straight line, place by place"), card));
  graph_ = new TurnGraph(card);
  top->addWidget(graph_, 1);
  column->addWidget(card, 5);

  auto* lower = make_card(this);
  auto* bottom = new QVBoxLayout(lower);
  bottom->setContentsMargins(1, 4, 1, 10);
  table_ = make_table("turn-readings", tr("Places and readings"), {tr("Stroke"), tr("Place"), tr("Reading"), tr("Off")},
                      -1, 24, lower);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  bottom->addWidget(table_, 1);
  PageFoot foot(bottom, lower, PageFoot::beside_table_px);
  auto *what = foot.settings(), *acts = foot.acts();
  const auto field = [&](const char* name, const QString& word, const QString& tip, int decimals) {
    return add_field(what, name, word, tip, decimals, session, lower).field;
  };
  turn_ = field("turn", tr("One turn"), tr("Travel of one turn of the screw, pinion or pulley"), 2);
  reach_ = field("reach", tr("Reach"), tr("How far the indicator reaches in one stroke"), 1);
  reading_ = field("turn-reading", tr("Reading"), tr("What the indicator shows here, rising towards +"), 3);
  begin_ = make_button("turn-begin", tr("Begin"),
                       tr("From where the axis stands on, place by place, over two turns and a bit"), lower);
  acts->addWidget(begin_);
  read_ = make_button("turn-read", tr("Read it"), tr("A reading as a person with this instrument would get (Ctrl+R)"),
                      lower);
  read_->setShortcut(QKeySequence("Ctrl+R"));
  acts->addWidget(read_);
  instruments_ = new QComboBox(lower);
  instruments_->setObjectName("turn-instrument");
  instruments_->setAccessibleName(tr("Read with"));
  acts->addWidget(instruments_);
  clear_ = make_button("turn-clear", tr("Begin anew"),
                       tr("Takes all readings of this axis out (Ctrl+Z brings them back)"), lower);
  acts->addWidget(clear_);
  hint_ = foot.hint("turn-hint");
  column->addWidget(lower, 4);

  connect(begin_, &QPushButton::clicked, this, &TurnPage::begin);
  connect(read_, &QPushButton::clicked, this, &TurnPage::read_here);
  connect(reading_, &LengthField::committed, this, &TurnPage::take);
  connect(turn_, &LengthField::committed, this, [this] { show_result(); });
  connect(instruments_, &QComboBox::activated, this, [this] { show_result(); });
  connect(clear_, &QPushButton::clicked, this, [this] {
    session_.editor().change_book(tr("Begin anew"),
                                  [this](Book& b) { b.worksheets[turn_worksheets][index(axis_)].clear(); });
  });
}

void TurnPage::cancel() {
  if (strokes_->running()) session_.machine().end_procedure();
}

const std::vector<TurnReading>& TurnPage::readings() const {
  return session_.editor().book().worksheets[turn_worksheets][index(axis_)];
}

double TurnPage::turn() const {
  if (const auto typed = turn_->value(); typed && *typed > 0) return *typed;
  return travel_per_rev(session_.editor().book().machine.axis(axis_).drive.transmission);
}

double TurnPage::reach() const {
  const auto typed = reach_->value();
  return typed && *typed > 0 ? *typed : usual_reach_mm;
}

void TurnPage::begin() {
  if (!readings().empty()) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("There are readings already: keep the finding or begin anew."), {}});
    return;
  }
  // From where it stands, or as near to that as there is room.
  const MachineSession::Room room = session_.machine().room(axis_);
  const double first = room.low + run_up_mm, last = std::max(first, room.high - turns_read * turn());
  const double from = std::clamp(session_.machine().status().position[axis_], first, last);
  if (session_.machine().start(strokes_, axis_, stroke_stops(from, turn(), reach()),
                               session_.editor().book().machine.axis(axis_).max_rate))
    refresh_status();
}

void TurnPage::read_here() {
  Bench* bench = session_.machine().bench();
  if (!bench || strokes_->waits_for() != WaitsFor::reading) return;
  if (strokes_->begins_a_stroke()) {
    bench->mark(axis_);  // the indicator is set to zero here
    take(0);
    return;
  }
  session_.machine().look(
      this,
      [axis = axis_, with = instruments_->currentText().toStdString()](Bench& b) {
        return b.read_distance(axis, with);
      },
      [this, axis = axis_](double read) {
        if (axis == axis_) take(read);
      });
}

void TurnPage::take(double reading) {
  if (strokes_->waits_for() != WaitsFor::reading) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("No reading is waited for; begin first. Nothing was taken."), {}});
    reading_->show_value(std::nullopt);
    return;
  }
  // Whole steps: where the controller counts it to be, not where it was told to go.
  const double place = session_.machine().status().position[axis_];
  const int stroke = strokes_->stop().stroke;
  session_.editor().change_book(tr("Add a reading"), [&](Book& b) {
    b.worksheets[turn_worksheets][index(axis_)].push_back({place, reading, stroke});
  });
  strokes_->go_on();
  reading_->show_value(std::nullopt);
  refresh();
}

void TurnPage::show_result() {
  result_.reset();
  std::vector<PeriodicReading> all;
  for (const TurnReading& r : readings()) all.push_back({r.place, r.reading, r.stroke});
  if (auto found = evaluate_periodic(all, turn(),
                                     instrument_or_indicator(session_.editor().book(), instruments_->currentText())))
    result_ = std::move(*found);
  graph_->show(readings(), result_, turn(), session_.editor().unit(axis_));
  emit found();
}

PageFinding TurnPage::finding() const {
  const LengthUnit unit = session_.editor().unit(axis_);
  const QChar name(letter(axis_));
  const auto len = [&](double mm, int d) { return to_q(format_length(mm, unit, d) + " " + unit_name(unit)); };
  PageFinding f;
  if (!result_) {
    const PeriodicEntry last = periodic_error_of(session_.editor().book(), axis_);
    f.lead = last.amplitude ? tr("%1 in the book").arg(name) : tr("%1 is not measured yet").arg(name);
    if (last.amplitude) {
      f.figure = len(*last.amplitude, 3);
      f.spread = tr("every %1 of travel").arg(len(last.period.value_or(0), 2));
    }
    f.text =
        tr("A screw, pinion or pulley that is not true moves a little too far and a little too short in every turn. "
           "Set a dial indicator against the carriage along %1 and read it at every place.")
            .arg(name);
    return f;
  }
  const PeriodicError& r = *result_;
  const int digits = std::min(decimals_for(r.U, 2), 3);
  f.can_keep = !strokes_->running();
  f.lead = tr("%1 repeats with every turn").arg(name);
  f.figure = tr("%1 ±%2").arg(to_q(format_length(r.amplitude, unit, digits)), len(r.U, digits));
  f.spread = tr("%1 readings · a turn of %2").arg(readings().size()).arg(len(turn(), 2));
  const bool felt = r.amplitude > r.U;
  f.verdict = strokes_->running() ? tr("◐ Not over two turns yet.")
              : felt              ? tr("◐ It is there, at each distance between two places.")
                                  : tr("● Nothing that these readings can tell from none.");
  f.text =
      felt ? tr("A bent screw, a thrust bearing that is not true, a pulley that runs out. What is cut is off by it, "
                "now longer, now shorter; it is counted in what is not known of a part, of plates and tools.")
           : tr("Leave it as it is.");
  return f;
}

void TurnPage::keep() {
  if (!result_) return;
  session_.editor().change_book(tr("Keep the periodic error"), [&](Book& b) {
    Entry entry;
    entry.time = session_.editor().now().toStdString();
    entry.sheet = lost_motion_id;
    entry.subject = over_a_turn(axis_);
    entry.instrument = instruments_->currentText().toStdString();
    for (const TurnReading& r : readings())
      entry.readings.push_back({{"place_mm", r.place.mm}, {"reading_mm", r.reading}, {"stroke", r.stroke}});
    entry.result = result_of(PeriodicEntry{result_->amplitude, result_->U, result_->k, turn(), result_->phase});
    b.history.push_back(std::move(entry));
    b.worksheets[turn_worksheets][index(axis_)].clear();
  });
}

void TurnPage::forget_typed() {
  turn_->show_value(std::nullopt);
}

void TurnPage::refresh() {
  offer_instruments(instruments_, session_.editor().book());
  const LengthUnit unit = session_.editor().unit(axis_);
  for (auto* f : {turn_, reach_, reading_}) f->set_unit(unit);
  if (!turn_->value()) turn_->show_value(turn());
  if (!reach_->value()) reach_->show_value(usual_reach_mm);
  show_result();
  const auto& all = readings();
  table_->setRowCount(static_cast<int>(all.size()));
  for (std::size_t i = 0; i < all.size(); ++i) {
    const auto cell = [&](int at, const QString& text) {
      table_->setItem(static_cast<int>(i), at, new QTableWidgetItem(text));
    };
    cell(0, QString::number(all[i].stroke + 1));
    cell(1, to_q(format_length(all[i].place, unit, 2)));
    cell(2, to_q(format_length(all[i].reading, unit, 3)));
    cell(3, result_ ? to_q(format_length(wave_at(*result_, turn(), all[i].place) + result_->residuals[i], unit, 3))
                    : QString());
  }
  if (!all.empty()) table_->scrollToBottom();
  refresh_status();
}

void TurnPage::refresh_status() {
  const bool waits = strokes_->waits_for() == WaitsFor::reading;
  if (waits && !waited_) reading_->setFocus();
  waited_ = waits;
  const bool homed = session_.machine().status().all_homed();
  const QString hint = waits && strokes_->begins_a_stroke() ? tr("Place %1 of %2: set the indicator so that its whole "
                                                                 "way lies before it, to zero, and type what it shows.")
                                                                  .arg(strokes_->done() + 1)
                                                                  .arg(strokes_->total())
                       : waits
                           ? tr("Place %1 of %2: type what it shows.").arg(strokes_->done() + 1).arg(strokes_->total())
                       : strokes_->running() ? tr("It moves; keep the indicator's foot clear.")
                       : !homed              ? tr("Home the machine first (Ctrl+H).")
                                : tr("Jog the axis to where it shall begin; it goes towards + from there.");
  if (hint_->text() != hint) hint_->setText(hint);
  begin_->setEnabled(session_.machine().standing_ready() && !strokes_->running());
  read_->setVisible(session_.machine().bench() != nullptr);
  read_->setEnabled(waits);
  reading_->setEnabled(waits);
  clear_->setEnabled(!readings().empty() && !strokes_->running());
}

}  // namespace ypsi::app
