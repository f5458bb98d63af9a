#include "app/widgets/plan_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/drawing/toolpath.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/to_q.h"
#include "core/program/tip.h"
#include "core/tasks/homing_way.h"

namespace ypsi::app {
namespace {
constexpr int armed_for_ms = 60'000;
constexpr double zoom_step = 1.25, most_zoom = 400;
constexpr int view_settles_ms = 120;
}  // namespace

PlanView::PlanView(Session& session, Subject subject, QWidget* parent)
    : QWidget(parent), session_(session), subject_(subject) {
  setObjectName(QStringLiteral("plan"));
  setAccessibleName(tr("Plan"));
  setMinimumHeight(140);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
  disarm_.setSingleShot(true);
  connect(&disarm_, &QTimer::timeout, this, [this] { arm(false); });
  path_ = new PathLayer(this);
  connect(path_, &PathLayer::ready, this, qOverload<>(&PlanView::update));
  settle_.setSingleShot(true);
  settle_.setInterval(view_settles_ms);
  connect(&settle_, &QTimer::timeout, this, &PlanView::invalidate);
  setFocusPolicy(Qt::StrongFocus);
  setToolTip(tr("The wheel, + and − zoom, dragging moves, a double click shows all"));
}

void PlanView::invalidate() {
  stale_ = true;
  update();
}

void PlanView::set_armable(bool armable) {
  armable_ = armable;
  if (!armable || !arrows_.isEmpty()) return;
  setToolTip(tr("Click, or press Enter here, to arm the arrow keys; Escape disarms them"));
  const struct {
    const char* name;
    QString sign, tip;
    Axis axis;
    double way;
  } arrows[] = {{"step-left", QStringLiteral("←"), tr("One step to the left (X−)"), Axis::x, -1},
                {"step-right", QStringLiteral("→"), tr("One step to the right (X+)"), Axis::x, 1},
                {"step-away", QStringLiteral("↑"), tr("One step away from you (Y+)"), Axis::y, 1},
                {"step-near", QStringLiteral("↓"), tr("One step towards you (Y−)"), Axis::y, -1},
                {"step-up", tr("Z ↑"), tr("One step up (Z+)"), Axis::z, 1},
                {"step-down", tr("Z ↓"), tr("One step down (Z−)"), Axis::z, -1}};
  for (const auto& a : arrows) {
    auto* button = new QPushButton(a.sign, this);
    button->setObjectName(a.name);
    button->setAccessibleName(a.tip);
    button->setToolTip(a.tip);
    button->setProperty("chip", true);
    button->setFixedSize(a.axis == Axis::z ? 52 : 30, 30);
    button->setFocusPolicy(Qt::NoFocus);
    connect(button, &QPushButton::clicked, this, [this, moves = JogKey{a.axis, a.way}] { jog_.step(moves); });
    arrows_ << button;
  }
}

void PlanView::resizeEvent(QResizeEvent*) {
  invalidate();
  if (arrows_.isEmpty()) return;
  update_map();
  const QRect r = map_.mapRect(world()).toRect();
  const QPoint c = r.center();
  const int side = arrows_[0]->width(), lifts = std::min(width() - arrows_[4]->width(), r.right() + side + 30);
  arrows_[0]->move(std::max(0, r.left() - side - 8), c.y() - side / 2);
  arrows_[1]->move(std::min(lifts - side - 4, r.right() + 8), c.y() - side / 2);
  arrows_[2]->move(c.x() - side / 2, std::max(0, r.top() - side - 4));
  arrows_[3]->move(c.x() - side / 2, std::min(height() - side - 24, r.bottom() + 4));
  arrows_[4]->move(lifts, c.y() - side - 4);
  arrows_[5]->move(lifts, c.y() + 4);
}

bool PlanView::zero_known() const {
  const Job& job = session_.editor().book().job;
  return job.zero(Axis::x) && job.zero(Axis::y);
}

double PlanView::width_of(int number) const {
  const Tool* tool = session_.editor().book().tool(number ? number : session_.machine().status().tool);
  return tool && tool->diameter > 0 ? tool->diameter : usual_cutter_mm;
}

QRectF PlanView::world() const {
  const Book& book = session_.editor().book();
  const WorkZero& zero = session_.machine().status().work_zero;
  if (subject_ == Subject::travel) {
    const AxisSetup &x = book.machine.axis(Axis::x), &y = book.machine.axis(Axis::y);
    const double x0 = x.soft_min.value_or(0) - 8, x1 = x.soft_max.value_or(x.travel.mm) + 8,
                 y0 = y.soft_min.value_or(0) - 8, y1 = y.soft_max.value_or(y.travel.mm) + 8;
    return {x0 - zero.x, y0 - zero.y, x1 - x0, y1 - y0};
  }
  QRectF all = stock();
  if (const auto program = session_.job().program(); program && !program->program.centre.empty()) {
    const Extents& e = program->program.centre;
    const QRectF path(QPointF(e.low.x, e.low.y), QPointF(e.high.x, e.high.y));
    all = all.isNull() ? path : all.united(path);
  }
  if (all.isNull()) all = QRectF(0, 0, book.job.part_width, book.job.part_height);
  const double margin = 0.04 * std::max(all.width(), all.height()) + 2;
  return all.adjusted(-margin, -margin, margin, margin);
}

void PlanView::update_map() {
  const QRectF w = world();
  const double edge = armable_ ? 36 : 14, foot = armable_ ? 20 : 0;  // px; the foot holds the line about arming
  const double scale = std::min((width() - 2 * edge) / w.width(), (height() - 2 * edge - foot) / w.height());
  map_ = QTransform();
  map_.translate(width() / 2.0, (height() - foot) / 2.0);
  map_.scale(scale, -scale);  // +Y away from the operator is up
  map_.translate(-w.center().x(), -w.center().y());
  map_ = map_ * view_;
}

void PlanView::zoom(double factor, QPointF about) {
  const double now = view_.m11(), wanted = std::clamp(now * factor, 1.0, most_zoom);
  if (wanted == 1.0) return show_all();
  QTransform step;
  step.translate(about.x(), about.y());
  step.scale(wanted / now, wanted / now);
  step.translate(-about.x(), -about.y());
  view_ = view_ * step;
  view_changed();
}

void PlanView::show_all() {
  view_ = {};
  view_changed();
}

/// Until the view stands still, what was drawn is moved and stretched: a long program takes a while to draw.
void PlanView::view_changed() {
  update_map();
  settle_.start();
  update();
}

void PlanView::wheelEvent(QWheelEvent* event) {
  zoom(std::pow(zoom_step, event->angleDelta().y() / 120.0), event->position());
  event->accept();
}

void PlanView::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_) return QWidget::mouseMoveEvent(event);
  const QPointF by = event->position() - dragged_from_;
  dragged_from_ = event->position();
  if (view_.m11() <= 1) return;  // all of it is in sight
  view_ = view_ * QTransform::fromTranslate(by.x(), by.y());
  view_changed();
}

