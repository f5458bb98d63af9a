#include "app/widgets/wrapped_row.h"

#include <QLabel>
#include <algorithm>

namespace ypsi::app {
namespace {

bool is_word(const QLayoutItem& item) {
  return qobject_cast<QLabel*>(item.widget()) != nullptr;
}

}  // namespace

WrappedRow::~WrappedRow() = default;

void WrappedRow::addItem(QLayoutItem* item) {
  if (auto* word = qobject_cast<QLabel*>(item->widget())) word->setWordWrap(false);
  items_.emplace_back(item);
}

void WrappedRow::addSpacing(int px) {
  items_.push_back(std::make_unique<QSpacerItem>(px, 0));
}

QLayoutItem* WrappedRow::itemAt(int i) const {
  return i >= 0 && i < count() ? items_[static_cast<std::size_t>(i)].get() : nullptr;
}

QLayoutItem* WrappedRow::takeAt(int i) {
  if (i < 0 || i >= count()) return nullptr;
  QLayoutItem* taken = items_[static_cast<std::size_t>(i)].release();
  items_.erase(items_.begin() + i);
  return taken;
}

std::vector<WrappedRow::Group> WrappedRow::groups() const {
  std::vector<Group> all;
  bool goes_on = false;
  for (const auto& item : items_) {
    if (item->isEmpty() && item->widget()) continue;  // hidden
    if (!goes_on) all.emplace_back();
    all.back().push_back(item.get());
    goes_on = is_word(*item);
  }
  return all;
}

int WrappedRow::width_of(const Group& group) const {
  int width = gap() * (static_cast<int>(group.size()) - 1);
  for (const QLayoutItem* item : group) width += item->sizeHint().width();
  return width;
}

QSize WrappedRow::sizeHint() const {
  int width = -gap(), height = 0;
  for (const Group& group : groups()) {
    width += width_of(group) + gap();
    for (const QLayoutItem* item : group) height = std::max(height, item->sizeHint().height());
  }
  return {std::max(0, width), height};
}

QSize WrappedRow::minimumSize() const {
  int width = 0, height = 0;
  for (const Group& group : groups()) {
    width = std::max(width, width_of(group));
    for (const QLayoutItem* item : group) height = std::max(height, item->sizeHint().height());
  }
  return {width, height};
}

void WrappedRow::setGeometry(const QRect& room) {
  QLayout::setGeometry(room);
  const int needed = heightForWidth(room.width());
  lay(room.adjusted(0, std::max(0, (room.height() - needed) / 2), 0, 0), true);
}

int WrappedRow::lay(const QRect& room, bool place) const {
  int top = room.top(), height = 0, used = 0;
  std::vector<std::pair<QLayoutItem*, int>> row;  // with its left edge
  const auto end_row = [&] {
    for (const auto& [item, left] : row)
      if (place) {
        const QSize size = item->sizeHint();
        item->setGeometry({{left, top + (height - size.height()) / 2}, size});
      }
    row.clear();
  };
  for (const Group& group : groups()) {
    const int width = width_of(group);
    if (!row.empty() && used + width > room.width()) {
      end_row();
      top += height + gap();
      height = used = 0;
    }
    for (QLayoutItem* item : group) {
      row.emplace_back(item, room.left() + used);
      used += item->sizeHint().width() + gap();
      height = std::max(height, item->sizeHint().height());
    }
  }
  end_row();
  return top + height - room.top();
}

}  // namespace ypsi::app
