#include "app/sheets/build/bed_page.h"

#include <QHeaderView>
#include <algorithm>
#include <array>

#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/wrapped_row.h"
#include "core/procedures/homing_order.h"

namespace ypsi::app {
namespace {

enum ZoneColumn { zone_name, zone_x, zone_y, zone_width, zone_depth };
constexpr int zone_numbers = 4;
constexpr double whole_percent = 100;
constexpr int arming_px = 200;

QStringList list_of(const std::vector<std::string>& words) {
  QStringList all;
  for (const auto& word : words) all << to_q(word);
  return all;
}

/// Every order of three axes; the usual one first.
const std::vector<std::array<Axis, axis_count>>& home_orders() {
  static const std::vector<std::array<Axis, axis_count>> all{{Axis::z, Axis::x, Axis::y}, {Axis::z, Axis::y, Axis::x},
                                                             {Axis::x, Axis::y, Axis::z}, {Axis::x, Axis::z, Axis::y},
                                                             {Axis::y, Axis::x, Axis::z}, {Axis::y, Axis::z, Axis::x}};
  return all;
}

std::array<double, zone_numbers> numbers_of(const VacuumZone& z) {
  return {z.x_mm.mm, z.y_mm.mm, z.width_mm, z.depth_mm};
}

}  // namespace

BedBuildPage::BedBuildPage(BuildDraft& draft) : BuildPage(draft) {
  setObjectName("build-page-bed");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* before = new WrappedRow;
  before->addWidget(make_label("word", "small", tr("Switched on first"), this));
  arming_ = new QLineEdit(this);
  arming_->setObjectName("arming");
  arming_->setAccessibleName(tr("What is switched on before the first move, in its order, with commas between"));
  arming_->setToolTip(arming_->accessibleName());
  arming_->setPlaceholderText(tr("air, drives, reset"));
  arming_->setFixedWidth(arming_px);
  before->addWidget(arming_);
  before->addWidget(make_label("word", "small", tr("Homed in the order"), this));
  order_ = new QComboBox(this);
  order_->setObjectName("home-order");
  order_->setAccessibleName(tr("In which order the axes are homed"));
  order_->setToolTip(tr("Z first lifts what hangs down before anything goes across the bed"));
  for (const auto& order : home_orders()) {
    QStringList axes;
    for (const Axis a : order) axes << QString(QChar(letter(a)));
    order_->addItem(axes.join(", "));
  }
  before->addWidget(order_);
  column->addLayout(before);
  table_ = make_table("build-zones", tr("Zones of the vacuum bed, each with a valve of its own"),
                      {tr("Zone"), tr("Corner X"), tr("Corner Y"), tr("Along X"), tr("Along Y")}, zone_name, 28, this);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  for (const ZoneColumn at : {zone_x, zone_y})
    table_->horizontalHeaderItem(at)->setToolTip(tr("Its front left corner, machine coordinates"));
  column->addWidget(table_, 1);
  auto* settings = new WrappedRow;
  const auto number = [&](const char* name, const QString& word, const QString& what, int decimals) {
    LengthField* field = add_field(settings, name, word, what, decimals, session(), this).field;
    field->set_unit(LengthUnit::none);
    field->setFixedWidth(64);
    return field;
  };
  pressure_ = number("vacuum-pressure", tr("Below the air, kPa"), tr("As its gauge shows with the zones covered"), 1);
  friction_ = number("vacuum-friction", tr("Friction"), tr("Between stock and bed; 0.3 where nobody knows"), 2);
  share_ = number("zone-share", tr("Open from, %"), tr("How much of a zone must be covered to open its valve"), 0);
  smallest_ = number("smallest-piece", tr("Smallest piece, cm²"),
                     tr("A smaller one that is cut free is held by tabs or tape; 0: not said"), 0);
  column->addLayout(settings);
  auto* acts = new WrappedRow;
  add_ = make_button("zone-add", tr("Add a zone"), tr("One more zone, beside the last"), this);
  here_ = make_button("zone-here", tr("Its corner is here"),
                      tr("The chosen zone's front left corner is where the first head stands"), this);
  remove_ = make_button("zone-remove", tr("Take it out"), tr("Takes the chosen zone out"), this);
  for (QPushButton* b : {add_, here_, remove_}) acts->addWidget(b);
  column->addLayout(acts);

  connect(arming_, &QLineEdit::editingFinished, this, [this] {
    std::vector<std::string> acts_in_order;
    for (const QString& each : arming_->text().split(',', Qt::SkipEmptyParts))
      if (!each.trimmed().isEmpty()) acts_in_order.push_back(each.trimmed().toStdString());
    if (acts_in_order != draft_.machine().arming)
      draft_.change(tr("Say what is switched on first"), [&](MachineSetup& m) { m.arming = acts_in_order; });
  });
  connect(order_, &QComboBox::activated, this, [this](int at) {
    draft_.change(tr("Say in which order the axes are homed"), [&](MachineSetup& m) {
      const auto& order = home_orders()[static_cast<std::size_t>(at)];
      for (std::size_t i = 0; i < order.size(); ++i) m.axis(order[i]).home_turn = static_cast<int>(i) + 1;
    });
  });
  connect(add_, &QPushButton::clicked, this, [this] {
    change(tr("Add a zone"), [](VacuumBed& b) {
      VacuumZone zone;
      if (!b.zones.empty()) {
        zone = b.zones.back();
        zone.x_mm = zone.x_mm.mm + zone.width_mm;
      }
      zone.name = tr("zone %1").arg(b.zones.size() + 1).toStdString();
      b.zones.push_back(std::move(zone));
    });
  });
  connect(here_, &QPushButton::clicked, this, &BedBuildPage::corner_here);
  connect(remove_, &QPushButton::clicked, this, [this] {
    if (const int at = table_->currentRow(); at >= 0)
      change(tr("Take a zone out"), [at](VacuumBed& b) { b.zones.erase(b.zones.begin() + at); });
  });
  connect(table_, &QTableWidget::itemSelectionChanged, this, &BedBuildPage::refresh_status);
  connect(table_, &QTableWidget::cellChanged, this, [this](int row) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row] { take(row); }, Qt::QueuedConnection);
  });
  const auto takes = [this](LengthField* field, double VacuumBed::*into, double scale, double least, double most) {
    connect(field, &LengthField::committed, this, [this, into, scale, least, most](double value) {
      if (value < least || value > most) {
        session().notices().notify(
            {NoticeLevel::attention, tr("It goes from %1 to %2; it was left as it is.").arg(least).arg(most), {}});
        return refresh();
      }
      change(tr("Change what holds the stock"), [&](VacuumBed& b) { b.*into = value / scale; });
    });
  };
  takes(pressure_, &VacuumBed::pressure_kPa, 1, 0, 101);
  takes(friction_, &VacuumBed::friction, 1, 0.01, 5);
  takes(share_, &VacuumBed::open_share, whole_percent, 0, whole_percent);
  takes(smallest_, &VacuumBed::smallest_piece_cm2, 1, 0, 1e6);
}

