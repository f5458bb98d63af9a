#include "app/tray.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr double clamp_ahead_mm = 60;  // of the tool, towards +X: in the way
constexpr double speeds[] = {1, 20, 0};
}  // namespace

Tray::Tray(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
  setObjectName(QStringLiteral("tray"));
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(12, 6, 12, 6);
  rows->setSpacing(6);
  auto *hands = new QHBoxLayout, *instruments = new QHBoxLayout;
  make_hands(hands);
  make_instruments(instruments);
  rows->addLayout(hands);
  rows->addLayout(instruments);
}

QPushButton* Tray::chip(const char* name, const QString& text, const QString& tip, bool checkable) {
  auto* button = make_button(name, text, tip, this);
  button->setProperty("chip", true);
  button->setCheckable(checkable);
  button->setFixedHeight(28);
  button->setMinimumWidth(button->fontMetrics().horizontalAdvance(text) + 34);
  button->setFocusPolicy(Qt::TabFocus);
  return button;
}

void Tray::make_hands(QHBoxLayout* row) {
  auto* tag = make_label("tray-tag", "attention", tr("◐ SIMULATED MACHINE"), this);
  tag->setToolTip(tr("Nothing real moves. What you do here a person would do with their hands at the machine."));
  tag->setWordWrap(false);
  row->addWidget(tag);
  row->addSpacing(10);
  clip_ = chip("tray-clip", tr("Clip on the tool"), tr("Without it the probe sees nothing"), true);
  connect(clip_, &QPushButton::clicked, this, [this](bool on) {
    if (session_.machine().bench()) session_.machine().bench()->set_clip(on);
    refresh();
  });
  row->addWidget(clip_);
  plate_ = new QComboBox(this);
  plate_->setObjectName("tray-plate");
  plate_->setAccessibleName(tr("Touch plate"));
  plate_->addItems({tr("Plate put away"), tr("Plate on the stock"), tr("Plate on the bed"), tr("Plate on the corner"),
                    tr("Plate held to the tool")});
  connect(plate_, &QComboBox::activated, this, [this](int place) {
    if (session_.machine().bench()) session_.machine().bench()->lay_plate(static_cast<PlatePlace>(place));
  });
  row->addWidget(plate_);
  row->addSpacing(10);
  row->addWidget(make_label("tray-switches", "small", tr("Press switch"), this));
  for (const Axis a : all_axes) {
    auto* button = chip(QByteArray("tray-switch-").append(letter(a)).constData(), QString(QChar(letter(a))),
                        tr("Holds %1's switch down with a finger").arg(QChar(letter(a))), true);
    connect(button, &QPushButton::clicked, this, [this, a](bool on) {
      if (session_.machine().bench()) session_.machine().bench()->hold_switch(a, on);
    });
    switches_[index(a)] = button;
    row->addWidget(button);
  }
  row->addSpacing(10);
  stop_ = chip("tray-stop", tr("Emergency stop"), tr("Presses it; press again to release"), true);
  connect(stop_, &QPushButton::clicked, this, [this](bool on) {
    if (session_.machine().bench()) session_.machine().bench()->press_emergency_stop(on);
  });
  row->addWidget(stop_);
  row->addStretch();
}

