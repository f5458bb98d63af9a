#include "app/sheets/build/spindle_page.h"

#include <QHeaderView>
#include <QLabel>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr double longest_spin_up_s = 60;
constexpr int dial_height_px = 320;
constexpr int beside_from_px = 520;  // a narrower page has the dial below what is typed
}  // namespace

DialDrawing::DialDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("dial-drawing");
  setAccessibleName(SpindlePage::tr("The spindle's speed dial"));
  setMinimumSize(250, 190);
}

void DialDrawing::show(std::vector<DialPoint> points, std::optional<double> pointer) {
  points_ = std::move(points);
  pointer_ = pointer;
  update();
}

void DialDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QPointF c(width() / 2.0, height() / 2.0 + 8);
  const double r = std::min(width() / 2.0 - 60, height() / 2.0 - 30);
  painter.setPen(QPen(theme().ink, 1.8));
  painter.setBrush(theme().paper);
  painter.drawEllipse(c, r, r);
  painter.setBrush(Qt::NoBrush);
  if (points_.empty()) {
    draft.text(c + QPointF(0, 4), SpindlePage::tr("no dial entered"), theme().second_ink, 12, false, Qt::AlignHCenter);
    return;
  }
  const auto ends = std::minmax_element(points_.begin(), points_.end(),
                                        [](const auto& a, const auto& b) { return a.position < b.position; });
  const double low = ends.first->position;
  const double span = std::max(1e-9, ends.second->position - low);
  // From lower left, over the top, to lower right, as such knobs turn.
  const auto way = [&](double position) {
    const double a = std::numbers::pi * (1.25 - 1.5 * (position - low) / span);
    return QPointF(std::cos(a), -std::sin(a));
  };
  for (const auto& p : points_) {
    const QPointF d = way(p.position);
    draft.line(c + d * (r - 7), c + d * r, theme().ink, 1.8);
    draft.text(c + d * (r - 19) + QPointF(0, 5), QString::number(p.position), theme().ink, 12, true, Qt::AlignHCenter);
    draft.text(c + d * (r + 8) + QPointF(0, 4), QString::number(p.rpm, 'f', 0), theme().second_ink, 11, false,
               d.x() > 0.2    ? Qt::AlignLeft
               : d.x() < -0.2 ? Qt::AlignRight
                              : Qt::AlignHCenter);
  }
  if (pointer_) {
    const QPointF d = way(*pointer_);
    draft.line(c, c + d * (r - 30), theme().teal, 4);
    draft.arrow_head(c + d * (r - 27), d, theme().teal, 13);
  }
}

SpindlePage::SpindlePage(BuildDraft& draft) : BuildPage(draft) {
  setObjectName("build-page-spindle");
  across_ = new QHBoxLayout(this);
  across_->setContentsMargins(0, 0, 0, 0);
  across_->setSpacing(18);
  drawing_ = new DialDrawing(this);
  drawing_->setFixedHeight(dial_height_px);
  across_->addWidget(drawing_, 1);
  across_->setAlignment(drawing_, Qt::AlignTop);
  auto* column = new QVBoxLayout;
  column->setSpacing(6);
  controlled_ = new QCheckBox(tr("The controller sets the speed"), this);
  controlled_->setObjectName("spindle-controlled");
  column->addWidget(controlled_);
  const auto line_of = [&](const QString& words) {
    auto* line = new QHBoxLayout;
    line->addWidget(make_label("word", "small", words, this), 1);
    column->addLayout(line);
    return line;
  };
  const auto field = [&](QHBoxLayout* line, const char* name, const QString& what) {
    auto* f = new LengthField(name, what, this);
    f->set_unit(LengthUnit::none);
    f->set_decimals(0);
    f->setFixedWidth(84);
    f->setToolTip(what);
    line->addWidget(f);
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session().notices().notify({NoticeLevel::attention, why, {}});
    });
    return f;
  };
  auto* speeds = line_of(tr("Fastest, rpm; up in, s"));
  max_ = field(speeds, "spindle-max", tr("The spindle's fastest speed, rpm"));
  spin_up_ = field(speeds, "spin-up", tr("Seconds from standing to full speed, 0: not known"));
  spin_up_->set_decimals(1);
  auto *nut = line_of(tr("Nut ⌀; below nose")), *boot = line_of(tr("Boot ⌀; below nose"));
  const struct {
    QHBoxLayout* line;
    const char* name;
    QString what;
    double Spindle::*value;
  } hanging[] = {{nut, "nut-diameter", tr("Diameter of the collet nut, 0: not known"), &Spindle::nut_diameter},
                 {nut, "nut-length", tr("How far the nut reaches below the nose"), &Spindle::nut_length},
                 {boot, "boot-diameter", tr("Diameter of the dust boot, 0: there is none"), &Spindle::boot_diameter},
                 {boot, "boot-drop", tr("How far the boot reaches below the nose"), &Spindle::boot_drop}};
  for (const auto& h : hanging) {
    auto* f = field(h.line, h.name, h.what);
    f->set_unit(session().editor().unit());
    f->set_decimals(1);
    hanging_.emplace_back(f, h.value);
    connect(f, &LengthField::committed, this, [this, value = h.value](double mm) {
      if (!(mm >= 0)) {
        session().notices().notify(
            {NoticeLevel::attention, tr("That must not be below zero; it was left as it is."), {}});
        return refresh();
      }
      draft_.change(tr("Change what hangs on the spindle"), [&](MachineSetup& m) { m.spindle.*value = mm; });
    });
  }
  table_ = new QTableWidget(0, 2, this);
  table_->setObjectName("dial");
  table_->setAccessibleName(tr("Dial positions and their speeds"));
  table_->setHorizontalHeaderLabels({tr("Dial"), tr("rpm")});
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(21);
  table_->setShowGrid(false);
  column->addWidget(table_, 1);
  auto* acts = new QHBoxLayout;
  add_ = make_button("dial-add", tr("Add a position"), tr("One more position of the dial"), this);
  remove_ = make_button("dial-remove", tr("Take it out"), tr("Takes the chosen position out"), this);
  acts->addWidget(add_);
  acts->addWidget(remove_);
  column->addLayout(acts);
  wanted_ = field(line_of(tr("For a speed of, rpm")), "dial-wanted", tr("A speed to set the dial for, rpm"));
  answer_ = make_label("dial-answer", "strong", "", this);
  column->addWidget(answer_);
  across_->addLayout(column, 1);

  connect(controlled_, &QCheckBox::clicked, this, [this](bool on) {
    draft_.change(tr("Change who sets the speed"), [&](MachineSetup& m) { m.spindle.controlled = on; });
  });
  connect(max_, &LengthField::committed, this, [this](double rpm) {
    if (!(rpm > 0)) {
      session().notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it is."), {}});
      refresh();
      return;
    }
    draft_.change(tr("Change the fastest speed"), [&](MachineSetup& m) { m.spindle.max_rpm = rpm; });
  });
  connect(spin_up_, &LengthField::committed, this, [this](double s) {
    if (!(s >= 0 && s <= longest_spin_up_s)) {
      session().notices().notify(
          {NoticeLevel::attention, tr("That is from 0 to %1 s; it was left as it is.").arg(longest_spin_up_s), {}});
      return refresh();
    }
    draft_.change(tr("Change how long the spindle needs"), [&](MachineSetup& m) { m.spindle.spin_up_s = s; });
  });
  connect(wanted_, &LengthField::committed, this, &SpindlePage::show_wanted);
  connect(table_, &QTableWidget::cellChanged, this, [this] {
    // Not while the editor is still open: the table is about to be filled anew.
    if (!showing_) QMetaObject::invokeMethod(this, &SpindlePage::take_dial, Qt::QueuedConnection);
  });
  connect(add_, &QPushButton::clicked, this, [this] {
    draft_.change(tr("Add a position of the dial"), [](MachineSetup& m) {
      auto& dial = m.spindle.dial;
      const DialPoint last = dial.empty() ? DialPoint{0, 8000} : dial.back();
      dial.push_back({last.position + 1, last.rpm + 4000});
    });
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    const int at = table_->currentRow();
    if (at >= 0)
      draft_.change(tr("Take out a position of the dial"),
                    [at](MachineSetup& m) { m.spindle.dial.erase(m.spindle.dial.begin() + at); });
  });
}

