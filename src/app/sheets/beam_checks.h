#pragma once
#include <QPushButton>
#include <QWidget>

#include "app/session/session.h"

namespace ypsi::app {

/// What a person sees to before a beam shines, a tick each. Shown by every sheet that can switch one on.
class BeamChecks : public QWidget {
  Q_OBJECT
 public:
  /// `columns`: of ticks side by side.
  BeamChecks(Session& session, int columns, QWidget* parent);
  void refresh_status();

 private:
  Session& session_;
  std::vector<QPushButton*> chips_;
};

}  // namespace ypsi::app