void Tray::make_instruments(QHBoxLayout* row) {
  lay_ = chip("tray-clamp", tr("Lay a clamp in the way"), tr("60 mm to the right of the tool"), false);
  connect(lay_, &QPushButton::clicked, this, [this] {
    if (!session_.machine().bench()) return;
    const MachinePosition& at = session_.machine().status().position;
    session_.machine().bench()->lay_clamp(at.x + clamp_ahead_mm, at.y);
    refresh();
  });
  row->addWidget(lay_);
  away_ = chip("tray-clamps-away", tr("Take clamps away"), tr("All of them"), false);
  connect(away_, &QPushButton::clicked, this, [this] {
    if (session_.machine().bench()) session_.machine().bench()->take_clamps_away();
    refresh();
  });
  row->addWidget(away_);
  row->addSpacing(10);
  nose_word_ = make_label("tray-nose-word", "small", tr("Nose at"), this);
  row->addWidget(nose_word_);
  nose_ = new QDoubleSpinBox(this);
  nose_->setObjectName("tray-nose");
  nose_->setAccessibleName(tr("What the depth nose is turned to"));
  nose_->setDecimals(1);
  nose_->setRange(-1000, 1000);
  nose_->setKeyboardTracking(false);
  connect(nose_, &QDoubleSpinBox::valueChanged, this, [this](double tick) {
    if (session_.machine().bench()) session_.machine().bench()->turn_nose(tick);
  });
  row->addWidget(nose_);
  instrument_ = new QComboBox(this);
  instrument_->setObjectName("tray-instrument");
  instrument_->setAccessibleName(tr("Instrument"));
  row->addWidget(instrument_);
  axis_ = new QComboBox(this);
  axis_->setObjectName("tray-axis");
  axis_->setAccessibleName(tr("Axis it lies along"));
  for (const Axis a : all_axes) axis_->addItem(tr("along %1").arg(QChar(letter(a))));
  row->addWidget(axis_);
  auto* mark = chip("tray-mark", tr("Mark"), tr("Puts a mark where the axis now is"), false);
  connect(mark, &QPushButton::clicked, this, [this] {
    if (session_.machine().bench()) session_.machine().bench()->mark(axis());
    reading_->setText(tr("marked; move, then read"));
  });
  row->addWidget(mark);
  auto* button = chip("tray-read", tr("Read"), tr("Reads the distance from the mark, as a person would"), false);
  connect(button, &QPushButton::clicked, this, &Tray::read);
  row->addWidget(button);
  reading_ = make_label("tray-reading", "strong", "", this);
  reading_->setWordWrap(false);
  row->addWidget(reading_, 1);
  speed_ = new QComboBox(this);
  speed_->setObjectName("tray-speed");
  speed_->setAccessibleName(tr("Speed of the simulated clock"));
  speed_->addItems({tr("Speed as in life"), tr("20 times as fast"), tr("As fast as it goes")});
  connect(speed_, &QComboBox::activated, this,
          [this](int i) { session_.machine().connection()->set_speed(speeds[i]); });
  row->addWidget(speed_);
}

Axis Tray::axis() const {
  return all_axes[static_cast<std::size_t>(std::max(0, axis_->currentIndex()))];
}

void Tray::read() {
  const QString instrument = instrument_->currentText();
  session_.machine().look(
      this, [axis = axis(), name = instrument.toStdString()](Bench& b) { return b.read_distance(axis, name); },
      [this, instrument](double read) {
        const auto unit = session_.editor().unit();
        reading_->setText(tr("%1: %2 %3").arg(instrument, to_q(format_length(read, unit, 3)), to_q(unit_name(unit))));
      });
}

void Tray::refresh() {
  Bench* bench = session_.machine().bench();
  if (!bench || !isVisible()) return;
  const Surroundings s = bench->surroundings();
  if (s == shown_ && instrument_->count() > 0) return;
  shown_ = s;
  clip_->setChecked(s.clip_on);
  plate_->setCurrentIndex(static_cast<int>(s.plate));
  for (const Axis a : all_axes) switches_[index(a)]->setChecked(s.switch_held[index(a)]);
  stop_->setChecked(s.emergency_stop_pressed);
  nose_word_->setVisible(s.nose_tick.has_value());
  nose_->setVisible(s.nose_tick.has_value());
  if (s.nose_tick && !nose_->hasFocus()) {
    const QSignalBlocker quiet(nose_);
    nose_->setValue(*s.nose_tick);
  }
  away_->setEnabled(!s.clamps.empty());
  for (int i = 0; i < 3; ++i)
    if (speeds[i] == s.speed) speed_->setCurrentIndex(i);
  if (instrument_->count() != static_cast<int>(s.instruments.size())) {
    instrument_->clear();
    for (const auto& name : s.instruments) instrument_->addItem(to_q(name));
  }
}

}  // namespace ypsi::app
