#include "app/sheets/sheet_pages.h"

#include <QButtonGroup>
#include <algorithm>

#include "app/sheets/sheet.h"

namespace ypsi::app {

SheetPages::SheetPages(Sheet* sheet, const QString& prefix, QLayout* chips)
    : QStackedWidget(sheet),
      sheet_(sheet),
      prefix_(prefix),
      chips_(chips ? chips : sheet->title_row()),
      group_(new QButtonGroup(this)) {}

QPushButton* SheetPages::add(const QString& part, const QString& title, const QString& tip, QWidget* page) {
  QPushButton* chip = make_chip(prefix_ + part, title, tip, sheet_, group_);
  connect(chip, &QPushButton::clicked, sheet_, [this, part] { sheet_->show_part(part); });
  chips_->addWidget(chip);
  put(part, chip, page);
  return chip;
}

void SheetPages::add_under(const QString& part, const QString& other, QWidget* page) {
  put(part, chip(other), page);
}

void SheetPages::put(const QString& part, QPushButton* chip, QWidget* page) {
  if (parts_.empty()) {
    part_ = part;
    chip->setChecked(true);
  }
  parts_.push_back({part, chip, page});
  if (indexOf(page) < 0) addWidget(page);
  ask_for_the_room_of_one();
}

void SheetPages::ask_for_the_room_of_one() {
  for (int i = 0; i < count(); ++i) {
    const auto policy = i == currentIndex() ? QSizePolicy::Preferred : QSizePolicy::Ignored;
    widget(i)->setSizePolicy(policy, policy);
  }
}

bool SheetPages::turn_to(const QString& part) {
  const Part* to = find(part);
  if (!to) return false;
  to->chip->setChecked(true);
  if (part == part_) return true;
  if (to->page != currentWidget()) emit leaving();
  part_ = part;
  setCurrentWidget(to->page);
  ask_for_the_room_of_one();
  return true;
}

QPushButton* SheetPages::chip(const QString& part) const {
  const Part* of = find(part);
  return of ? of->chip : nullptr;
}

const SheetPages::Part* SheetPages::find(const QString& part) const {
  const auto at = std::find_if(parts_.begin(), parts_.end(), [&](const Part& p) { return p.name == part; });
  return at == parts_.end() ? nullptr : &*at;
}

}  // namespace ypsi::app
