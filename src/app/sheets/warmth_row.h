#pragma once
#include <QLabel>

#include "app/session/session.h"
#include "app/widgets/field.h"

namespace ypsi::app {

/// How warm the workshop is, asked once a sitting: every finding from then on is kept with it.
class WarmthRow : public QWidget {
  Q_OBJECT
 public:
  WarmthRow(Session& session, QWidget* parent);
  void refresh();

 private:
  Session& session_;
  QLabel *question_, *unit_;
  LengthField* field_;
};

}  // namespace ypsi::app