void PlanView::mouseReleaseEvent(QMouseEvent* event) {
  dragging_ = false;
  QWidget::mouseReleaseEvent(event);
}

void PlanView::mouseDoubleClickEvent(QMouseEvent*) {
  show_all();
}

void PlanView::draw_travel(Draft& draft) {
  const Book& book = session_.editor().book();
  const WorkZero& zero = session_.machine().status().work_zero;
  const QRectF w = map_.mapRect(world());
  draft.box(w, theme().ink, theme().paper, 1.6);
  const AxisSetup &x = book.machine.axis(Axis::x), &y = book.machine.axis(Axis::y);
  const double x0 = x.soft_min.value_or(0), x1 = x.soft_max.value_or(x.travel.mm), y0 = y.soft_min.value_or(0),
               y1 = y.soft_max.value_or(y.travel.mm);
  draft.box(map_.mapRect(QRectF(x0 - zero.x, y0 - zero.y, x1 - x0, y1 - y0)), theme().red, Qt::transparent, 1,
            Qt::DashLine);
}

void PlanView::draw_base() {
  stale_ = false;
  done_motions_ = 0;
  done_ = {};
  update_map();
  base_map_ = map_;
  drawn_zero_ = session_.machine().status().work_zero;
  base_ = QPixmap(size() * devicePixelRatioF());
  base_.setDevicePixelRatio(devicePixelRatioF());
  base_.fill(Qt::transparent);
  QPainter painter(&base_);
  Draft draft(painter);
  const Book& book = session_.editor().book();
  if (subject_ == Subject::travel) draw_travel(draft);
  // Without a work zero nobody can say where on the bed stock and program are.
  if (subject_ == Subject::travel && !zero_known()) return;
  if (!stock().isEmpty()) {
    const QRectF board = map_.mapRect(stock());
    draft.box(board, theme().ink, theme().stock, 1.4);
    if (subject_ == Subject::travel) {
      const LengthUnit unit = session_.editor().unit();
      painter.setFont(text_font(11));
      const QString words = tr("%1 × %2 × %3 %4")
                                .arg(to_q(format_length(book.job.stock_size[0], unit, 0)),
                                     to_q(format_length(book.job.stock_size[1], unit, 0)),
                                     to_q(format_length(book.job.stock_size[2], unit, 1)), to_q(book.job.stock_name));
      draft.text(
          {board.left(), board.top() - 5},
          painter.fontMetrics().elidedText(words, Qt::ElideRight, std::max(240, static_cast<int>(board.width()))),
          theme().second_ink, 11);
    }
  }
  draw_clamps(draft);
  draw_path_layer();
}

