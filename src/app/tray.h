#pragma once
// The tray beside a simulated machine: what a hand can do there, and the instruments that lie about. Shown only while
// the machine that is connected says that it is simulated.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/session/session.h"
#include "core/geometry.h"
#include "core/procedures/bench.h"

namespace ypsi::app {

class Tray : public QFrame {
  Q_OBJECT
 public:
  Tray(Session& session, QWidget* parent);
  /// Shows what stands and lies there now.
  void refresh();

 private:
  QPushButton* chip(const char* name, const QString& text, const QString& tip, bool checkable);
  void make_hands(QHBoxLayout* row);
  void make_instruments(QHBoxLayout* row);
  void read();
  Axis axis() const;

  Session& session_;
  QPushButton *clip_, *stop_, *lay_, *away_;
  QLabel* nose_word_;
  QDoubleSpinBox* nose_;
  std::array<QPushButton*, axis_count> switches_{};
  QComboBox *plate_, *instrument_, *axis_, *speed_;
  QLabel* reading_;
  Surroundings shown_;
};

}  // namespace ypsi::app
