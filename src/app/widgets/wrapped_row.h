#pragma once
// Widgets from left to right, as many in a row as there is room for. A label stays with what it stands before.
#include <QLayout>
#include <algorithm>
#include <memory>
#include <vector>

namespace ypsi::app {

class WrappedRow : public QLayout {
 public:
  ~WrappedRow() override;
  void addItem(QLayoutItem* item) override;
  void addSpacing(int px);
  int count() const override { return static_cast<int>(items_.size()); }
  QLayoutItem* itemAt(int i) const override;
  QLayoutItem* takeAt(int i) override;
  Qt::Orientations expandingDirections() const override { return {}; }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override { return lay({0, 0, width, 0}, false); }
  /// All in one row.
  QSize sizeHint() const override;
  /// The widest that stays together.
  QSize minimumSize() const override;
  void setGeometry(const QRect& room) override;

 private:
  /// What stays together: a label and what follows it.
  using Group = std::vector<QLayoutItem*>;
  std::vector<Group> groups() const;
  int width_of(const Group& group) const;
  int gap() const { return std::max(0, spacing()); }
  /// The height that is needed in `room`; with `place` the items are put there.
  int lay(const QRect& room, bool place) const;
  std::vector<std::unique_ptr<QLayoutItem>> items_;
};

}  // namespace ypsi::app
