#include "app/widgets/plain_table.h"

#include <QHeaderView>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/session/session.h"
#include "app/to_q.h"

namespace ypsi::app {

QTableWidget* make_table(const QString& name, const QString& what, const QStringList& headers, int wide, int row_height,
                         QWidget* parent) {
  auto* table = new QTableWidget(0, static_cast<int>(headers.size()), parent);
  table->setObjectName(name);
  table->setAccessibleName(what);
  table->setHorizontalHeaderLabels(headers);
  auto* header = table->horizontalHeader();
  header->setSectionResizeMode(wide < 0 ? QHeaderView::Stretch : QHeaderView::ResizeToContents);
  if (wide >= 0) header->setSectionResizeMode(wide, QHeaderView::Stretch);
  header->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table->verticalHeader()->hide();
  table->verticalHeader()->setDefaultSectionSize(row_height);
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setShowGrid(false);
  return table;
}

std::optional<std::optional<double>> length_in(const QTableWidgetItem& cell, Session& session) {
  const QString text = cell.text().trimmed();
  if (text.isEmpty()) return std::optional<double>();
  const auto mm = parse_length(text.toStdString(), session.editor().unit());
  if (mm) return std::optional(*mm);
  session.notices().notify(
      {NoticeLevel::attention, QTableWidget::tr("%1 It was left as it is.").arg(to_q(mm.error().message)), {}});
  return std::nullopt;
}

QString number_or_blank(double value) {
  return value == 0 ? QString() : QString::number(value, 'g', 6);
}

}  // namespace ypsi::app
