#include "app/at_machine/hand_strip.h"

#include <QEvent>
#include <QHBoxLayout>
#include <utility>

#include "app/at_machine/hand_card_view.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/sheets/sheet.h"
#include "link/by_hand/hand_link.h"
#include "link/lines/line_link.h"

namespace ypsi::app {
namespace {
constexpr int finding_px = 312;  // the finding's column stays in sight beside the card
}

HandStrip::HandStrip(Session& session, QWidget* above, QWidget* parent)
    : QFrame(parent), session_(session), above_(above), card_(new HandCardView(session, parent)) {
  setObjectName(QStringLiteral("hand-strip"));
  setMinimumHeight(40);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 4, 8, 4);
  row->setSpacing(6);
  auto* heading = make_label("hand-heading", "hand-heading", tr("AT THE MACHINE"), this);
  heading->setWordWrap(false);
  row->addWidget(heading);
  summary_ = make_label("hand-summary", "task", "", this);
  summary_->setWordWrap(false);
  summary_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addWidget(summary_, 1);
  shows_ = make_label("hand-shows", "small", tr("its screen shows on:"), this);
  shows_->setWordWrap(false);
  row->addWidget(shows_);
  for (const Axis axis : all_axes)
    add_lamp(
        QByteArray("hand-lamp-").append(letter(axis)), QString(QChar(letter(axis))),
        tr("%1's switch shows on at its own screen").arg(QChar(letter(axis))),
        [axis](MachineInputs& inputs) -> bool& { return inputs.home_switch[index(axis)]; },
        [axis](const MachineSetup& machine) { return !machine.axis(axis).zero_by_hand; });
  for (const Axis axis : all_axes)
    add_lamp(
        QByteArray("hand-lamp-far-").append(letter(axis)), tr("%1 far").arg(QChar(letter(axis))),
        tr("The switch at %1's other end shows on at its own screen").arg(QChar(letter(axis))),
        [axis](MachineInputs& inputs) -> bool& { return inputs.far_switch[index(axis)]; },
        [this](const MachineSetup&) { return far_shown_; });
  add_lamp(
      "hand-lamp-probe", tr("Probe"), tr("The probe's input shows on at its own screen"),
      [](MachineInputs& inputs) -> bool& { return inputs.probe; },
      [](const MachineSetup& machine) { return !machine.no_probe; });
  add_lamp(
      "hand-lamp-stop", tr("Emergency stop"), tr("The emergency stop shows on at its own screen"),
      [](MachineInputs& inputs) -> bool& { return inputs.emergency_stop; },
      [](const MachineSetup& machine) { return !machine.no_emergency_stop; });
  tell_ = make_button("hand-tell", tr("Tell its place…"), tr("Say where its own screen shows that it stands (Alt+W)"),
                      this);
  tell_->setShortcut(QKeySequence("Alt+W"));
  open_ = make_button("hand-open", tr("The card"), tr("Shows what is to be done at the machine (Alt+C)"), this, true);
  open_->setShortcut(QKeySequence("Alt+C"));
  row->addWidget(tell_);
  row->addWidget(open_);
  for (QPushButton* button : {tell_, open_}) button->setFixedHeight(30);
  connect(tell_, &QPushButton::clicked, this, [this] {
    card_->show_whereabouts(!card_->shows_whereabouts());
    refresh();
  });
  connect(open_, &QPushButton::clicked, this, [this] {
    put_off_ = false;
    refresh();
  });
  connect(card_, &HandCardView::put_off, this, [this] {
    put_off_ = true;
    refresh();
  });
  connect(card_, &HandCardView::answered, this, &HandStrip::refresh);
  above_->installEventFilter(this);
  hide();
}

void HandStrip::add_lamp(const QByteArray& name, const QString& text, const QString& tip,
                         std::function<bool&(MachineInputs&)> input, std::function<bool(const MachineSetup&)> there) {
  auto* button = make_chip(name, text, tip, this);
  button->setAutoExclusive(false);
  button->setFixedHeight(28);
  connect(button, &QPushButton::toggled, this, &HandStrip::show_inputs);
  layout()->addWidget(button);
  lamps_.push_back({button, std::move(input), std::move(there)});
}

void HandStrip::show_inputs() {
  link::HandLink* hands = session_.machine().told_inputs();
  if (!hands) return;
  MachineInputs inputs;
  for (const Lamp& lamp : lamps_) lamp.input(inputs) = lamp.button->isChecked();
  hands->show_inputs(inputs);
  session_.machine().ask({});
}

void HandStrip::refresh() {
  link::HandLink* hands = session_.machine().cards();
  // Where a line leads to the machine, only what it cannot do is asked here.
  const bool by_hand = session_.machine().hands() != nullptr;
  const bool lamps = session_.machine().told_inputs() != nullptr, needed = by_hand || lamps || (hands && hands->card());
  setVisible(needed);
  if (!needed) {
    card_->hide();
    return;
  }
  const link::HandCard* card = hands->card();
  if (card && card->number != seen_) {
    seen_ = card->number;
    put_off_ = false;
  }
  const MachineSetup& machine = session_.editor().book().machine;
  MachineInputs inputs = hands->status().inputs;
  for (const Lamp& lamp : lamps_) {
    lamp.button->setVisible(lamps && lamp.there(machine));
    const QSignalBlocker quiet(lamp.button);
    lamp.button->setChecked(lamp.input(inputs));
  }
  const QString words = card ? card_title(*card, session_.editor().book()) : tr("Nothing is to be done there.");
  summary_->setText(summary_->fontMetrics().elidedText(words, Qt::ElideRight, std::max(40, summary_->width())));
  summary_->setToolTip(words);
  shows_->setVisible(lamps);
  tell_->setVisible(!card);
  card_->refresh();
  const bool shown = (card && !put_off_) || (!card && card_->shows_whereabouts());
  open_->setVisible(card && !shown);
  card_->setVisible(shown);
  if (shown) place_card();
}

void HandStrip::place_card() {
  const int width = std::max(440, above_->width() - finding_px);
  card_->setFixedWidth(width);
  card_->adjustSize();
  const int height = std::min(
      above_->height(), card_->heightForWidth(width) > 0 ? card_->heightForWidth(width) : card_->sizeHint().height());
  const QPoint foot = above_->mapTo(card_->parentWidget(), QPoint(0, above_->height()));
  card_->setGeometry(foot.x(), foot.y() - height, width, height);
  card_->raise();
}

bool HandStrip::eventFilter(QObject* object, QEvent* event) {
  if (object == above_ && event->type() == QEvent::Resize && card_->isVisible()) place_card();
  return QFrame::eventFilter(object, event);
}

}  // namespace ypsi::app
