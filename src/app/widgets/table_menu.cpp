#include "app/widgets/table_menu.h"

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/to_q.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>

namespace ypsi::app {

TableMenu::TableMenu(Session& session, QWidget* parent, std::function<Result<void>(std::string)> take,
                     std::function<std::string()> give)
    : QPushButton(tr("Table"), parent), session_(session), take_(std::move(take)) {
  setObjectName("table-menu");
  setAccessibleName(tr("Readings as a table"));
  setToolTip(tr("Readings taken elsewhere, as a CSV file: read it in, or write these out"));
  setProperty("chip", true);
  setFixedSize(78, 24);
  auto* menu = new QMenu(this);
  setMenu(menu);
  connect(menu->addAction(tr("Read a table…")), &QAction::triggered, this, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Read a table"), QFileInfo(session_.editor().book_path()).absolutePath(),
                                     tr("Tables (*.csv *.txt *.tsv);;All files (*)"));
    if (!path.isEmpty()) read_file(path);
  });
  add_writer(tr("Write these as a table…"), tr("Tables (*.csv)"), "csv", std::move(give));
}

void TableMenu::add_writer(const QString& words, const QString& kind, const QString& suffix,
                           std::function<std::string()> give) {
  connect(menu()->addAction(words), &QAction::triggered, this, [this, kind, suffix, give = std::move(give)] {
    QString path = QFileDialog::getSaveFileName(this, tr("Write to"),
                                                QFileInfo(session_.editor().book_path()).absolutePath(), kind);
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().isEmpty()) path += "." + suffix;
    write_file(path, give());
  });
}

void TableMenu::read_file(const QString& path) {
  const auto text = ypsi::app::read_file(path);
  if (!text) {
    session_.notices().notify({NoticeLevel::attention, to_q(text.error().message), {}});
    return;
  }
  const auto taken = take_(*text);
  const QString name = QFileInfo(path).fileName();
  if (taken)
    session_.notices().notify({NoticeLevel::good, tr("The readings of “%1” were added.").arg(name), {}});
  else
    session_.notices().notify(
        {NoticeLevel::attention, tr("“%1” was not used. %2").arg(name, to_q(taken.error().message)), {}});
}

void TableMenu::write_file(const QString& path, const std::string& text) {
  if (const auto written = ypsi::app::write_file(path, text); written)
    session_.notices().notify({NoticeLevel::good, tr("Written to “%1”.").arg(path), {}});
  else
    session_.notices().notify({NoticeLevel::attention, to_q(written.error().message), {}});
}

}  // namespace ypsi::app
