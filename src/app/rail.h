#pragma once
// The rail: Hold, the state in one word, positions over each axis's travel, the step. Always there, read from two
// metres.
#include <QButtonGroup>
#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include "app/session/session.h"
#include "core/procedures/machine_link.h"

namespace ypsi::app {

/// Large, and with its key under it.
class HoldButton : public QPushButton {
  Q_OBJECT
 public:
  HoldButton(Session& session, const QString& name, QWidget* parent);

 protected:
  void paintEvent(QPaintEvent* event) override;
};

/// One axis: work position large, travel drawn with limits, zero and carriage, machine position small.
class AxisReadout : public QWidget {
 public:
  AxisReadout(Session& session, Axis axis, QWidget* parent);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Session& session_;
  Axis axis_;
};

class Rail : public QFrame {
  Q_OBJECT
 public:
  Rail(Session& session, QWidget* parent);
  void refresh();

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void refresh_steps();
  Session& session_;
  QLabel *state_, *detail_, *jog_help_;
  QVector<AxisReadout*> axes_;
  QButtonGroup* steps_;
  QWidget* step_box_;
  bool shown_night_ = false;
};

}  // namespace ypsi::app
