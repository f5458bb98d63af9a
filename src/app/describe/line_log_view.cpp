#include "app/describe/line_log_view.h"

#include <QScrollBar>
#include <QVBoxLayout>

#include "app/sheets/sheet.h"
#include "app/theme/theme.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr int bytes_role = Qt::UserRole, came_role = Qt::UserRole + 1;
constexpr int as_line = 0;
}  // namespace

LineLogView::LineLogView(QWidget* parent) : QWidget(parent) {
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(6);
  auto* head = new QHBoxLayout;
  head->addWidget(make_label("describe-log-title", "strong", tr("What goes over the line"), this), 1);
  add_act(head, "describe-save-log", tr("Save it…"), tr("Writes what went over the line to a text file"), this,
          [this] { emit save_wanted(); });
  rows->addLayout(head);
  lines_ = new QListWidget(this);
  lines_->setObjectName("describe-log");
  lines_->setAccessibleName(tr("What went over the line, the newest last"));
  lines_->setFont(mono_font(12));
  lines_->setUniformItemSizes(true);
  lines_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  rows->addWidget(lines_, 1);
  auto* field = new QHBoxLayout;
  auto* row = new QHBoxLayout;
  text_ = new QLineEdit(this);
  text_->setObjectName("describe-say");
  text_->setAccessibleName(tr("What to say to the controller"));
  text_->setPlaceholderText(tr("say something to it"));
  kind_ = new QComboBox(this);
  kind_->setObjectName("describe-say-kind");
  kind_->setAccessibleName(tr("As what it is said"));
  kind_->addItems({tr("as a line"), tr("as bytes, such as 1b 5a")});
  field->addWidget(text_, 1);
  rows->addLayout(field);
  row->addWidget(kind_, 1);
  say_ = add_act(row, "describe-say-it", tr("Say it"), tr("Sends it as it stands (Enter in the field)"), this,
                 [this] { say(); });
  rows->addLayout(row);
  connect(text_, &QLineEdit::returnPressed, this, &LineLogView::say);
  connect(lines_, &QListWidget::currentRowChanged, this, [this] { emit line_chosen(); });
  set_open(false);
}

void LineLogView::set_open(bool open) {
  for (QWidget* each : {static_cast<QWidget*>(text_), static_cast<QWidget*>(kind_), static_cast<QWidget*>(say_)})
    each->setEnabled(open);
}

void LineLogView::begin() {
  lines_->clear();
  seen_ = 0;
  last_repeats_ = false;
}

void LineLogView::say() {
  const QString text = text_->text();
  if (kind_->currentIndex() == as_line)
    emit line_said(text);
  else
    emit bytes_said(text);
  text_->selectAll();
}

void LineLogView::show_new(const link::LineLog& log, const link::LinePattern& repeats) {
  const auto& lines = log.lines();
  if (log.ever() == seen_) return;
  const QScrollBar* bar = lines_->verticalScrollBar();
  const bool at_end = bar->value() >= bar->maximum() - 2;
  for (std::size_t i = log.first_since(seen_); i < lines.size(); ++i) {
    const link::LoggedLine& line = lines[i];
    add(line, line.from_controller && repeats.find(line.bytes).has_value());
  }
  seen_ = log.ever();
  while (lines_->count() > static_cast<int>(link::LineLog::longest)) delete lines_->takeItem(0);
  if (at_end) lines_->scrollToBottom();
}

void LineLogView::add(const link::LoggedLine& line, bool repeats) {
  auto* item = repeats && last_repeats_ ? lines_->item(lines_->count() - 1) : new QListWidgetItem(lines_);
  last_repeats_ = repeats;
  item->setText(QStringLiteral("%1 %2 %3")
                    .arg(line.at_s, 8, 'f', 2)
                    .arg(line.from_controller ? QChar(0x25C2) : QChar(0x25B8))
                    .arg(to_q(line.readable())));
  item->setToolTip(tr("As bytes: %1").arg(to_q(line.hexadecimal())));
  item->setForeground(line.from_controller ? theme().ink : theme().teal);
  item->setData(bytes_role, QByteArray::fromStdString(line.bytes));
  item->setData(came_role, line.from_controller);
}

std::optional<std::string> LineLogView::chosen() const {
  const auto* item = lines_->currentItem();
  if (!item || !item->data(came_role).toBool()) return std::nullopt;
  return item->data(bytes_role).toByteArray().toStdString();
}

std::optional<std::string> LineLogView::said_before() const {
  for (int row = lines_->currentRow() - 1; row >= 0; --row)
    if (const auto* item = lines_->item(row); !item->data(came_role).toBool())
      return item->data(bytes_role).toByteArray().toStdString();
  return std::nullopt;
}

}  // namespace ypsi::app
