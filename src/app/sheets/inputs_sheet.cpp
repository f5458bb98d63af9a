#include "app/sheets/inputs_sheet.h"

#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "core/tasks/inputs.h"

namespace ypsi::app {
namespace {

constexpr double lamp_px = 9, lamp_reach_px = 60;

/// "the probe" within a sentence; letters of axes stay large.
QString in_a_sentence(InputId input) {
  QString words = input_name(input);
  if (input == InputId::probe || input == InputId::emergency_stop) words[0] = words[0].toLower();
  return words;
}

QString where_it_sits(const AxisSetup& axis, Axis a) {
  if (a == Axis::z) return axis.home_at_max ? InputsSheet::tr("at the top of Z") : InputsSheet::tr("at the foot of Z");
  if (a == Axis::x)
    return axis.home_at_max ? InputsSheet::tr("at the right end of X") : InputsSheet::tr("at the left end of X");
  return axis.home_at_max ? InputsSheet::tr("at the far end of Y") : InputsSheet::tr("at the near end of Y");
}

Mark mark_of_verdict(InputVerdict verdict) {
  return verdict == InputVerdict::works ? Mark::full : verdict == InputVerdict::not_tried ? Mark::empty : Mark::crossed;
}

}  // namespace

QString input_name(InputId input) {
  switch (input) {
    case InputId::switch_x:
      return InputsSheet::tr("X's switch");
    case InputId::switch_y:
      return InputsSheet::tr("Y's switch");
    case InputId::switch_z:
      return InputsSheet::tr("Z's switch");
    case InputId::probe:
      return InputsSheet::tr("The probe");
    case InputId::emergency_stop:
      return InputsSheet::tr("The emergency stop");
  }
  return {};
}

QString input_sentence(const InputWatch& watch, InputId input) {
  const auto& seen = watch[input];
  const QString name = input_name(input);
  switch (seen.verdict) {
    case InputVerdict::not_tried:
    case InputVerdict::works:
      return {};
    case InputVerdict::reversed:
      return input == InputId::emergency_stop
                 ? InputsSheet::tr(
                       "%1 is on at rest and off when pressed: it is wired the wrong way round. Wire it so "
                       "that a broken cable stops the machine.")
                       .arg(name)
                 : InputsSheet::tr(
                       "%1 is on at rest and off when pressed. Turn it round in the controller, below, or "
                       "on its plug.")
                       .arg(name);
    case InputVerdict::stuck_off:
      return InputsSheet::tr(
                 "%1 never changed. Look at its plug, its cable and whether it is pressed at all; the "
                 "machine must not home like this.")
          .arg(name);
    case InputVerdict::stuck_on:
      return InputsSheet::tr("%1 stays on. It is jammed, shorted or reversed; the machine must not home like this.")
          .arg(name);
    case InputVerdict::swapped:
      return InputsSheet::tr("%1 was pressed and %2 answered: the two are swapped. Change their plugs over.")
          .arg(name, in_a_sentence(*seen.answered_by));
  }
  return {};
}

InputsDrawing::InputsDrawing(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("inputs-drawing");
  setAccessibleName(InputsSheet::tr("The machine with its switches, probe and emergency stop"));
}

void InputsDrawing::show(const InputWatch& watch) {
  watch_ = watch;
  update();
}

QRectF InputsDrawing::plan() const {
  const MachineSetup& m = session_.editor().book().machine;
  const double w = std::max(1.0, m.axis(Axis::x).travel.mm), h = std::max(1.0, m.axis(Axis::y).travel.mm);
  const QRectF room(44, 30, width() - 250.0, height() - 120.0);
  const double scale = std::min(room.width() / w, room.height() / h);
  return {room.center().x() - w * scale / 2, room.center().y() - h * scale / 2, w * scale, h * scale};
}

QPointF InputsDrawing::place_of(InputId input) const {
  const QRectF r = plan();
  const MachineSetup& m = session_.editor().book().machine;
  switch (input) {
    case InputId::switch_x:
      return {m.axis(Axis::x).home_at_max ? r.right() + 16 : r.left() - 16, r.top() + r.height() * 0.8};
    case InputId::switch_y:
      return {r.left() + r.width() * 0.3, m.axis(Axis::y).home_at_max ? r.top() - 16 : r.bottom() + 16};
    case InputId::switch_z:
      return {width() - 150.0, m.axis(Axis::z).home_at_max ? r.top() + 6 : r.bottom() - 6};
    case InputId::probe:
      return {r.left() + r.width() * 0.5, r.top() + r.height() * 0.45};
    case InputId::emergency_stop:
      return {r.right() - 10, r.bottom() + 64};
  }
  return {};
}

void InputsDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QRectF r = plan();
  draft.box(r, theme().ink, theme().paper, 1.6);
  draft.text({r.left() + 8, r.top() + 20}, InputsSheet::tr("plan, seen from the front"), theme().second_ink, 11);
  // The beam with the spindle, and Z beside it as an elevation.
  const QPointF spindle = place_of(InputId::probe) - QPointF(0, 34);
  draft.box(QRectF(r.left() - 8, spindle.y() - 9, r.width() + 16, 18), theme().second_ink, theme().sheet);
  draft.tool_plan(spindle, 8);
  const double zx = width() - 150.0;
  draft.line({zx, r.top()}, {zx, r.bottom()}, theme().ink, 1.6);
  draft.box(QRectF(zx - 10, r.center().y() - 26, 20, 40), theme().ink, theme().teal_soft);
  draft.text({zx + 18, r.center().y()}, InputsSheet::tr("Z, from the front"), theme().second_ink, 11);
  draft.box(QRectF(place_of(InputId::probe) - QPointF(16, 0), QSizeF(32, 5)), theme().ink, theme().stock);
  for (const InputId i : watch_.there()) {
    const auto& seen = watch_[i];
    const QPointF at = place_of(i);
    const bool asked = watch_.asked() == i;
    if (asked) {
      painter.setPen(QPen(theme().teal, 2.4));
      painter.drawEllipse(at, lamp_px + 6, lamp_px + 6);
    }
    // Lit is a filled lamp with a bright middle, dark an empty one: not colour alone.
    painter.setPen(QPen(theme().ink, 1.6));
    painter.setBrush(seen.now ? theme().ochre : theme().sheet);
    painter.drawEllipse(at, lamp_px, lamp_px);
    if (seen.now) {
      painter.setPen(Qt::NoPen);
      painter.setBrush(theme().sheet);
      painter.drawEllipse(at, 3, 3);
    }
    painter.setBrush(Qt::NoBrush);
    const bool left = i == InputId::switch_x && at.x() > r.right();  // its words stand within the plan
    const bool below = i == InputId::switch_y && at.y() > r.bottom(), above = i == InputId::switch_y && !below;
    const Qt::Alignment side = left ? Qt::AlignRight : Qt::AlignLeft;
    const double x = left ? at.x() - 24 : at.x() + (i == InputId::switch_x ? 26 : 20), y = above   ? at.y() - 12
                                                                                           : below ? at.y() + 8
                                                                                                   : at.y() - 8;
    const double mark_x = left ? x - 4 : x + 4;
    draft.mark({mark_x, y - 4}, mark_of_verdict(seen.verdict), 5);
    const double tx = left ? x - 14 : x + 14;
    draft.text({tx, y}, input_name(i), theme().ink, 13, true, side);
    const QString off = seen.off ? InputsSheet::tr("seen off") : InputsSheet::tr("not seen off"),
                  on = seen.on ? InputsSheet::tr("seen on") : InputsSheet::tr("not seen on");
    if (above) {
      draft.text({tx + 100, y}, off + " · " + on, theme().second_ink, 11, false, side);
    } else {
      draft.text({tx, y + 15}, off + " · " + on, theme().second_ink, 11, false, side);
      draft.text({tx, y + 30}, seen.now ? InputsSheet::tr("on now") : InputsSheet::tr("off now"),
                 seen.now ? theme().ochre : theme().second_ink, 11, seen.now, side);
    }
  }
}