void PlanView::draw_path_layer() {
  const auto program = session_.job().program();
  if (!program) return path_->clear();
  const Book& book = session_.editor().book();
  const int in = session_.machine().status().tool;
  const TipDrop drop(program->program, book, in);
  const double top = book.job.stock_top_z();
  widths_ = {};
  for (const Tool& t : book.tools) widths_.cutters[t.number] = {t, top + drop.of_tool(t.number)};
  if (const Tool* tool = book.tool(in)) widths_.cutters[0] = {*tool, top + drop.of_tool(in)};
  PathLayer::Request request;
  request.program = program;
  request.map = map_;
  request.size = size();
  request.dpr = devicePixelRatioF();
  request.cut_width = subject_ != Subject::travel;
  request.lines = subject_ != Subject::cut;
  request.wide = theme().cut;
  request.line = theme().teal;
  request.widths = widths_;
  path_->draw(request);
}

QRectF PlanView::stock() const {
  const Job& job = session_.editor().book().job;
  if (!(job.stock_size[0] > 0 && job.stock_size[1] > 0)) return {};
  return {job.stock_corner[0], job.stock_corner[1], job.stock_size[0], job.stock_size[1]};
}

void PlanView::draw_clamps(Draft& draft) {
  if (!zero_known()) return;
  const Job& job = session_.editor().book().job;
  for (const Clamp& c : job.clamps) {
    const QRectF box = map_.mapRect(QRectF(c.x_mm - c.width_mm / 2 - *job.zero(Axis::x),
                                           c.y_mm - c.depth_mm / 2 - *job.zero(Axis::y), c.width_mm, c.depth_mm));
    draft.box(box, theme().ink, theme().paper, 1.4);
    draft.hatch(box, theme().second_ink, 6);
  }
}

/// Where homing goes, while it has still to: an arrow for each axis, numbered in its turn, over all of the bed, since
/// nobody knows where the carriage stands.
void PlanView::draw_homing_way(Draft& draft) {
  const auto& machine = session_.editor().book().machine;
  if (laid_in_homings_way(session_.editor().book()).none()) return;
  const QRectF all = map_.mapRect(world());
  constexpr double inset = 26, long_way = 0.3;
  int turn = 0;
  for (const HomingLeg& leg : homing_way(machine)) {
    ++turn;
    const double towards = leg.to_max ? 1 : -1;
    QPointF head, tail;
    if (leg.axis == Axis::x) {
      head = {leg.to_max ? all.right() - inset : all.left() + inset, all.bottom() - inset};
      tail = head - QPointF(towards * long_way * all.width(), 0);
    } else if (leg.axis == Axis::y) {
      head = {all.right() - inset, leg.to_max ? all.top() + inset : all.bottom() - inset};
      tail = head + QPointF(0, towards * long_way * all.height());
    } else {
      draft.text({all.left() + 8, all.top() + 44},
                 leg.to_max ? tr("%1  Z goes up").arg(turn) : tr("%1  Z goes down").arg(turn), theme().ochre, 11, true);
      continue;
    }
    draft.line(tail, head, theme().ochre, 2);
    draft.arrow_head(head, head - tail, theme().ochre, 9);
    draft.text((tail + head) / 2 + QPointF(leg.axis == Axis::x ? 0 : -8, leg.axis == Axis::x ? -6 : 4),
               tr("%1  %2 homes").arg(turn).arg(QChar(letter(leg.axis))), theme().ochre, 11, true,
               leg.axis == Axis::x ? Qt::AlignHCenter : Qt::AlignRight);
  }
}

void PlanView::set_marks(std::vector<WorkPosition> marks) {
  marks_ = std::move(marks);
  update();
}

void PlanView::set_done_line(std::uint32_t line) {
  if (line < done_line_) {
    done_motions_ = 0;
    done_ = {};
  }
  done_line_ = line;
  update();
}

