#pragma once
// One way of finding lost motion, with its drawing, its readings and what they say.
#include "app/session/session.h"
#include "app/sheets/page_finding.h"
#include "core/book/book.h"

namespace ypsi::app {

class LostMotionPage : public FindingPage {
  Q_OBJECT
 public:
  using FindingPage::FindingPage;
  /// Before it is refreshed; of another axis nothing is under way and nothing was typed.
  void use_axis(Axis axis) {
    if (axis == std::exchange(axis_, axis)) return;
    cancel();
    forget_typed();
  }

 protected:
  virtual void forget_typed() {}
  Axis axis_ = Axis::x;
};

}  // namespace ypsi::app
