#include "app/sheets/axis_chips.h"

#include <QButtonGroup>
#include <QHBoxLayout>

#include "app/sheets/sheet.h"

namespace ypsi::app {

AxisChips::AxisChips(QWidget* parent) : QWidget(parent) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  group_ = new QButtonGroup(this);
  for (const Axis a : all_axes) {
    auto* chip = make_button(QString("axis-%1").arg(QChar(letter(a))).toLower(), QString(QChar(letter(a))),
                             tr("Axis %1 (Alt+%1)").arg(QChar(letter(a))), this);
    chip->setProperty("chip", true);
    chip->setCheckable(true);
    chip->setFixedWidth(40);
    chip->setShortcut(QKeySequence(QString("Alt+%1").arg(QChar(letter(a)))));
    group_->addButton(chip, static_cast<int>(index(a)));
    row->addWidget(chip);
  }
  group_->button(0)->setChecked(true);
  connect(group_, &QButtonGroup::idClicked, this, [this](int i) { emit chosen(static_cast<Axis>(i)); });
}

void AxisChips::choose(Axis axis) {
  group_->button(static_cast<int>(index(axis)))->click();
}

}  // namespace ypsi::app
