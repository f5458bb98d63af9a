#pragma once
// One way of finding lost motion, with its drawing, its readings and what they say.
#include "app/session/session.h"
#include "app/sheets/page_finding.h"
#include "core/book/book.h"

namespace ypsi::app {

/// What a page has found, for the sheet's right column.
using LostMotionFinding = PageFinding;

class LostMotionPage : public QWidget {
  Q_OBJECT
 public:
  explicit LostMotionPage(Session& session) : session_(session) {}
  virtual void refresh(Axis axis) = 0;
  virtual void refresh_status() = 0;
  virtual LostMotionFinding finding() const = 0;
  /// Writes the finding into the book with its readings.
  virtual void keep() = 0;
  virtual void second() {}
  virtual void cancel() = 0;

 signals:
  void found();  ///< finding() is another

 protected:
  Session& session_;
};

}  // namespace ypsi::app
