#include "app/sheets/directions_sheet.h"

#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/sheets/page_foot.h"
#include "core/tasks/directions.h"
#include "core/tasks/finding.h"

namespace ypsi::app {
namespace {

QString way_words(Axis axis, double way) {
  switch (axis) {
    case Axis::x:
      return way > 0 ? DirectionsSheet::tr("to the right") : DirectionsSheet::tr("to the left");
    case Axis::y:
      return way > 0 ? DirectionsSheet::tr("away from you") : DirectionsSheet::tr("towards you");
    case Axis::z:
      break;
  }
  return way > 0 ? DirectionsSheet::tr("up") : DirectionsSheet::tr("down");
}

QString name_of(Axis axis) {
  return QString(QChar(letter(axis)));
}

QString verdict_words(const DirectionCheck& check, Axis axis) {
  switch (check[axis].verdict) {
    case DirectionVerdict::not_tried:
      return DirectionsSheet::tr("%1 not tried").arg(name_of(axis));
    case DirectionVerdict::right:
      return DirectionsSheet::tr("%1 as it should be").arg(name_of(axis));
    case DirectionVerdict::reversed_now_right:
      return DirectionsSheet::tr("%1 reversed, now as it should be").arg(name_of(axis));
    case DirectionVerdict::wrong_axis:
      return DirectionsSheet::tr("%1 moved something else: its motor is on another axis's plug").arg(name_of(axis));
  }
  return {};
}

}  // namespace

ArrowsDrawing::ArrowsDrawing(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("arrows-drawing");
  setAccessibleName(DirectionsSheet::tr("The tool with the directions of X, Y and Z"));
}

void ArrowsDrawing::show(const DirectionCheck& check, std::optional<std::array<double, 3>> moved) {
  check_ = check;
  moved_ = moved;
  update();
}

void ArrowsDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const double middle = height() / 2.0 + 8, reach = std::min(width() * 0.19, height() * 0.34);
  const QPointF plan(width() * 0.31, middle), side(width() * 0.78, middle);
  const auto arrow = [&](QPointF from, QPointF d, Axis axis, double way) {
    const bool asked = check_.asking() == axis && way == check_.way();
    const auto verdict = check_[axis].verdict;
    const QColor colour = asked                                     ? theme().teal
                          : verdict == DirectionVerdict::wrong_axis ? theme().red
                          : verdict == DirectionVerdict::not_tried  ? theme().second_ink
                                                                    : theme().ink;
    const QPointF a = from + d * 26, b = from + d * reach;
    draft.line(a, b, colour, asked ? 5 : 2);
    draft.arrow_head(b, d, colour, asked ? 18 : 11);
    const QPointF at = b + d * 18;
    const bool across = d.x() != 0;
    draft.text(at + QPointF(across ? d.x() * 4 : 0, across      ? 5
                                                    : d.y() > 0 ? 14
                                                                : 0),
               QString("%1%2").arg(way > 0 ? "+" : "−").arg(name_of(axis)), colour, asked ? 20 : 15, true,
               across ? (d.x() > 0 ? Qt::AlignLeft : Qt::AlignRight) : Qt::AlignHCenter);
  };
  draft.text({8, 24}, DirectionsSheet::tr("Plan, seen from where you stand (front)"), theme().second_ink, 11);
  draft.text({side.x() - 70, 24}, DirectionsSheet::tr("Front elevation"), theme().second_ink, 11);
  arrow(plan, {1, 0}, Axis::x, 1);
  arrow(plan, {-1, 0}, Axis::x, -1);
  arrow(plan, {0, -1}, Axis::y, 1);
  arrow(plan, {0, 1}, Axis::y, -1);
  arrow(side, {0, -1}, Axis::z, 1);
  arrow(side, {0, 1}, Axis::z, -1);
  draft.tool_plan(plan, 14);
  draft.tool_elevation(side + QPointF(0, 16), 12, 30, 30);
  if (moved_) {
    const auto& m = *moved_;
    const double px = 9;  // to the mm, so that four of them are seen from afar
    const QPointF there = plan + QPointF(m[0] * px, -m[1] * px), up = side + QPointF(46, -m[2] * px);
    if (std::hypot(m[0], m[1]) > 0.4) {
      painter.setPen(QPen(theme().ochre, 2.4, Qt::DashLine));
      painter.drawEllipse(there, 16, 16);
    }
    if (std::fabs(m[2]) > 0.4) {
      draft.line(side + QPointF(46, 0), up, theme().ochre, 3);
      draft.arrow_head(up, up - (side + QPointF(46, 0)), theme().ochre, 12);
    }
    draft.text({14, height() - 12.0},
               DirectionsSheet::tr("At the stand-in you see: the dashed ring is where the tool went"), theme().ochre,
               12, true);
  }
}

