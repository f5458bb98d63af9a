#include "app/jog_strip.h"

#include <QGridLayout>
#include <QHBoxLayout>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/theme/text_fit.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr int hold_after_ms = 250;
constexpr int key_width = 58, key_height = 44;  // for gloves
constexpr int room_for_hint_px = 900, most_place_px = 34;
}  // namespace

JogStrip::JogStrip(Session& session, QWidget* parent) : QFrame(parent), session_(session), jog_(session) {
  setObjectName(QStringLiteral("jog-strip"));
  setAccessibleName(tr("Jog strip: arrows move X and Y, Shift with up and down Z"));
  setFocusPolicy(Qt::StrongFocus);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 6, 10, 6);
  row->setSpacing(14);
  auto* keys = new QGridLayout;
  keys->setSpacing(4);
  keys->addWidget(key("jog-left", QStringLiteral("←"), tr("X−: a step to the left; held, on"), {Axis::x, -1}), 1, 0);
  keys->addWidget(key("jog-away", QStringLiteral("↑"), tr("Y+: a step away from you; held, on"), {Axis::y, 1}), 0, 1);
  keys->addWidget(key("jog-near", QStringLiteral("↓"), tr("Y−: a step towards you; held, on"), {Axis::y, -1}), 1, 1);
  keys->addWidget(key("jog-right", QStringLiteral("→"), tr("X+: a step to the right; held, on"), {Axis::x, 1}), 1, 2);
  keys->addWidget(key("jog-up", tr("Z ↑"), tr("Z+: a step up; held, on"), {Axis::z, 1}), 0, 3);
  keys->addWidget(key("jog-down", tr("Z ↓"), tr("Z−: a step down; held, on"), {Axis::z, -1}), 1, 3);
  row->addLayout(keys);

  auto* figures = new QGridLayout;
  figures->setVerticalSpacing(4);
  const auto field = [&](int at, const char* name, const QString& word, const QString& what, int decimals) {
    auto* label = make_label("word", "small", word, this);
    label->setWordWrap(false);
    figures->addWidget(label, at, 0);
    auto* f = new LengthField(name, what, this);
    f->set_decimals(decimals);
    f->setFixedWidth(110);
    figures->addWidget(f, at, 1);
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
    return f;
  };
  distance_ = field(0, "jog-distance", tr("a step"), tr("How far one step goes"), 3);
  rate_ = field(1, "jog-rate", tr("a minute"), tr("How fast it goes, a minute"), 0);
  row->addLayout(figures);
  connect(distance_, &LengthField::committed, this, [this](double mm) {
    if (mm > 0) session_.machine().set_jog_step(mm);
    refresh();
  });
  connect(rate_, &LengthField::committed, this, [this](double mm_min) {
    if (mm_min > 0) session_.machine().set_jog_rate(mm_min);
    refresh();
  });

  for (const Axis axis : all_axes) {
    auto* box = new QHBoxLayout;
    box->setSpacing(8);
    auto* name = make_label("jog-axis", "strong", QString(QChar(letter(axis))), this);
    name->setStyleSheet(QStringLiteral("font-size: 26px;"));
    box->addWidget(name);
    auto* place = make_label(QStringLiteral("jog-place-%1").arg(QChar(letter(axis))), "strong", "", this);
    place->setWordWrap(false);
    place->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    place->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    places_[index(axis)] = place;
    box->addWidget(place, 1);
    row->addLayout(box, 1);
  }
  hint_ = make_label("jog-hint", "small", "", this);
  hint_->setFixedWidth(170);
  row->addWidget(hint_);
  auto* off = make_button("jog-close", QStringLiteral("✕"), tr("Puts the strip away (Ctrl+J)"), this);
  off->setFixedSize(34, 34);
  off->setProperty("chip", true);
  connect(off, &QPushButton::clicked, this, &QWidget::hide);
  row->addWidget(off, 0, Qt::AlignTop);

  holds_.setSingleShot(true);
  holds_.setInterval(hold_after_ms);
  connect(&holds_, &QTimer::timeout, this, [this] { jog_.hold(pressed_); });
  connect(&session_.machine(), &MachineSession::jog_step_changed, this, &JogStrip::refresh);
  hide();
}

QPushButton* JogStrip::key(const char* name, const QString& text, const QString& tip, JogKey moves) {
  auto* button = make_button(name, text, tip, this);
  button->setFixedSize(key_width, key_height);
  button->setStyleSheet(QStringLiteral("font-size: 18px; padding: 0px;"));
  button->setFocusPolicy(Qt::NoFocus);
  connect(button, &QPushButton::pressed, this, [this, moves] {
    pressed_ = moves;
    holds_.start();
  });
  connect(button, &QPushButton::released, this, [this, moves] {
    if (holds_.isActive()) {
      holds_.stop();
      jog_.step(moves);
    }
    jog_.let_go();
  });
  return button;
}

void JogStrip::refresh() {
  if (!isVisible()) return;
  const LengthUnit unit = session_.editor().unit();
  distance_->set_unit(unit);
  rate_->set_unit(unit);
  distance_->show_value(session_.machine().jog_step());
  rate_->show_value(session_.machine().jog_rate());
  const MachineStatus& now = session_.machine().status();
  int px = most_place_px;
  for (const Axis axis : all_axes) {
    QLabel* place = places_[index(axis)];
    const LengthUnit of = session_.editor().unit(axis);
    const QString text =
        to_q(format_length(now.position[axis] - now.work_zero[axis], of, of == LengthUnit::inch ? 3 : 2));
    set_text(place, text);
    px = px_that_fits(text, place->width(), px, 16);
  }
  for (const Axis axis : all_axes) {
    QLabel* place = places_[index(axis)];
    const QString style = QStringLiteral("font-size: %1px; color: %2;")
                              .arg(px)
                              .arg((now.homed[index(axis)] ? theme().ink : theme().second_ink).name());
    if (place->styleSheet() != style) place->setStyleSheet(style);
  }
  set_text(hint_, session_.machine().hands() ? tr("Worked by hand: move it with its own keys.")
                  : !now.all_homed()         ? tr("Not homed: moves are short and slow.")
                  : !pad_.isEmpty()          ? tr("Keys as shown, or the pad while its guard button is held.")
                                    : tr("A tap is one step; held, it goes on until you let go. Arrow keys too."));
}

void JogStrip::show_pad(const QString& name) {
  pad_ = name;
  refresh();
}

void JogStrip::keyPressEvent(QKeyEvent* event) {
  const auto moves = jog_key(*event);
  if (!moves) return QFrame::keyPressEvent(event);
  if (event->isAutoRepeat())
    jog_.hold(*moves);
  else
    jog_.step(*moves);
}

void JogStrip::keyReleaseEvent(QKeyEvent* event) {
  if (!event->isAutoRepeat()) jog_.let_go();
  QFrame::keyReleaseEvent(event);
}

void JogStrip::focusOutEvent(QFocusEvent* event) {
  jog_.let_go();
  QFrame::focusOutEvent(event);
}

void JogStrip::hideEvent(QHideEvent* event) {
  holds_.stop();
  jog_.let_go();
  QFrame::hideEvent(event);
}

bool JogStrip::event(QEvent* event) {
  if (event->type() == QEvent::Resize) hint_->setVisible(width() >= room_for_hint_px);
  if (event->type() == QEvent::WindowDeactivate) {
    holds_.stop();
    jog_.let_go();
  }
  return QFrame::event(event);
}

}  // namespace ypsi::app
