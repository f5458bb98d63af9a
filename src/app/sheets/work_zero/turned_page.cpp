#include "app/sheets/work_zero/turned_page.h"

#include <QButtonGroup>
#include <QDir>
#include <QFileInfo>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/text_file.h"
#include "app/sheets/copy_beside.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "core/heads/head_offset.h"
#include "core/program/corrected_copy.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {
namespace {

constexpr double turned_tolerance_mm = 0.005, drawn_turn_rad = 0.14;

}  // namespace

TurnedDrawing::TurnedDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("turned-drawing");
  setAccessibleName(TurnedPage::tr("The stock from above, turned more than it is"));
  setMinimumHeight(190);
}

void TurnedDrawing::show(Edge edge, int touched, const std::optional<TurnedStock>& found) {
  edge_ = edge;
  touched_ = touched;
  found_ = found;
  update();
}

void TurnedDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const double turn =
      found_ ? std::copysign(std::fabs(found_->rotation) > found_->U ? drawn_turn_rad : 0.0, found_->rotation)
             : drawn_turn_rad / 2;
  const double w = std::min(width() * 0.5, 360.0), h = std::min(height() * 0.56, 220.0);
  const QPointF c = QRectF(rect()).center();
  const auto at = [&](double u, double v) {  // from the middle, v away from the operator
    const double x = u * w / 2, y = v * h / 2;
    return c + QPointF(x * std::cos(turn) - y * std::sin(turn), -(x * std::sin(turn) + y * std::cos(turn)));
  };
  draft.text({8, 16}, TurnedPage::tr("Plan, seen from the front; the turn is drawn larger than it is"),
             theme().second_ink, 11);
  painter.setPen(QPen(theme().second_ink, 1, Qt::DashLine));
  painter.drawRect(QRectF(c.x() - w / 2, c.y() - h / 2, w, h));
  painter.setPen(QPen(theme().ink, 1.6));
  painter.setBrush(theme().stock);
  painter.drawPolygon(QPolygonF{at(-1, -1), at(1, -1), at(1, 1), at(-1, 1)});
  painter.setBrush(Qt::NoBrush);
  const bool along_x = edge_ == Edge::front || edge_ == Edge::back;
  const double side = edge_ == Edge::front || edge_ == Edge::left ? -1 : 1;
  for (int i = 0; i < 2; ++i) {
    const double along = i == 0 ? -0.75 : 0.75;
    const QPointF p = along_x ? at(along, side) : at(side, along);
    const QPointF out = along_x ? QPointF(0, side < 0 ? 1 : -1) : QPointF(side < 0 ? -1 : 1, 0);
    draft.line(p + out * 40, p + out * 12, theme().teal, 2);
    draft.arrow_head(p + out * 10, -out, theme().teal, 9);
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(i < touched_ ? theme().teal : theme().sheet);
    painter.drawEllipse(p, 6, 6);
    painter.setBrush(Qt::NoBrush);
    draft.text(p + out * 58 + QPointF(0, 4), QString::number(i + 1), theme().ink, 13, true, Qt::AlignHCenter);
  }
}

