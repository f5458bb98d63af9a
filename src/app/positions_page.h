#pragma once
// Positions only: the state in one word, where the tool is, and Hold, as large as the screen allows; to be read across
// a workshop.
#include <QPushButton>
#include <QWidget>

#include "app/session/session.h"

namespace ypsi::app {

class PositionsPage : public QWidget {
  Q_OBJECT
 public:
  PositionsPage(Session& session, QWidget* parent);
  void refresh();

 signals:
  void left();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  Session& session_;
  QPushButton *hold_, *back_;
};

}  // namespace ypsi::app
