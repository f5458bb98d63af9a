#include "app/staff.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/phrases.h"
#include "core/tasks/overview.h"
#include "core/tasks/stock_program.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {
namespace {

enum Role { id_role = Qt::UserRole, words_role, mark_role, group_role };
constexpr int group_px = 18, sheet_px = 28;

class StaffDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  /// Two lines a stop where the window is high enough, else one.
  bool compact = false;

  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
    return {200, index.data(group_role).toBool() ? group_px : compact ? 22 : sheet_px};
  }
  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const QRect r = option.rect;
    painter->save();
    Draft draft(*painter);
    const double x = r.left() + 22.5;
    const QString title = index.data(Qt::DisplayRole).toString();
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
      painter->drawRoundedRect(QRectF(r).adjusted(33, 1, -6, -1), 3, 3);
    }
    const auto mark = static_cast<Mark>(index.data(mark_role).toInt());
    const QString words = index.data(words_role).toString();
    draft.mark({x, r.top() + (compact ? r.height() / 2.0 : 11.0)}, mark);
    const int base = compact ? r.top() + 15 : words.isEmpty() ? r.top() + 15 : r.top() + 12;
    draft.text({x + 18, static_cast<double>(base)}, title, theme().ink, 12, selected);
    painter->setFont(text_font(10));
    if (!compact && !words.isEmpty()) {
      const QString shown = painter->fontMetrics().elidedText(words, Qt::ElideRight, r.width() - 50);
      draft.text({x + 18, r.top() + 23.5}, shown,
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
  setFixedWidth(232);
  setItemDelegate(new StaffDelegate(this));
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setMouseTracking(true);
  QString group;
  for (const Task* task : session.editor().tasks()) {
    if (const QString of = title_of(task->group()); of != group) {
      group = of;
      auto* heading = new QListWidgetItem(group, this);
      heading->setFlags(Qt::NoItemFlags);
      heading->setData(group_role, true);
    }
    auto* item = new QListWidgetItem(title_of(*task), this);
    item->setData(id_role, QString(task->id()));
  }
  connect(this, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (item && !item->data(id_role).toString().isEmpty()) emit chosen(item->data(id_role).toString());
  });
}

void Staff::resizeEvent(QResizeEvent* event) {
  QListWidget::resizeEvent(event);
  auto* delegate = static_cast<StaffDelegate*>(itemDelegate());
  const bool compact =
      viewport()->height() < 5 * group_px + static_cast<int>(session_.editor().tasks().size()) * sheet_px;
  if (compact != delegate->compact) {
    delegate->compact = compact;
    scheduleDelayedItemsLayout();
  }
}

void Staff::refresh() {
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
  for (int i = 0; i < count(); ++i)
    if (item(i)->data(id_role).toString() == id) setCurrentRow(i);
}

}  // namespace ypsi::app
