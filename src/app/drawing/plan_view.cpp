#include "app/drawing/plan_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/drawing/toolpath.h"

namespace ypsi::app {
namespace {
constexpr int armed_for_ms = 60'000;
constexpr double default_cutter_mm = 3;
}  // namespace

PlanView::PlanView(Session& session, Subject subject, QWidget* parent)
    : QWidget(parent), session_(session), subject_(subject) {
  setObjectName(QStringLiteral("plan"));
  setAccessibleName(tr("Plan"));
  setMinimumHeight(140);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
  disarm_.setSingleShot(true);
  connect(&disarm_, &QTimer::timeout, this, [this] { arm(false); });
}

void PlanView::invalidate() {
  stale_ = true;
  update();
}

void PlanView::set_armable(bool armable) {
  armable_ = armable;
  setFocusPolicy(armable ? Qt::StrongFocus : Qt::NoFocus);
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
    connect(button, &QPushButton::clicked, this,
            [this, axis = a.axis, way = a.way] { session_.jog(axis, way * session_.jog_step()); });
    arrows_ << button;
  }
}

void PlanView::resizeEvent(QResizeEvent*) {
  invalidate();
  if (arrows_.isEmpty()) return;
  update_map();
  const QRect r = map_.mapRect(world()).toRect();
  const QPoint c = r.center();
  arrows_[0]->move(std::max(0, r.left() - 38), c.y() - 15);
  arrows_[1]->move(std::min(width() - 30, r.right() + 8), c.y() - 15);
  arrows_[2]->move(c.x() - 15, std::max(0, r.top() - 34));
  arrows_[3]->move(c.x() - 15, std::min(height() - 54, r.bottom() + 4));
  arrows_[4]->move(std::min(width() - 52, r.right() + 60), c.y() - 34);
  arrows_[5]->move(std::min(width() - 52, r.right() + 60), c.y() + 4);
}

bool PlanView::zero_known() const {
  const Job& job = session_.book().job;
  return job.zero_x && job.zero_y;
}

double PlanView::width_of(int number) const {
  const Tool* tool = session_.book().tool(number ? number : session_.status().tool);
  return tool && tool->diameter > 0 ? tool->diameter : default_cutter_mm;
}

