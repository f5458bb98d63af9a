#include "app/sheets/build/axis_page.h"

#include <QGridLayout>
#include <QLabel>

#include "app/drawing/drive_section.h"
#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr int full_steps = 0, microsteps = 1, gears = 2, first_figure = 3, second_figure = 4;
constexpr double drive_field_px = 84;
constexpr int drive_field_high = 28;

bool has_two(const Transmission& t) {
  return std::holds_alternative<Belt>(t) || std::holds_alternative<Rack>(t);
}

}  // namespace

DriveDrawing::DriveDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("drive-drawing");
  setAccessibleName(AxisPage::tr("The drive in section"));
  setFixedHeight(164);
  const std::pair<const char*, QString> names[] = {{"full-steps", AxisPage::tr("Full steps of the motor in one turn")},
                                                   {"microsteps", AxisPage::tr("Microsteps of the driver")},
                                                   {"gear-ratio", AxisPage::tr("Turns of the motor for one turn of the "
                                                                               "output")},
                                                   {"transmission-1", ""},
                                                   {"transmission-2", ""}};
  for (std::size_t i = 0; i < fields_.size(); ++i) {
    fields_[i] = new LengthField(names[i].first, names[i].second, this);
    fields_[i]->setFixedWidth(static_cast<int>(drive_field_px));
    fields_[i]->set_unit(LengthUnit::none);
  }
  kind_ = new QComboBox(this);
  kind_->setObjectName("transmission");
  kind_->setAccessibleName(AxisPage::tr("What turns into travel"));
  kind_->addItems({AxisPage::tr("Screw"), AxisPage::tr("Belt"), AxisPage::tr("Rack"), AxisPage::tr("Rotary")});
  kind_->setFixedWidth(110);
}

QRectF DriveDrawing::box() const {
  return {6, 42, width() - 14.0, 84};
}

void DriveDrawing::show(const DriveTrain& drive) {
  drive_ = drive;
  const auto set = [&](int i, double value, int decimals) {
    fields_[static_cast<std::size_t>(i)]->set_decimals(decimals);
    fields_[static_cast<std::size_t>(i)]->show_value(value);
  };
  set(full_steps, drive.full_steps_per_rev, 0);
  set(microsteps, drive.microsteps, 0);
  set(gears, drive.gear_ratio, 3);
  kind_->setCurrentIndex(static_cast<int>(drive.transmission.index()));
  auto *one = fields_[first_figure], *two = fields_[second_figure];
  one->setVisible(!is_rotary(drive.transmission));
  two->setVisible(has_two(drive.transmission));
  one->set_unit(LengthUnit::millimetre);
  if (const auto* s = std::get_if<Screw>(&drive.transmission)) set(first_figure, s->lead_mm, 3);
  if (const auto* b = std::get_if<Belt>(&drive.transmission))
    set(first_figure, b->pitch_mm, 3), set(second_figure, b->teeth, 0);
  if (const auto* r = std::get_if<Rack>(&drive.transmission))
    set(first_figure, r->module_mm, 3), set(second_figure, r->teeth, 0);
  resizeEvent(nullptr);
  update();
}

void DriveDrawing::resizeEvent(QResizeEvent*) {
  const DriveParts parts = drive_parts(box());
  const auto at = [&](int i, double x, double y) {
    fields_[static_cast<std::size_t>(i)]->move(static_cast<int>(x), static_cast<int>(y));
  };
  const int more = fields_[full_steps]->height() - drive_field_high, low = 132 + more;
  at(full_steps, 6, 10);
  if (width() < 600) {  // a row more, below the drawing
    setFixedHeight(198 + 3 * more);
    at(microsteps, 200, 10);
    kind_->move(6, low);
    at(first_figure, 170, low);
    at(second_figure, 310, low);
    at(gears, 6, low + 34 + more);
    return;
  }
  setFixedHeight(164 + 2 * more);
  at(microsteps, 6, low);
  at(gears, 6 + drive_field_px + 104, low);
  const double x = parts.transmission.left() + 100;
  kind_->move(static_cast<int>(x), 10);
  at(first_figure, x + 190, 10);
  at(second_figure, x + 350, 10);
}

void DriveDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  draw_drive(draft, box(), drive_);
  const auto word = [&](int i, const QString& text, bool before = false) {
    const auto* f = fields_[static_cast<std::size_t>(i)];
    if (before)
      draft.text({f->x() - 7.0, f->y() + 19.0}, text, theme().second_ink, 11, false, Qt::AlignRight);
    else
      draft.text({f->x() + f->width() + 6.0, f->y() + 19.0}, text, theme().second_ink, 11);
  };
  word(full_steps, AxisPage::tr("steps a turn"));
  word(microsteps, AxisPage::tr("microsteps"));
  word(gears, AxisPage::tr("motor turns for one of the output"));
  if (std::holds_alternative<Screw>(drive_.transmission)) word(first_figure, AxisPage::tr("lead"), true);
  if (std::holds_alternative<Belt>(drive_.transmission)) {
    word(first_figure, AxisPage::tr("pitch"), true);
    word(second_figure, AxisPage::tr("teeth"), true);
  }
  if (std::holds_alternative<Rack>(drive_.transmission)) {
    word(first_figure, AxisPage::tr("module"), true);
    word(second_figure, AxisPage::tr("teeth"), true);
  }
}

AxisPage::AxisPage(BuildDraft& draft, Axis axis) : BuildPage(draft), axis_(axis) {
  setObjectName(QString("build-page-%1").arg(QChar(letter(axis))).toLower());
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  drawing_ = new DriveDrawing(this);
  column->addWidget(drawing_);
  computed_ = make_label("computed", "strong", "", this);
  column->addWidget(computed_);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(10);
  grid->setVerticalSpacing(3);
  const auto field = [&](int at, const char* name, const QString& word, const QString& what) {
    auto* f = new LengthField(name, what, this);
    f->set_decimals(1);
    auto* label = make_label("word", "small", word, this);
    label->setWordWrap(false);
    grid->addWidget(label, at / 3 * 2, at % 3, Qt::AlignBottom);
    grid->addWidget(f, at / 3 * 2 + 1, at % 3);
    return f;
  };
  home_end_ = new QComboBox(this);
  home_end_->setObjectName("home-end");
  home_end_->setAccessibleName(tr("Which end has the switch"));
  home_end_->addItems({tr("at the − end"), tr("at the + end"), tr("none: by hand, − end"), tr("none: by hand, + end")});
  home_end_->setToolTip(
      tr("Without a switch you bring the axis to a mark or a stop and set its position there; it holds until the power "
         "goes"));
  grid->addWidget(make_label("word", "small", tr("Home switch"), this), 0, 0, Qt::AlignBottom);
  grid->addWidget(home_end_, 1, 0);
  home_at_ = field(1, "home-coordinate", tr("Position there"), tr("Machine position at the switch"));
  travel_ = field(2, "travel", tr("Travel"), tr("From the switch to the far stop"));
  rate_ = field(3, "max-rate", tr("Fastest, a minute"), tr("Fastest rate, a minute"));
  acceleration_ = field(4, "acceleration", tr("Acceleration, a s²"), tr("Acceleration, a second squared"));
  column->addLayout(grid);
  column->addStretch(1);

  connect(drawing_->kind(), &QComboBox::activated, this, &AxisPage::set_transmission);
  const auto drive = [&](int i, void (*set)(DriveTrain&, double)) {
    connect(drawing_->field(static_cast<std::size_t>(i)), &LengthField::committed, this, [this, set](double v) {
      draft_.change_drive(axis_, [&](DriveTrain& d) { set(d, v); });
      refresh();  // a figure that cannot be goes back to what it was
    });
  };
  drive(full_steps, [](DriveTrain& d, double v) { d.full_steps_per_rev = v; });
  drive(microsteps, [](DriveTrain& d, double v) { d.microsteps = v; });
  drive(gears, [](DriveTrain& d, double v) { d.gear_ratio = v; });
  drive(first_figure, [](DriveTrain& d, double v) {
    if (auto* s = std::get_if<Screw>(&d.transmission)) s->lead_mm = v;
    if (auto* b = std::get_if<Belt>(&d.transmission)) b->pitch_mm = v;
    if (auto* r = std::get_if<Rack>(&d.transmission)) r->module_mm = v;
  });
  drive(second_figure, [](DriveTrain& d, double v) {
    if (auto* b = std::get_if<Belt>(&d.transmission)) b->teeth = v;
    if (auto* r = std::get_if<Rack>(&d.transmission)) r->teeth = v;
  });
  connect(home_end_, &QComboBox::activated, this, [this](int end) {
    draft_.change(tr("Change the home end of %1").arg(QChar(letter(axis_))), [&](MachineSetup& m) {
      m.axis(axis_).home_at_max = end % 2 == 1;
      m.axis(axis_).zero_by_hand = end >= 2;
    });
  });
  const auto plain = [&](LengthField* f, auto AxisSetup::*into, const QString& text, bool above_zero) {
    connect(f, &LengthField::committed, this, [this, into, text, above_zero](double v) {
      if (above_zero && !(v > 0)) {
        session().notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it is."), {}});
        refresh();
        return;
      }
      draft_.change(text, [&](MachineSetup& m) { m.axis(axis_).*into = v; });
    });
  };
  const QString name(QChar(letter(axis)));
  plain(home_at_, &AxisSetup::home_coordinate, tr("Change the position of %1 at its switch").arg(name), false);
  plain(travel_, &AxisSetup::travel, tr("Change the travel of %1").arg(name), true);
  plain(rate_, &AxisSetup::max_rate, tr("Change the fastest rate of %1").arg(name), true);
  plain(acceleration_, &AxisSetup::acceleration, tr("Change the acceleration of %1").arg(name), true);
  for (auto* f : findChildren<LengthField*>())
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session().notices().notify({NoticeLevel::attention, why, {}});
    });
}

