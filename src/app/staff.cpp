#include "app/staff.h"

#include <QKeyEvent>
#include <QPainter>
#include <QSignalBlocker>
#include <QStyledItemDelegate>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/phrases.h"
#include "app/theme/large.h"
#include "core/tasks/overview.h"
#include "core/tasks/stock_program.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {
namespace {

enum Role { id_role = Qt::UserRole, words_role, mark_role, group_role, also_role };
constexpr int group_px = 18, sheet_px = 28, sheet_compact_px = 22, wide_px = 232, narrow_px = 40;

class StaffDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  /// Two lines a stop where the window is high enough, else one.
  bool compact = false;

  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
    if (index.data(group_role).toBool()) return {200, index.data(also_role).toBool() ? target_px(group_px) : group_px};
    return {200, target_px(compact ? sheet_compact_px : sheet_px)};
  }
  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const QRect r = option.rect;
    painter->save();
    Draft draft(*painter);
    const double x = r.left() + 22.5;
    const bool marks_alone = r.width() < wide_px / 2;
    const QString title = marks_alone ? QString() : index.data(Qt::DisplayRole).toString();
    draft.line({x, static_cast<double>(r.top())}, {x, r.bottom() + 1.0}, theme().second_ink);
    if (index.data(group_role).toBool()) {
      draft.line({x - 6, r.center().y() + 0.5}, {x + 6, r.center().y() + 0.5}, theme().second_ink, 2);
      draft.text({x + 14, r.center().y() + 4.5}, title.toUpper(), theme().second_ink, 10, true);
      painter->restore();
      return;
    }
    const bool selected = option.state & QStyle::State_Selected;
    if (selected || (option.state & QStyle::State_MouseOver)) {
      painter->setPen(QPen(selected ? theme().teal : theme().rule, selected ? 1.6 : 1));
      painter->setBrush(theme().sheet);
      painter->drawRoundedRect(QRectF(r).adjusted(marks_alone ? 10 : 33, 1, -6, -1), 3, 3);
    }
    const auto mark = static_cast<Mark>(index.data(mark_role).toInt());
    const QString words = marks_alone ? QString() : index.data(words_role).toString();
    const int top = r.top() + (r.height() - (compact ? sheet_compact_px : sheet_px)) / 2;  // a target may be higher
    draft.mark({x, compact ? r.top() + r.height() / 2.0 : top + 11.0}, mark);
    const int base = compact || words.isEmpty() ? top + 15 : top + 12;
    draft.text({x + 18, static_cast<double>(base)}, title, theme().ink, 12, selected);
    painter->setFont(text_font(10));
    if (!compact && !words.isEmpty()) {
      const QString shown = painter->fontMetrics().elidedText(words, Qt::ElideRight, r.width() - 50);
      draft.text({x + 18, top + 23.5}, shown,
                 mark == Mark::half      ? theme().ochre
                 : mark == Mark::crossed ? theme().red
                                         : theme().second_ink,
                 10);
    }
    painter->restore();
  }
};

}  // namespace

Staff::Staff(Session& session, QWidget* parent) : QListWidget(parent), session_(session) {
  setObjectName(QStringLiteral("staff"));
  setAccessibleName(tr("The order of work"));
  setFixedWidth(wide_px);
  setItemDelegate(new StaffDelegate(this));
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setMouseTracking(true);
  arrange();
  connect(this, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (item && !item->data(id_role).toString().isEmpty()) emit chosen(item->data(id_role).toString());
  });
  connect(this, &Staff::chosen, this, [this] { show_words(!narrow_); });
  connect(this, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
    if (item->data(also_role).toBool()) open_also(!also_open_);
  });
}

/// What the machine has, in the order of work; what it has not stands under Also, at the foot.
void Staff::arrange() {
  const MachineSetup& machine = session_.editor().book().machine;
  std::vector<const Task*> wanted, also;
  for (const Task* task : session_.editor().tasks()) (task->applies_to(machine) ? wanted : also).push_back(task);
  QStringList shown{also_open_ ? "+" : "-", to_q(machine.kind)};
  for (const Task* task : also) shown << task->id();
  if (shown == shown_) return;
  shown_ = shown;
  const QSignalBlocker quiet(this);
  const QString current = currentItem() ? currentItem()->data(id_role).toString() : QString();
  clear();
  QString group;
  const auto head = [this](const QString& words, bool opens) {
    auto* heading = new QListWidgetItem(words, this);
    heading->setFlags(opens ? Qt::ItemIsEnabled | Qt::ItemIsSelectable : Qt::NoItemFlags);
    heading->setData(group_role, true);
    heading->setData(also_role, opens);
  };
  const auto add = [this](const Task* task) {
    auto* item = new QListWidgetItem(title_of(*task, session_.editor().book().machine), this);
    item->setData(id_role, QString(task->id()));
  };
  for (const Task* task : wanted) {
    if (const QString of = title_of(task->group()); of != group) head(group = of, false);
    add(task);
  }
  if (!also.empty()) {
    head(also_open_ ? tr("Also ▾") : tr("Also ▸ %1").arg(also.size()), true);
    item(count() - 1)->setToolTip(tr("What this machine has not, by what Build says of it"));
    if (also_open_)
      for (const Task* task : also) add(task);
  }
  select(current);
  fit();
}