void InputsDrawing::mousePressEvent(QMouseEvent* event) {
  for (const InputId i : watch_.there())
    if (const QPointF d = event->position() - place_of(i); std::hypot(d.x(), d.y()) < lamp_reach_px) {
      emit chosen(i);
      return;
    }
}

InputsSheet::InputsSheet(Session& session)
    : Sheet(session, inputs_task(), tr("Press each by hand and see it change. Nothing moves on this sheet.")) {
  auto* card = make_card();
  auto* layout = new QVBoxLayout(card);
  layout->setContentsMargins(18, 12, 18, 12);
  layout->addWidget(
      make_label("inputs-caption", "caption", tr("Where each sits; a lit lamp is an input that is on"), card));
  drawing_ = new InputsDrawing(session, card);
  layout->addWidget(drawing_, 1);
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("INPUTS"));
  asked_ = finding()->add_label("inputs-asked", "strong");
  what_ = finding()->add_label("inputs-what", "task");
  finding()->add_rule();
  last_ = finding()->add_label("inputs-last", "small");
  finding()->add_stretch();
  begin_ = finding()->add_button("inputs-begin", tr("Ask me for one after the other"),
                                 tr("Asks for every input that was not tried yet (Alt+A)"), true);
  begin_->setShortcut(QKeySequence("Alt+A"));
  nothing_ = finding()->add_button("inputs-nothing", tr("I pressed it, and that is all"),
                                   tr("It was pressed and let go, and what is shown is all that happened (Alt+N)"));
  nothing_->setShortcut(QKeySequence("Alt+N"));
  invert_ = finding()->add_button("inputs-invert", tr("Turn it round in the controller"),
                                  tr("Sets the controller to take on for off; then asks again"));
  over_ = finding()->add_button("inputs-over", tr("Start over"), tr("Forgets what was seen here"));
  connect(begin_, &QPushButton::clicked, this, [this] {
    begun_ = true;
    if (const auto next = watch_.next()) ask(*next);
    nothing_->setFocus();  // not on to Start over, which would come next
  });
  connect(nothing_, &QPushButton::clicked, this, [this] {
    if (!watch_.asked()) return;
    watch_.pressed();
    keep_when_complete();
    refresh_status();
  });
  connect(invert_, &QPushButton::clicked, this, &InputsSheet::invert);
  connect(over_, &QPushButton::clicked, this, [this] {
    watch_ = {};
    kept_ = begun_ = false;
    stops_pressed_ = 0;
    refresh_status();
  });
  connect(drawing_, &InputsDrawing::chosen, this, &InputsSheet::ask);
}