DirectionsSheet::DirectionsSheet(Session& session)
    : Sheet(session, directions_task(),
            tr("Nudge each axis a little and say which way the tool went. A hand on the emergency stop.")) {
  auto* card = make_card();
  auto* layout = new QVBoxLayout(card);
  layout->setContentsMargins(18, 12, 18, 12);
  drawing_ = new ArrowsDrawing(session, card);
  layout->addWidget(drawing_, 1);
  auto* row = PageFoot(layout, card).acts();
  for (const Axis a : {Axis::z, Axis::x, Axis::y}) {
    auto* button = make_button(QString("nudge-%1").arg(name_of(a)), tr("Nudge %1").arg(name_of(a)),
                               tr("Moves %1 by 4 mm, slowly (Alt+%1)").arg(name_of(a)), card);
    button->setShortcut(QKeySequence(QString("Alt+%1").arg(name_of(a))));
    connect(button, &QPushButton::clicked, this, [this, a] { nudge(a); });
    nudge_[index(a)] = button;
    row->addWidget(button);
  }
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("DIRECTIONS"));
  asked_ = finding()->add_label("directions-asked", "strong");
  what_ = finding()->add_label("directions-what", "task");
  finding()->add_rule();
  last_ = finding()->add_label("directions-last", "small");
  finding()->add_stretch();
  yes_ = finding()->add_button("directions-yes", "", tr("It went the way of the arrow (Alt+1)"), true);
  yes_->setShortcut(QKeySequence("Alt+1"));
  other_way_ = finding()->add_button("directions-no", "", tr("It went the other way: reverses the axis (Alt+2)"));
  other_way_->setShortcut(QKeySequence("Alt+2"));
  another_ = finding()->add_button("directions-another", tr("Something else moved, or nothing"),
                                   tr("Then a motor is on another plug, or has no current (Alt+3)"));
  another_->setShortcut(QKeySequence("Alt+3"));
  connect(yes_, &QPushButton::clicked, this, [this] { answer(true, true); });
  connect(other_way_, &QPushButton::clicked, this, [this] { answer(true, false); });
  connect(another_, &QPushButton::clicked, this, [this] { answer(false, false); });
}

void DirectionsSheet::nudge(Axis axis) {
  if (!session_.machine().must_be_free()) return;
  if (session_.machine().bench()) seen_before_ = session_.machine().bench()->tool_seen();
  kept_ = false;
  session_.machine().ask(check_.nudge(*session_.machine().link(), axis));
  refresh_status();
}

void DirectionsSheet::answer(bool alone, bool as_the_arrow) {
  if (!session_.machine().link() || !check_.asking() || (!as_the_arrow && !session_.machine().may_set())) return;
  const std::string setting = axis_setting(*check_.asking(), "reversed");
  const auto before = session_.machine().link()->setting(setting);
  if (!session_.machine().ask(check_.answer(*session_.machine().link(), alone, as_the_arrow))) return;
  if (const auto after = session_.machine().link()->setting(setting); before && after && *before != *after) {
    if (!as_found_.contains(setting)) as_found_[setting] = *before;
    as_left_[setting] = *after;
    session_.machine().keep_settings();
  }
  seen_before_.reset();
  keep_when_complete();
  refresh_status();
}

void DirectionsSheet::keep_when_complete() {
  if (!check_.complete() || std::exchange(kept_, true)) return;
  QStringList words;
  for (const Axis a : all_axes)
    if (check_[a].verdict != DirectionVerdict::right) words << verdict_words(check_, a);
  session_.editor().change_book(tr("Look at the directions"), [&](Book& b) {
    Entry entry;
    entry.time = session_.editor().now().toStdString();
    entry.sheet = directions_id;
    entry.result = result_of(SaidEntry{
        (words.isEmpty() ? tr("all three as they should be") : words.join(", ")).toStdString(), !check_.sound()});
    entry.as_found = std::exchange(as_found_, nlohmann::json::object());
    entry.as_left = std::exchange(as_left_, nlohmann::json::object());
    b.history.push_back(std::move(entry));
  });
}

void DirectionsSheet::refresh() {
  last_->setText(last_looked_at(session_.editor().book(), directions_id,
                                tr("Never looked at. A minute now, before homing drives an axis into its stop.")));
  refresh_status();
}

void DirectionsSheet::refresh_status() {
  const MachineStatus& s = session_.machine().status();
  const bool stands =
      s.state == MachineState::ready || s.state == MachineState::not_homed || s.state == MachineState::stopped;
  const bool asking = check_.asking() && !check_.again();
  std::optional<std::array<double, 3>> moved;
  if (seen_before_ && session_.machine().bench()) {
    const auto now = session_.machine().bench()->tool_seen();
    moved = {now[0] - (*seen_before_)[0], now[1] - (*seen_before_)[1], now[2] - (*seen_before_)[2]};
  }
  drawing_->show(check_, moved);
  QString ask, what;
  if (s.state == MachineState::offline) {
    ask = tr("Connect to the machine first (Ctrl+L).");
  } else if (asking && !stands) {
    ask = tr("%1 moves; watch the tool.").arg(name_of(*check_.asking()));
  } else if (asking) {
    const Axis a = *check_.asking();
    ask = tr("Did the tool go %1, and nothing else move?").arg(way_words(a, check_.way()));
    what = a == Axis::y ? tr("Where the bed moves and not the tool, the tool goes the other way over it.") : QString();
    set_text(yes_, tr("Yes, %1").arg(way_words(a, check_.way())));
    set_text(other_way_, tr("No, %1: reverse %2").arg(way_words(a, -check_.way()), name_of(a)));
  } else if (check_.again()) {
    ask = tr("%1 is reversed in the controller. Nudge it again and look.").arg(name_of(*check_.asking()));
  } else if (check_.complete()) {
    ask = check_.sound() ? tr("● All three go as they should.") : tr("✕ Mend this before homing:");
  } else {
    const auto next = check_.next();
    ask = tr("Nudge %1.").arg(next ? name_of(*next) : QString());
    what = tr("Z first, and up: there is room above. Each nudge is 4 mm and slow.");
  }
  QStringList found;
  for (const Axis a : all_axes)
    if (check_[a].verdict != DirectionVerdict::not_tried) found << verdict_words(check_, a) + ".";
  if (!found.isEmpty()) what += (what.isEmpty() ? "" : "\n\n") + found.join("\n");
  set_text(asked_, ask);
  set_text(what_, what);
  for (auto* b : {yes_, other_way_, another_}) {
    b->setVisible(asking);
    b->setEnabled(stands);
  }
  for (const Axis a : all_axes) nudge_[index(a)]->setEnabled(stands && !asking);
}

}  // namespace ypsi::app
