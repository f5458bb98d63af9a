#include "app/sheets/later_sheet.h"

#include "app/session/entry_text.h"

namespace ypsi::app {

void LaterSheet::refresh() {
  QStringList lines;
  for (std::size_t i = session_.book().history.size(); i-- > 0 && lines.size() < 8;) {
    const Entry& e = session_.book().history[i];
    if (e.sheet == id_.toStdString()) lines << entry_date(e) + "\n" + entry_text(e, session_.unit());
  }
  from_book_->setText(lines.isEmpty() ? tr("Nothing yet.") : lines.join("\n\n"));
}

}  // namespace ypsi::app