void InputsSheet::ask(InputId input) {
  const MachineState state = session_.machine().status().state;
  if (state == MachineState::moving || state == MachineState::cutting || state == MachineState::held) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("The machine is at work; look at the inputs when it stands."), {}});
    return;
  }
  kept_ = false;
  watch_.see(session_.machine().status().inputs);
  watch_.ask(input);
  refresh_status();
}

std::optional<InputId> InputsSheet::to_invert() const {
  for (const InputId i : watch_.there())
    if (watch_[i].verdict == InputVerdict::reversed && !inverting_setting(i).empty()) return i;
  return std::nullopt;
}

void InputsSheet::invert() {
  const auto input = to_invert();
  if (!input || !session_.machine().may_set()) return;
  const std::string setting = inverting_setting(*input);
  const auto found = session_.machine().link()->setting(setting);
  if (!found || !session_.machine().ask(session_.machine().link()->set_setting(setting, *found != 0 ? 0 : 1))) return;
  if (!as_found_.contains(setting)) as_found_[setting] = *found;
  as_left_[setting] = *found != 0 ? 0 : 1;
  session_.machine().keep_settings();
  watch_.see(session_.machine().status().inputs);
  ask(*input);
}

void InputsSheet::keep_when_complete() {
  if (!watch_.complete() || std::exchange(kept_, true)) return;
  InputsEntry found;
  std::size_t which = 0;
  int sound = 0;
  QStringList wrong;
  for (const InputId i : all_inputs) {
    const bool there = std::count(watch_.there().begin(), watch_.there().end(), i) > 0;
    found.verdicts[which++] = there ? name(watch_[i].verdict) : input_not_there;
    if (!there) continue;
    sound += watch_[i].verdict == InputVerdict::works;
    if (watch_[i].verdict != InputVerdict::works) wrong << input_name(i);
  }
  const QString words = wrong.isEmpty()
                            ? tr("%1 of %1 seen to change").arg(watch_.there().size())
                            : tr("%1 of %2 work; not: %3").arg(sound).arg(watch_.there().size()).arg(wrong.join(", "));
  session_.editor().change_book(tr("Look at the inputs"), [&](Book& b) {
    Entry entry;
    entry.time = session_.editor().now().toStdString();
    entry.sheet = inputs_id;
    found.words = words.toStdString();
    found.failed = !watch_.sound();
    entry.result = result_of(found);
    entry.told_by_hand = session_.machine().told_inputs() != nullptr;
    entry.as_found = std::exchange(as_found_, nlohmann::json::object());
    entry.as_left = std::exchange(as_left_, nlohmann::json::object());
    b.history.push_back(std::move(entry));
  });
}

