#include "app/rail.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QStyle>
#include <QVBoxLayout>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/state_shown.h"
#include "app/theme/large.h"
#include "app/theme/text_fit.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr double steps_mm[] = {0.01, 0.1, 1, 10, 50};
constexpr double steps_in[] = {0.001, 0.01, 0.1, 0.5, 2};
constexpr int room_for_steps_px = 940;
}  // namespace

HoldButton::HoldButton(Session& session, const QString& name, QWidget* parent) : QPushButton(tr("Hold"), parent) {
  setObjectName(name);
  setProperty("hold", true);
  setAccessibleName(tr("Hold"));
  setToolTip(tr("Slow down and stand still; nothing is lost (Ctrl+Space, Pause)"));
  setFocusPolicy(Qt::NoFocus);
  connect(this, &QPushButton::clicked, this, [&session] { session.machine().hold(); });
}

void HoldButton::paintEvent(QPaintEvent* event) {
  QPushButton::paintEvent(event);
  QPainter painter(this);
  Draft draft(painter);
  draft.text({width() / 2.0, height() - 10.0}, QStringLiteral("Ctrl+Space"),
             isDown() ? theme().on_act : theme().second_ink, 10, false, Qt::AlignHCenter);
}

AxisReadout::AxisReadout(Session& session, Axis axis, QWidget* parent)
    : QWidget(parent), session_(session), axis_(axis) {
  setObjectName(QString("axis-%1").arg(QChar(letter(axis))));
  setMinimumWidth(88);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void AxisReadout::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const MachineStatus& s = session_.machine().status();
  const bool known = s.homed[index(axis_)];
  const double machine = s.position[axis_];
  const double work = work_place(session_, axis_);
  const LengthUnit unit = session_.editor().unit(axis_);
  const double right = width() - 26.0;
  const QColor ink = known ? theme().ink : theme().second_ink;

  draft.text({0, 36}, QString(QChar(letter(axis_))), theme().ink, 22, true);
  if (const Head* by = session_.machine().looking(); by && axis_ != Axis::z)
    draft.text({0, 10}, to_q(by->name), theme().teal, 10, true);
  painter.setPen(ink);
  const QString number = to_q(format_length(work, unit, 3));
  painter.setFont(text_font(px_that_fits(number, right - 24, 29, 18), true));
  painter.drawText(QRectF(20, 8, right - 20, 34), Qt::AlignRight | Qt::AlignVCenter, number);
  draft.text({right + 4, 36}, to_q(unit_name(unit)), theme().second_ink, 11);

  const auto [low, high] = session_.machine().room(axis_);
  const double span = std::max(high - low, 1e-6);
  const QRectF bar(0, 52, right, 10);
  const double margin = 8;
  const auto at = [&, lo = low](double p) {
    return bar.left() + margin + (p - lo) / span * (bar.width() - 2 * margin);
  };
  draft.box(bar, theme().second_ink, theme().sheet);
  draft.box(QRectF(at(low), bar.top(), at(high) - at(low), bar.height()), Qt::transparent, theme().teal_soft, 0);
  // An axis that was set at its mark by hand is known until the power goes, and drawn so.
  if (session_.editor().book().machine.axis(axis_).zero_by_hand)
    draft.hatch(QRectF(at(low), bar.top(), at(high) - at(low), bar.height()), theme().second_ink, 6);
  draft.line({at(low), bar.top()}, {at(low), bar.bottom()}, theme().second_ink);
  draft.line({at(high), bar.top()}, {at(high), bar.bottom()}, theme().second_ink);
  if (known) {
    const double zero = std::clamp(at(s.work_zero[axis_]), bar.left(), bar.right());
    draft.line({zero, bar.top() - 3}, {zero, bar.bottom() + 3}, theme().red, 2);
    const double x = std::clamp(at(machine), bar.left() + 5, bar.right() - 5);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().ink);
    painter.drawPolygon(QPolygonF{{x, bar.top() + 3}, {x - 6, bar.bottom() + 2}, {x + 6, bar.bottom() + 2}});
  }
  // Where the bar is short the limits' numbers give way: they are drawn on it, and their sheet says them.
  const bool wide = right > 170;
  if (wide) {
    draft.text({0, 80}, to_q(format_length(low, unit, 1)), theme().second_ink, 11);
    draft.text({right, 80}, to_q(format_length(high, unit, 1)), theme().second_ink, 11, false, Qt::AlignRight);
  }
  draft.text({right / 2, 80}, known ? tr("machine %1").arg(to_q(format_length(machine, unit, 3))) : tr("not homed"),
             theme().second_ink, 11, false, Qt::AlignHCenter);
}