TurnedPage::TurnedPage(Session& session) : TouchingPage(session) {
  auto* inside = make_card_page(this);
  auto* card = inside->parentWidget();
  drawing_ = new TurnedDrawing(card);
  inside->addWidget(drawing_, 1);
  result_ = make_label("turned-result", "strong", "", card);
  words_ = make_label("turned-words", "task", "", card);
  inside->addWidget(result_);
  inside->addWidget(words_);
  PageFoot foot(inside, card);
  auto *edges = foot.settings(), *acts = foot.acts();
  const std::pair<const char*, QString> names[] = {{"edge-front", tr("front edge")},
                                                   {"edge-left", tr("left edge")},
                                                   {"edge-right", tr("right edge")},
                                                   {"edge-back", tr("back edge")}};
  auto* one_of = new QButtonGroup(this);  // the sheet's own chips are another group
  for (int i = 0; i < 4; ++i) {
    chips_[i] = make_chip(names[i].first, names[i].second, tr("Touch this edge of the stock"), card, one_of);
    connect(chips_[i], &QPushButton::clicked, this, [this, i] { choose(static_cast<Edge>(i)); });
    edges->addWidget(chips_[i]);
  }
  chips_[0]->setChecked(true);
  touch_button_ =
      make_button("touch-edge", tr("Touch here"), tr("Searches the edge from where the tool stands (Ctrl+B)"), card);
  touch_button_->setShortcut(QKeySequence("Ctrl+B"));
  again_ = make_button("edge-again", tr("Begin again"), tr("Forgets the touches"), card);
  keep_ = make_button("keep-turn", tr("Keep it"), tr("Writes the turn into the book (Ctrl+Return)"), card);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));
  turn_ = make_button("turn-program", tr("Turn the program"),
                      tr("A copy of the program, turned with the stock about work zero (Ctrl+Shift+C)"), card);
  turn_->setShortcut(QKeySequence("Ctrl+Shift+C"));
  for (auto* b : {touch_button_, again_, keep_, turn_}) acts->addWidget(b);
  hint_ = foot.hint("turned-hint");
  connect(touch_button_, &QPushButton::clicked, this, [this] {
    if (session_.machine().looking()) return take_by_eye();
    if (places_.size() == 2 && circuit_works() && !touching()) places_.clear();
    touch(touched_axis(), towards_plus());
  });
  connect(again_, &QPushButton::clicked, this, [this] { choose(edge_); });
  connect(keep_, &QPushButton::clicked, this, &TurnedPage::keep);
  connect(turn_, &QPushButton::clicked, this, [this] {
    if (const auto turned = found(); turned && session_.job().program()) turn_program(session_, this, turned->rotation);
  });
}

void TurnedPage::choose(Edge edge) {
  by_eye_ = false;
  edge_ = edge;
  places_.clear();
  refresh();
}

void TurnedPage::touched(const Touched& place) {
  places_.push_back(place);
  refresh();
}

/// A pointer stands over the edge: its place is the edge's.
void TurnedPage::take_by_eye() {
  if (places_.size() == 2) places_.clear();
  const MachineSession& machine = session_.machine();
  const MachinePosition& at = machine.status().position;
  Touched place;
  place.axis = touched_axis();
  place.towards_plus = towards_plus();
  place.at = {at.x + machine.looks_beside(Axis::x), at.y + machine.looks_beside(Axis::y)};
  place.across = {place.axis == Axis::x ? place.at.x : place.at.y};
  by_eye_ = true;
  touched(place);
}

std::optional<TurnedStock> TurnedPage::found() const {
  if (places_.size() < 2) return std::nullopt;
  // What a step leaves open is spread evenly over it, what the eye does has its own standard deviation.
  const double step = by_eye_ ? usual_placing_mm * std::sqrt(12.0)
                              : 1 / session_.editor().book().machine.axis(touched_axis()).steps_per_mm;
  const auto turned =
      turned_stock(places_[0].at, places_[0].across, places_[1].at, places_[1].across, touched_axis() == Axis::x, step);
  return turned ? std::optional(*turned) : std::nullopt;
}

void TurnedPage::keep() {
  const auto turned = found();
  if (!turned) return;
  session_.editor().change_book(
      tr("Keep the stock's turn"),
      [&](Book& b) {
        Entry e;
        e.time = session_.editor().now().toStdString();
        e.sheet = work_zero_id;
        e.subject = turn_subject;
        e.instrument = by_eye_ ? session_.machine().looks_by() : "probe";
        for (const auto& p : places_)
          for (const double t : p.across) e.readings.push_back({{"x_mm", p.at.x}, {"y_mm", p.at.y}, {"trigger_mm", t}});
        e.result = result_of(TurnEntry{turned->rotation * 1000, turned->U * 1000});
        b.history.push_back(std::move(e));
      },
      MachineFollows::no);
}