void InputsSheet::refresh() {
  last_->setText(last_looked_at(session_.editor().book(), inputs_id,
                                tr("Never looked at. It takes two minutes and saves a switch torn off.")));
  refresh_status();
}

void InputsSheet::refresh_status() {
  const bool there = session_.machine().status().state != MachineState::offline;
  const MachineSetup& machine = session_.editor().book().machine;
  watch_.expect(inputs_of(machine));
  if (there) watch_.see(session_.machine().status().inputs);
  // Several stops hang on one input: each is pressed.
  if (watch_[InputId::emergency_stop].verdict == InputVerdict::works && !watch_.asked() && begun_ &&
      stops_pressed_ + 1 < machine.emergency_stops.size()) {
    ++stops_pressed_;
    watch_.ask(InputId::emergency_stop);
  }
  if (const auto next = watch_.next(); begun_ && next && !watch_.asked()) watch_.ask(*next);
  keep_when_complete();
  drawing_->show(watch_);
  const AxisSetup* axes = machine.axes.data();
  QString ask;
  if (!there) {
    ask = tr("Connect to the machine first (Ctrl+L).");
  } else if (const auto asked = watch_.asked()) {
    switch (*asked) {
      case InputId::probe:
        ask = tr("With the clip on, touch the plate to the cutter, then take it away.");
        break;
      case InputId::emergency_stop:
        ask =
            stops_pressed_ < machine.emergency_stops.size()
                ? tr("Press the emergency stop %1, then release it.").arg(to_q(machine.emergency_stops[stops_pressed_]))
                : tr("Press the emergency stop, then release it.");
        break;
      default: {
        const auto n = static_cast<std::size_t>(*asked);
        ask = tr("Press %1 with a finger, %2, then let it go.")
                  .arg(input_name(*asked), where_it_sits(axes[n], all_axes[n]));
      }
    }
  } else if (watch_.complete()) {
    ask = watch_.there().empty() ? tr("This machine has no inputs to try (Build).")
          : watch_.sound()       ? tr("● Every input was seen to change.")
                                 : tr("✕ Mend these before anything homes:");
  } else {
    ask = tr("Nothing is asked for yet.");
  }
  set_text(asked_, ask);
  QStringList sentences;
  for (const InputId i : watch_.there())
    if (const QString s = input_sentence(watch_, i); !s.isEmpty()) sentences << s;
  if (sentences.isEmpty() && !watch_.complete())
    sentences << tr(
        "You need nothing but your hands. Press the one that is asked for, or click the one you want to try.");
  set_text(what_, sentences.join("\n\n"));
  begin_->setVisible(!watch_.asked() && !watch_.complete());
  begin_->setEnabled(there);
  nothing_->setVisible(watch_.asked().has_value());
  over_->setEnabled(begun_ || watch_.asked() || std::any_of(all_inputs.begin(), all_inputs.end(), [this](InputId i) {
                      return watch_[i].verdict != InputVerdict::not_tried;
                    }));
  invert_->setVisible(to_invert().has_value());
  if (const auto i = to_invert()) invert_->setText(tr("Turn %1 round in the controller").arg(in_a_sentence(*i)));
}

}  // namespace ypsi::app