void SpindlePage::resizeEvent(QResizeEvent* event) {
  BuildPage::resizeEvent(event);
  across_->setDirection(width() < beside_from_px ? QBoxLayout::BottomToTop : QBoxLayout::LeftToRight);
}

void SpindlePage::take_dial() {
  std::vector<DialPoint> dial;
  for (int i = 0; i < table_->rowCount(); ++i) {
    const auto number = [&](int column) { return parse_number(table_->item(i, column)->text().toStdString()); };
    const auto position = number(0), rpm = number(1);
    if (!position || !rpm || !(*rpm > 0)) {
      session().notices().notify({NoticeLevel::attention,
                                  tr("Row %1 of the dial: %2")
                                      .arg(i + 1)
                                      .arg(!position ? to_q(position.error().message)
                                           : !rpm    ? to_q(rpm.error().message)
                                                     : tr("a speed must be above zero.")),
                                  {}});
      refresh();
      return;
    }
    dial.push_back({*position, *rpm});
  }
  draft_.change(tr("Change the dial"), [&](MachineSetup& m) { m.spindle.dial = dial; });
}

void SpindlePage::show_wanted() {
  const auto& dial = draft_.machine().spindle.dial;
  std::optional<double> pointer;
  QString words;
  if (wanted_->value() && !dial.empty()) {
    if (const auto position = dial_position(dial, *wanted_->value())) {
      pointer = *position;
      words = tr("Set the dial to %1").arg(*position, 0, 'f', 1);
    } else {
      words = to_q(position.error().message);
    }
  }
  answer_->setText(words);
  drawing_->show(dial, pointer);
}

void SpindlePage::refresh() {
  const Spindle& s = draft_.machine().spindle;
  controlled_->setChecked(s.controlled);
  max_->show_value(s.max_rpm);
  spin_up_->show_value(s.spin_up_s);
  for (const auto& [field, value] : hanging_) {
    field->set_unit(session().editor().unit());
    field->show_value(s.*value);
  }
  showing_ = true;
  table_->setRowCount(static_cast<int>(s.dial.size()));
  for (std::size_t i = 0; i < s.dial.size(); ++i) {
    table_->setItem(static_cast<int>(i), 0, new QTableWidgetItem(QString::number(s.dial[i].position)));
    table_->setItem(static_cast<int>(i), 1, new QTableWidgetItem(QString::number(s.dial[i].rpm, 'f', 0)));
  }
  showing_ = false;
  for (QWidget* w : {static_cast<QWidget*>(table_), static_cast<QWidget*>(add_), static_cast<QWidget*>(remove_),
                     static_cast<QWidget*>(wanted_)})
    w->setEnabled(!s.controlled);
  show_wanted();
}

}  // namespace ypsi::app