void AxisPage::set_transmission(int kind) {
  draft_.change_drive(axis_, [&](DriveTrain& d) {
    if (static_cast<int>(d.transmission.index()) == kind) return;
    switch (kind) {
      case 0:
        d.transmission = Screw{4};
        break;
      case 1:
        d.transmission = Belt{2, 20};
        break;
      case 2:
        d.transmission = Rack{1, 20};
        break;
      default:
        d.transmission = Rotary{};
    }
  });
}

void AxisPage::refresh() {
  const AxisSetup& axis = setup();
  const bool rotary = is_rotary(axis.drive.transmission);
  const LengthUnit unit = rotary ? LengthUnit::degree : session().editor().unit();
  drawing_->show(axis.drive);
  home_end_->setCurrentIndex((axis.home_at_max ? 1 : 0) + (axis.zero_by_hand ? 2 : 0));
  for (auto* f : {home_at_, travel_, rate_, acceleration_}) f->set_unit(unit);
  home_at_->show_value(axis.home_coordinate);
  travel_->show_value(axis.travel);
  rate_->show_value(axis.max_rate);
  acceleration_->show_value(axis.acceleration);
  const auto by_drive = steps_per_unit(axis.drive);
  if (!by_drive) {
    computed_->setText(to_q(by_drive.error().message));
    return;
  }
  const QString per = rotary ? tr("degree") : tr("mm"), small = rotary ? "°" : "mm";
  QString words = tr("%1 steps per %2 by the drive; one step is %3 %4")
                      .arg(to_q(format_number(by_drive->steps_per_unit, 3)), per)
                      .arg(by_drive->unit_per_step, 0, 'f', 5)
                      .arg(small);
  if (std::fabs(axis.steps_per_mm / by_drive->steps_per_unit - 1) > 1e-6)
    words += tr(" (in use: %1)").arg(to_q(format_number(axis.steps_per_mm, 3)));
  computed_->setText(words);
}

}  // namespace ypsi::app