Rail::Rail(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
  setObjectName(QStringLiteral("rail"));
  setFixedHeight(112);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 10, 14, 10);
  row->setSpacing(12);

  auto* hold = new HoldButton(session, QStringLiteral("hold"), this);
  hold->setFixedSize(152, 88);
  row->addWidget(hold);

  auto* words = new QVBoxLayout;
  words->setSpacing(2);
  words->addWidget(make_label("state-heading", "heading", tr("STATE"), this));
  state_ = make_label("state", "strong", "", this);
  state_->setAccessibleName(tr("State of the machine"));
  words->addWidget(state_);
  detail_ = make_label("state-detail", "small", "", this);
  words->addWidget(detail_);
  words->addStretch();
  auto* words_box = new QWidget(this);
  words_box->setLayout(words);
  words->setContentsMargins(0, 0, 0, 0);
  words_box->setFixedWidth(132);
  row->addWidget(words_box);

  for (const Axis a : all_axes) {
    axes_ << new AxisReadout(session, a, this);
    row->addWidget(axes_.last(), 1);
  }

  auto* step_column = new QVBoxLayout;
  step_column->setSpacing(4);
  auto* step_head = new QHBoxLayout;
  step_head->addWidget(make_label("step-heading", "heading", tr("STEP"), this), 1);
  auto* jog = make_button("rail-jog", tr("Jog…"), tr("Six keys to move the tool from any sheet (Ctrl+J)"), this);
  jog->setProperty("chip", true);
  jog->setFixedSize(58, 24);
  jog->setFocusPolicy(Qt::NoFocus);
  connect(jog, &QPushButton::clicked, &session.notices(), &Notices::jog_wanted);
  step_head->addWidget(jog);
  step_column->addLayout(step_head);
  auto* chips = new QHBoxLayout;
  chips->setSpacing(2);
  steps_ = new QButtonGroup(this);
  for (int i = 0; i < 5; ++i) {
    auto* chip = new QPushButton(this);
    chip->setObjectName(QString("step-%1").arg(i));
    chip->setProperty("chip", true);
    chip->setCheckable(true);
    chip->setFixedWidth(40);
    chip->setFocusPolicy(Qt::TabFocus);
    chip->setToolTip(tr("Step of one press of an arrow key"));
    steps_->addButton(chip, i);
    chips->addWidget(chip);
  }
  step_column->addLayout(chips);
  jog_help_ = make_label("step-help", "small", "", this);
  jog_help_->setStyleSheet(QStringLiteral("font-size: 10px;"));
  step_column->addWidget(jog_help_);
  step_column->addStretch();
  step_box_ = new QWidget(this);
  step_box_->setLayout(step_column);
  step_column->setContentsMargins(0, 0, 0, 0);
  step_box_->setFixedWidth(212);
  row->addWidget(step_box_);

  connect(steps_, &QButtonGroup::idClicked, this, [this](int i) {
    session_.machine().set_jog_step(session_.editor().unit() == LengthUnit::inch ? steps_in[i] * mm_per_inch
                                                                                 : steps_mm[i]);
  });
  connect(&session_.editor(), &BookEditor::book_changed, this, [this] { refresh_steps(); });
  connect(&session_.machine(), &MachineSession::jog_step_changed, this, [this] { refresh_steps(); });
  refresh_steps();
  refresh();
}

/// Where there is little room the places come first; the jog strip has the steps too.
void Rail::resizeEvent(QResizeEvent* event) {
  QFrame::resizeEvent(event);
  step_box_->setVisible(width() >= room_for_steps_px);
  jog_help_->setVisible(least_target_px() <= steps_->button(0)->sizeHint().height());
}

void Rail::refresh_steps() {
  const bool inch = session_.editor().unit() == LengthUnit::inch;
  for (int i = 0; i < 5; ++i) {
    const double mm = inch ? steps_in[i] * mm_per_inch : steps_mm[i];
    steps_->button(i)->setText(QString::number(inch ? steps_in[i] : steps_mm[i]));
    steps_->button(i)->setChecked(std::abs(mm - session_.machine().jog_step()) < 1e-9);
  }
}

void Rail::refresh() {
  const StateShown shown = state_shown(session_);
  const bool by_hand = session_.machine().hands() != nullptr;
  set_text(jog_help_, by_hand ? tr("Worked by hand: move it with its own keys, then tell its place (Alt+W).")
                              : tr("Arrows move X and Y, Shift with ↑ ↓ moves Z, only while the drawing is armed."));
  if (state_->text() != shown.word || shown_night_ != is_night()) {
    shown_night_ = is_night();
    state_->setText(shown.word);
    state_->setStyleSheet(QStringLiteral("font-size: 20px; font-weight: bold; color: %1;").arg(shown.colour.name()));
  }
  if (detail_->text() != shown.detail) detail_->setText(shown.detail);
  for (auto* axis : axes_) axis->update();
}

}  // namespace ypsi::app