QRectF PlanView::world() const {
  const Book& book = session_.book();
  const WorkZero& zero = session_.status().work_zero;
  if (subject_ == Subject::travel) {
    const AxisSetup &x = book.machine.axis(Axis::x), &y = book.machine.axis(Axis::y);
    const double x0 = x.soft_min.value_or(0) - 8, x1 = x.soft_max.value_or(x.travel) + 8,
                 y0 = y.soft_min.value_or(0) - 8, y1 = y.soft_max.value_or(y.travel) + 8;
    return {x0 - zero.x, y0 - zero.y, x1 - x0, y1 - y0};
  }
  QRectF all;
  if (book.job.stock_size[0] > 0 && book.job.stock_size[1] > 0)
    all = QRectF(0, 0, book.job.stock_size[0], book.job.stock_size[1]);
  if (const auto program = session_.program(); program && !program->program.centre.empty()) {
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
}

void PlanView::draw_travel(Draft& draft) {
  const Book& book = session_.book();
  const WorkZero& zero = session_.status().work_zero;
  const QRectF w = map_.mapRect(world());
  draft.box(w, theme().ink, theme().paper, 1.6);
  const AxisSetup &x = book.machine.axis(Axis::x), &y = book.machine.axis(Axis::y);
  const double x0 = x.soft_min.value_or(0), x1 = x.soft_max.value_or(x.travel), y0 = y.soft_min.value_or(0),
               y1 = y.soft_max.value_or(y.travel);
  draft.box(map_.mapRect(QRectF(x0 - zero.x, y0 - zero.y, x1 - x0, y1 - y0)), theme().red, Qt::transparent, 1,
            Qt::DashLine);
}

void PlanView::draw_base() {
  stale_ = false;
  done_motions_ = 0;
  done_ = {};
  update_map();
  drawn_zero_ = session_.status().work_zero;
  base_ = QPixmap(size() * devicePixelRatioF());
  base_.setDevicePixelRatio(devicePixelRatioF());
  base_.fill(Qt::transparent);
  QPainter painter(&base_);
  Draft draft(painter);
  const Book& book = session_.book();
  if (subject_ == Subject::travel) draw_travel(draft);
  // Without a work zero nobody can say where on the bed stock and program are.
  if (subject_ == Subject::travel && !zero_known()) return;
  if (book.job.stock_size[0] > 0 && book.job.stock_size[1] > 0) {
    const QRectF stock = map_.mapRect(QRectF(0, 0, book.job.stock_size[0], book.job.stock_size[1]));
    draft.box(stock, theme().ink, theme().stock, 1.4);
    if (subject_ == Subject::travel) {
      const LengthUnit unit = session_.unit();
      painter.setFont(text_font(11));
      const QString words = tr("%1 × %2 × %3 %4")
                                .arg(to_q(format_length(book.job.stock_size[0], unit, 0)),
                                     to_q(format_length(book.job.stock_size[1], unit, 0)),
                                     to_q(format_length(book.job.stock_size[2], unit, 1)), to_q(book.job.stock_name));
      draft.text(
          {stock.left(), stock.top() - 5},
          painter.fontMetrics().elidedText(words, Qt::ElideRight, std::max(240, static_cast<int>(stock.width()))),
          theme().second_ink, 11);
    }
  }
  if (const auto program = session_.program()) {
    const PathLook look = subject_ == Subject::travel ? PathLook::lines : PathLook::cut_width;
    const QColor colour = look == PathLook::lines    ? theme().teal
                          : subject_ == Subject::cut ? theme().cut
                                                     : theme().cut_deep;
    const auto width = [this](int tool) { return width_of(tool); };
    if (look == PathLook::cut_width && subject_ == Subject::program) {
      draw_path(painter, *program, map_, 0, program->program.motions.size(), PathLook::cut_width, theme().cut, width);
      draw_path(painter, *program, map_, 0, program->program.motions.size(), PathLook::lines, theme().teal, width);
    } else {
      draw_path(painter, *program, map_, 0, program->program.motions.size(), look, colour, width);
    }
  }
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
  if (!(drawn_zero_ == session_.status().work_zero) && subject_ == Subject::travel) stale_ = true;
  if (stale_) draw_base();
  QPainter painter(this);
  Draft draft(painter);
  painter.drawPixmap(0, 0, base_);
  if (subject_ == Subject::cut && done_line_ > 0)
    if (const auto program = session_.program()) {
      const std::size_t until = motion_at_line(*program, done_line_);
      if (done_.isNull()) {
        done_ = QPixmap(base_.size());
        done_.setDevicePixelRatio(devicePixelRatioF());
        done_.fill(Qt::transparent);
      }
      if (until > done_motions_) {
        QPainter on_done(&done_);
        on_done.setRenderHint(QPainter::Antialiasing);
        draw_path(on_done, *program, map_, done_motions_, until, PathLook::cut_width, theme().cut_deep,
                  [this](int tool) { return width_of(tool); });
        done_motions_ = until;
      }
      painter.drawPixmap(0, 0, done_);
    }
  const MachineStatus& s = session_.status();
  if (subject_ == Subject::travel && s.all_homed() && session_.bench()) {
    if (const auto seen = session_.bench()->stock_seen()) {
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
    if (std::exchange(steady_, false)) session_.end_jog();
  }
  emit arming_changed(on);
  update();
}

void PlanView::mousePressEvent(QMouseEvent* event) {
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
  if (!armable_) return QWidget::keyPressEvent(event);
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return arm(true);
  if (event->key() == Qt::Key_Escape) return arm(false);
  const bool vertical = event->modifiers() & Qt::ShiftModifier;
  Axis axis;
  double sign;
  switch (event->key()) {
    case Qt::Key_Left:
      axis = Axis::x;
      sign = -1;
      break;
    case Qt::Key_Right:
      axis = Axis::x;
      sign = 1;
      break;
    case Qt::Key_Up:
      axis = vertical ? Axis::z : Axis::y;
      sign = 1;
      break;
    case Qt::Key_Down:
      axis = vertical ? Axis::z : Axis::y;
      sign = -1;
      break;
    default:
      return QWidget::keyPressEvent(event);
  }
  if (!armed_) return QWidget::keyPressEvent(event);
  disarm_.start(armed_for_ms);
  if (!event->isAutoRepeat()) return session_.jog(axis, sign * session_.jog_step());
  if (steady_ || session_.status().state == MachineState::moving) return;
  // Held down: steadily on, to the limit at most, until the key comes up.
  const AxisSetup& setup = session_.book().machine.axis(axis);
  const double at = session_.status().position[axis];
  double room = 10;
  if (session_.status().homed[index(axis)])
    room = sign > 0 ? setup.soft_max.value_or(at) - at : at - setup.soft_min.value_or(at);
  if (room <= 0) return;
  steady_ = true;
  session_.jog(axis, sign * room);
}

void PlanView::keyReleaseEvent(QKeyEvent* event) {
  if (event->isAutoRepeat()) return;
  if (std::exchange(steady_, false)) session_.end_jog();
  QWidget::keyReleaseEvent(event);
}

}  // namespace ypsi::app