const VacuumBed& BedBuildPage::bed() {
  return session().editor().book().machine.vacuum;
}

void BedBuildPage::change(const QString& text, const std::function<void(VacuumBed&)>& how) {
  session().editor().change_book(
      text, [&](Book& b) { how(b.machine.vacuum); }, MachineFollows::no);
}

void BedBuildPage::corner_here() {
  const int at = table_->currentRow();
  if (at < 0 || !session().machine().must_be_there()) return;
  const MachineStatus& status = session().machine().status();
  if (!status.all_homed()) {
    session().notices().notify(
        {NoticeLevel::attention, tr("Home the machine first: before that it does not know where the head is."), {}});
    return;
  }
  change(tr("Take a zone's corner"), [&](VacuumBed& b) {
    VacuumZone& zone = b.zones[static_cast<std::size_t>(at)];
    zone.x_mm = status.position.x;
    zone.y_mm = status.position.y;
  });
}

void BedBuildPage::take(int row) {
  const auto at = static_cast<std::size_t>(row);
  if (at >= bed().zones.size()) return;
  const VacuumZone& was = bed().zones[at];
  QString why;
  const std::string name = table_->item(row, zone_name)->text().trimmed().toStdString();
  if (name.empty()) why = tr("A zone needs a name.");
  for (std::size_t i = 0; i < bed().zones.size(); ++i)
    if (i != at && bed().zones[i].name == name) why = tr("There is a zone of that name already.");
  std::array<double, zone_numbers> mm = numbers_of(was);
  const auto before = mm;
  for (int n = 0; n < zone_numbers; ++n) {
    const QString text = table_->item(row, n + 1)->text();
    auto& value = mm[static_cast<std::size_t>(n)];
    if (text == to_q(format_length(value, session().editor().unit(), 1))) continue;  // as it was shown
    const auto typed = parse_length(text.toStdString(), session().editor().unit());
    if (!typed) why = to_q(typed.error().message);
    value = typed.value_or(value);
  }
  if (!(mm[2] > 0 && mm[3] > 0)) why = tr("A zone's size must be above zero.");
  if (!why.isEmpty()) {
    session().notices().notify({NoticeLevel::attention, tr("%1 It was left as it is.").arg(why), {}});
    return refresh();
  }
  if (name == was.name && mm == before) return;
  change(tr("Change a zone"), [&](VacuumBed& b) { b.zones[at] = {name, mm[0], mm[1], mm[2], mm[3]}; });
}

void BedBuildPage::refresh() {
  showing_ = true;
  const int was = table_->currentRow();
  table_->setRowCount(static_cast<int>(bed().zones.size()));
  for (std::size_t i = 0; i < bed().zones.size(); ++i) {
    const int row = static_cast<int>(i);
    table_->setItem(row, zone_name, new QTableWidgetItem(to_q(bed().zones[i].name)));
    const auto mm = numbers_of(bed().zones[i]);
    for (int n = 0; n < zone_numbers; ++n)
      table_->setItem(
          row, n + 1,
          new QTableWidgetItem(to_q(format_length(mm[static_cast<std::size_t>(n)], session().editor().unit(), 1))));
  }
  if (was >= 0 && was < table_->rowCount()) table_->selectRow(was);
  showing_ = false;
  std::array<int, axis_count> turns{};
  for (const Axis a : all_axes) turns[index(a)] = draft_.machine().axis(a).home_turn;
  const auto here = std::find(home_orders().begin(), home_orders().end(), homing_order(turns));
  order_->setCurrentIndex(static_cast<int>(here - home_orders().begin()));
  if (!arming_->hasFocus() || !arming_->isModified()) arming_->setText(list_of(draft_.machine().arming).join(", "));
  pressure_->show_value(bed().pressure_kPa > 0 ? std::optional(bed().pressure_kPa) : std::nullopt);
  friction_->show_value(bed().friction);
  share_->show_value(bed().open_share * whole_percent);
  smallest_->show_value(bed().smallest_piece_cm2);
  refresh_status();
}

void BedBuildPage::refresh_status() {
  const bool chosen = table_->currentRow() >= 0, writable = !session().editor().read_only();
  add_->setEnabled(writable);
  here_->setEnabled(chosen && writable);
  remove_->setEnabled(chosen && writable);
}

}  // namespace ypsi::app
