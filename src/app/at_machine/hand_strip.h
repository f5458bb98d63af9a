#pragma once
// The line under every sheet of a machine that is worked by hand: what is to be done there, what its screen shows at
// its inputs, and the way to the card.
#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include "app/session/session.h"
#include "core/procedures/machine_link.h"

namespace ypsi::app {

class HandCardView;

class HandStrip : public QFrame {
  Q_OBJECT
 public:
  /// `above`: what the card lies over, at its foot.
  HandStrip(Session& session, QWidget* above, QWidget* parent);
  void refresh();
  /// Whether the switches at the far ends can be told; where they are looked for.
  void show_far_switches(bool shown) { far_shown_ = shown; }

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  struct Lamp {
    QPushButton* button;
    bool MachineInputs::*flag;
    std::array<bool, axis_count> MachineInputs::*of_axis;
    Axis axis;
  };
  void add_lamp(const char* name, const QString& text, const QString& tip, const Lamp& lamp);
  void show_inputs();
  void place_card();

  Session& session_;
  QWidget* above_;
  HandCardView* card_;
  QLabel* summary_;
  QPushButton *open_, *tell_;
  std::vector<Lamp> lamps_;
  std::uint32_t seen_ = 0;
  bool put_off_ = false, far_shown_ = false;
};

}  // namespace ypsi::app