void PlanView::paintEvent(QPaintEvent*) {
  if (!(drawn_zero_ == session_.machine().status().work_zero) && subject_ == Subject::travel) stale_ = true;
  if (stale_) draw_base();
  QPainter painter(this);
  Draft draft(painter);
  const auto draw_moved = [&](const QPixmap& pixmap, const QTransform& drawn_with) {
    painter.save();
    painter.setTransform(drawn_with.inverted() * map_, true);
    painter.drawPixmap(0, 0, pixmap);
    painter.restore();
  };
  draw_moved(base_, base_map_);
  if (subject_ != Subject::travel || zero_known()) path_->paint(painter, map_);
  if (subject_ == Subject::cut && done_line_ > 0)
    if (const auto program = session_.job().program()) {
      const std::size_t until = motion_at_line(*program, done_line_);
      if (done_.isNull()) {
        done_ = QPixmap(base_.size());
        done_.setDevicePixelRatio(devicePixelRatioF());
        done_.fill(Qt::transparent);
        done_map_ = map_;
      }
      if (until > done_motions_) {
        QPainter on_done(&done_);
        on_done.setRenderHint(QPainter::Antialiasing);
        draw_path(on_done, *program, done_map_, done_motions_, until, PathLook::cut_width, theme().cut_deep, widths_);
        done_motions_ = until;
      }
      draw_moved(done_, done_map_);
    }
  for (const WorkPosition& m : marks_) draft.mark(map_.map(QPointF(m.x, m.y)), Mark::crossed, 7);
  const MachineStatus& s = session_.machine().status();
  if (subject_ == Subject::travel && s.all_homed() && session_.machine().bench()) {
    if (const auto seen = session_.machine().bench()->stock_seen()) {
      const QRectF there = map_.mapRect(
          QRectF(seen->x0 - s.work_zero.x, seen->y0 - s.work_zero.y, seen->x1 - seen->x0, seen->y1 - seen->y0));
      draft.box(there, theme().second_ink, Qt::transparent, 1.2, Qt::DashLine);
      draft.text(there.bottomLeft() + QPointF(there.width(), 30), tr("the stock, as you see it"), theme().second_ink,
                 10, false, Qt::AlignRight);
    }
  }
  const bool zero = subject_ != Subject::travel || zero_known();
  if (zero) draft.zero(map_.map(QPointF(0, 0)));
  if (subject_ == Subject::travel && !zero)
    draft.text({width() / 2.0, map_.mapRect(world()).top() + 24}, tr("work zero is not set yet"), theme().red, 12, true,
               Qt::AlignHCenter);
  if (subject_ == Subject::travel && zero) {
    const QPointF at = map_.map(QPointF(0, 0));
    const bool left = at.x() < width() - 90;
    draft.text(at + QPointF(left ? 6 : -6, 16), tr("work zero"), theme().red, 11, true,
               left ? Qt::AlignLeft : Qt::AlignRight);
  }
  if (subject_ == Subject::travel && !s.all_homed()) draw_homing_way(draft);
  if (s.all_homed() && subject_ != Subject::program) {
    const WorkPosition at = to_work(s.position, s.work_zero);
    draft.tool_plan(map_.map(QPointF(at.x, at.y)), width_of(s.tool) / 2 * std::sqrt(std::fabs(map_.determinant())));
  }
  if (armable_) {
    if (armed_) {
      draft.box(QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5), theme().teal, Qt::transparent, 3);
      draft.text({10, height() - 8.0}, tr("Arrow keys move the machine. Escape disarms."), theme().teal, 11, true);
    } else {
      if (hasFocus())
        draft.box(QRectF(rect()).adjusted(1, 1, -1, -1), theme().second_ink, Qt::transparent, 1, Qt::DashLine);
      draft.text({10, height() - 8.0}, tr("Click here, or press Enter, to arm the arrow keys."), theme().second_ink,
                 11);
    }
  }
}

void PlanView::arm(bool on) {
  if (on == armed_) return;
  armed_ = on;
  if (on) {
    disarm_.start(armed_for_ms);
  } else {
    disarm_.stop();
    jog_.let_go();
  }
  emit arming_changed(on);
  update();
}

void PlanView::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::MiddleButton || (event->button() == Qt::LeftButton && !armable_)) {
    dragging_ = true;
    dragged_from_ = event->position();
    return;
  }
  if (!armable_ || event->button() != Qt::LeftButton) return QWidget::mousePressEvent(event);
  setFocus(Qt::MouseFocusReason);
  arm(true);
}

void PlanView::focusOutEvent(QFocusEvent* event) {
  arm(false);
  QWidget::focusOutEvent(event);
  update();
}

void PlanView::keyPressEvent(QKeyEvent* event) {
  const QPointF middle(width() / 2.0, height() / 2.0);
  if (event->key() == Qt::Key_Plus) return zoom(zoom_step, middle);
  if (event->key() == Qt::Key_Minus) return zoom(1 / zoom_step, middle);
  if (!armable_) return QWidget::keyPressEvent(event);
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return arm(true);
  if (event->key() == Qt::Key_Escape) return arm(false);
  const auto moves = jog_key(*event);
  if (!moves || !armed_) return QWidget::keyPressEvent(event);
  disarm_.start(armed_for_ms);
  if (event->isAutoRepeat())
    jog_.hold(*moves);
  else
    jog_.step(*moves);
}

void PlanView::keyReleaseEvent(QKeyEvent* event) {
  if (event->isAutoRepeat()) return;
  jog_.let_go();
  QWidget::keyReleaseEvent(event);
}

}  // namespace ypsi::app
