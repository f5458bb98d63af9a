#include "app/widgets/plain_table.h"

#include <QHeaderView>

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

}  // namespace ypsi::app
