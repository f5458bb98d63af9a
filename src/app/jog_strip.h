#pragma once
// The jog strip, above the rail from any sheet: six large keys as on the plan, the distance and the rate in figures,
// and where the tool is, to be read from two metres.
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QTimer>

#include "app/widgets/field.h"
#include "app/widgets/jog_keys.h"

namespace ypsi::app {

class JogStrip : public QFrame {
  Q_OBJECT
 public:
  JogStrip(Session& session, QWidget* parent);
  void refresh();
  /// The pad that is plugged in; empty: none.
  void show_pad(const QString& name);

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QPushButton* key(const char* name, const QString& text, const QString& tip, JogKey moves);
  Session& session_;
  HeldJog jog_;
  QTimer holds_;  ///< from a press to a hold
  JogKey pressed_;
  LengthField *distance_, *rate_;
  QLabel* hint_;
  QString pad_;
  std::array<QLabel*, axis_count> places_{};
};

}  // namespace ypsi::app