void Staff::open_also(bool open) {
  also_open_ = open;
  refresh();
}

void Staff::keyPressEvent(QKeyEvent* event) {
  const bool on_also = currentItem() && currentItem()->data(also_role).toBool();
  if (on_also && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Space))
    return open_also(!also_open_);
  QListWidget::keyPressEvent(event);
}

void Staff::resizeEvent(QResizeEvent* event) {
  QListWidget::resizeEvent(event);
  fit();
}

void Staff::set_narrow(bool narrow) {
  if (narrow == narrow_) return;
  narrow_ = narrow;
  show_words(!narrow);
}

void Staff::show_words(bool shown) {
  setFixedWidth(shown ? wide_px : narrow_px);
  setVerticalScrollBarPolicy(shown ? Qt::ScrollBarAsNeeded : Qt::ScrollBarAlwaysOff);
}

void Staff::mousePressEvent(QMouseEvent* event) {
  if (width() == narrow_px) return show_words(true);  // what is under the finger can be read first
  QListWidget::mousePressEvent(event);
}

void Staff::focusOutEvent(QFocusEvent* event) {
  QListWidget::focusOutEvent(event);
  show_words(!narrow_);
}

void Staff::fit() {
  auto* delegate = static_cast<StaffDelegate*>(itemDelegate());
  int high = 0;
  for (int i = 0; i < count(); ++i) high += item(i)->data(group_role).toBool() ? group_px : target_px(sheet_px);
  const bool compact = viewport()->height() < high;
  if (compact != delegate->compact) {
    delegate->compact = compact;
    scheduleDelayedItemsLayout();
  }
}

void Staff::refresh() {
  arrange();
  const Book& book = session_.editor().book();
  for (int i = 0; i < count(); ++i) {
    QListWidgetItem* it = item(i);
    const std::string id = it->data(id_role).toString().toStdString();
    if (id.empty()) continue;
    const Task& task = *find_task(session_.editor().tasks(), id);
    const bool has_standing = task.has_standing();
    const SheetStanding standing = has_standing ? session_.editor().standing(id) : SheetStanding{};
    // What was never done has nothing to say, and to look for it would take the whole record.
    QString words = has_standing && standing.standing == Standing::never_done
                        ? QString()
                        : say(task.overview(book), session_.editor().unit()),
            tip;
    Mark mark;
    if (id == overview_id) {
      mark = Mark::full;
    } else if (id == stock_program_id) {
      mark = session_.job().program() ? Mark::full : Mark::empty;
      if (!session_.job().program()) words.clear();
    } else {
      mark = mark_of(standing.standing);
      if (id == work_zero_id && mark == Mark::full && !session_.machine().status().all_homed()) {
        mark = Mark::half;
        words = tr("not homed since power-up");
      } else if (standing.standing == Standing::out_of_date) {
        tip = out_of_date_reason(book, standing);
        words = words.isEmpty() ? tr("out of date") : words + tr(" · out of date");
      } else if (standing.standing == Standing::never_done) {
        tip = tr("never done");
      }
    }
    static const char* const words_of_mark[] = {QT_TR_NOOP("current"), QT_TR_NOOP("out of date"),
                                                QT_TR_NOOP("never done"), QT_TR_NOOP("failed")};
    it->setData(words_role, words);
    it->setData(mark_role, static_cast<int>(mark));
    it->setData(Qt::AccessibleTextRole, QString("%1, %2").arg(it->text(), tr(words_of_mark[static_cast<int>(mark)])));
    it->setToolTip(tip.isEmpty() ? words : tip);
  }
  viewport()->update();
}

void Staff::select(const QString& id) {
  const Task* task = id.isEmpty() ? nullptr : find_task(session_.editor().tasks(), id.toStdString());
  if (task && !also_open_ && !task->applies_to(session_.editor().book().machine)) open_also(true);
  for (int i = 0; i < count(); ++i)
    if (item(i)->data(id_role).toString() == id) setCurrentRow(i);
}

}  // namespace ypsi::app
