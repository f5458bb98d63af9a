#include "app/sheets/bed/bed_page.h"

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/bed.h"
#include "core/tasks/bed_spindle.h"

namespace ypsi::app {

void BedPage::change(const QString& text, const std::function<void(BedWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[bed_worksheet]); }, MachineFollows::no);
}

void BedPage::take_positive(LengthField* field, double BedWorksheet::*what, const QString& text) {
  connect(field, &LengthField::committed, this, [this, what, text](double value) {
    if (value > 0)
      change(text, [&](BedWorksheet& w) { w.*what = value; });
    else
      session_.notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it was."), {}});
    refresh();
  });
}

QString BedPage::len(double mm, int decimals) const {
  return session_.editor().length(mm, decimals);
}

Entry BedPage::entry(const char* subject) const {
  Entry e;
  e.time = session_.editor().now().toStdString();
  e.sheet = bed_spindle_id;
  e.subject = subject;
  return e;
}

}  // namespace ypsi::app