void turn_program(Session& session, QWidget* parent, double rotation) {
  const auto made = copy_beside(session, parent, "-turned", [&](std::string_view text) {
    return turned_copy(text, rotation, turned_tolerance_mm);
  });
  if (!made) return;
  const QString& to = made->path;
  session.job().load_program(to);
  session.notices().notify(
      {NoticeLevel::good,
       TurnedPage::tr("“%1” is the program turned by %2° about work zero, and loaded. Its corners are on the plan.")
           .arg(QFileInfo(to).fileName())
           .arg(rotation * 180 / std::numbers::pi, 0, 'f', 3),
       {}});
}

/// By how much the second place is to be pushed, the first held, so that the edge lies along its axis.
QString TurnedPage::push_words(double rotation) const {
  if (places_.size() < 2) return {};
  const bool along_x = touched_axis() == Axis::y;
  const auto &first = places_.front().at, &second = places_.back().at;
  // Turned counter-clockwise, what lies to the right has gone towards +Y, and what lies behind towards -X.
  const double push = along_x ? -(second.x - first.x) * std::tan(rotation) : (second.y - first.y) * std::tan(rotation);
  return tr("Laid straight: hold the first place, push at the second %1 towards %2%3.")
      .arg(
          to_q(format_length(std::fabs(push), session_.editor().unit(), 1) + " " + unit_name(session_.editor().unit())),
          push > 0 ? QStringLiteral("+") : QStringLiteral("−"), along_x ? QStringLiteral("Y") : QStringLiteral("X"));
}

void TurnedPage::refresh() {
  const auto turned = found();
  drawing_->show(edge_, static_cast<int>(places_.size()), turned);
  if (turned) {
    result_->setText(tr("The stock is turned by %1 ±%2 mrad (%3°)")
                         .arg(to_q(format_signed(turned->rotation * 1000, 2)))
                         .arg(turned->U * 1000, 0, 'f', 2)
                         .arg(to_q(format_signed(turned->rotation * 180 / std::numbers::pi, 3))));
    const double over = std::fabs(std::tan(turned->rotation)) * 300;
    words_->setText(std::fabs(turned->rotation) <= turned->U
                        ? tr("● Straight, as far as these touches can tell.")
                        : tr("◐ Over 300 mm it runs off by %1. Turn the stock, or the program with it. %2")
                              .arg(to_q(format_length(over, session_.editor().unit(), 2) + " " +
                                        unit_name(session_.editor().unit())),
                                   push_words(turned->rotation)));
  } else {
    result_->setText(places_.empty() ? tr("Touch one edge at two places, far apart")
                                     : tr("Now the second place, far from the first"));
    words_->setText(
        tr("Bring the tool beside the edge and below the stock's top, clip on, less than 10 mm away: the stock must "
           "conduct, or hold the plate between."));
  }
  refresh_status();
}

void TurnedPage::refresh_status() {
  const Head* by = session_.machine().looking();
  set_text(hint_, by ? tr("Bring the %1 over the edge at two places, far apart.").arg(to_q(by->name))
                     : asked(tr("● The circuit works. It searches 10 mm and backs off.")));
  set_text(touch_button_, by                ? tr("It is over the edge")
                          : touching()      ? tr("End the touch")
                          : circuit_works() ? tr("Touch here")
                                            : tr("Check the circuit"));
  touch_button_->setEnabled(by ? session_.machine().standing_ready() && session_.machine().status().all_homed()
                               : can_touch());
  again_->setEnabled(!places_.empty() && !touching());
  const bool told = places_.size() == 2 && found().has_value();
  keep_->setEnabled(told && !session_.editor().read_only());
  turn_->setEnabled(told && session_.job().program() != nullptr);
}

}  // namespace ypsi::app
