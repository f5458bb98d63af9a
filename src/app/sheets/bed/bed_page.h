#pragma once
#include "app/session/book_editor.h"
#include "app/session/session.h"
#include "app/sheets/page_finding.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/bed.h"

namespace ypsi::app {

/// One part of *Bed and spindle*, under its chip.
class BedPage : public FindingPage {
  Q_OBJECT
 public:
  using FindingPage::FindingPage;

 protected:
  const BedWorksheet& worksheet() const { return session_.editor().book().worksheets[bed_worksheet]; }
  void change(const QString& text, const std::function<void(BedWorksheet&)>& how);
  /// A length field's value into the worksheet, where it is above zero; else it says so and leaves it.
  void take_positive(class LengthField* field, double BedWorksheet::*what, const QString& text);
  QString len(double mm, int decimals) const;
  Entry entry(const char* subject) const;
};

}  // namespace ypsi::app
