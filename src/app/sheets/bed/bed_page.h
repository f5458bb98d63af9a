#pragma once
#include <QWidget>

#include "app/session/book_editor.h"
#include "app/session/session.h"
#include "app/widgets/field.h"

namespace ypsi::app {

/// What a page of the sheet has to say, for the right column.
struct BedFinding {
  QString lead, figure, spread, verdict, text;
  QString keep;    ///< words of the main act; empty: there is none now
  QString second;  ///< words of a second act; empty: none
};

/// One part of *Bed and spindle*, under its chip.
class BedPage : public QWidget {
  Q_OBJECT
 public:
  explicit BedPage(Session& session) : session_(session) {}
  virtual void refresh() = 0;
  virtual void refresh_status() {}
  virtual BedFinding finding() const = 0;
  virtual void keep() = 0;
  virtual void second() {}
  virtual void cancel() {}

 signals:
  void found();

 protected:
  const BedWorksheet& worksheet() const { return session_.editor().book().bed_worksheet; }
  void change(const QString& text, const std::function<void(BedWorksheet&)>& how);
  /// A length field's value into the worksheet, where it is above zero; else it says so and leaves it.
  void take_positive(class LengthField* field, double BedWorksheet::*what, const QString& text);
  QString len(double mm, int decimals) const;
  Entry entry(const char* subject) const;
  Session& session_;
};

}  // namespace ypsi::app
