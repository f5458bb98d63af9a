#pragma once
// The line under every sheet of a machine that is worked by hand, or whose line leaves something to its owner: what is
// to be done there, what its inputs show where no line says it, and the way to the card.
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <functional>

#include "app/session/session.h"
#include "core/book/book.h"
#include "core/procedures/machine_link.h"

namespace ypsi::link {
class HandLink;
}

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
    std::function<bool&(MachineInputs&)> input;
    std::function<bool(const MachineSetup&)> there;
  };
  void add_lamp(const QByteArray& name, const QString& text, const QString& tip,
                std::function<bool&(MachineInputs&)> input, std::function<bool(const MachineSetup&)> there);
  void show_inputs();
  void place_card();

  Session& session_;
  QWidget* above_;
  HandCardView* card_;
  QLabel *summary_, *shows_;
  QPushButton *open_, *tell_;
  std::vector<Lamp> lamps_;
  std::uint32_t seen_ = 0;
  bool put_off_ = false, far_shown_ = false;
};

}  // namespace ypsi::app
