#pragma once
// Front elevation: bed, stock, tool, where Z zero is and how deep the program goes.
#include <QWidget>

#include "app/session/session.h"

namespace ypsi::app {

class ElevationView : public QWidget {
  Q_OBJECT
 public:
  ElevationView(Session& session, bool with_safe_height, QWidget* parent);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Session& session_;
  bool with_safe_height_;
};

}  // namespace ypsi::app
