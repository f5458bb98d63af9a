#pragma once
// Moving by a jog pad: only while its guard button is held, the jog strip is open and the window is in front with no
// dialog on it. A stick moves as fast as it is pushed, a button by a step; letting go, or losing the pad, ends the
// move.
#include <QTimer>
#include <QWidget>

#include "app/pad/pad_buttons.h"
#include "app/pad/pad_source.h"
#include "app/session/session.h"

namespace ypsi::app {

class JogPad : public QObject {
  Q_OBJECT
 public:
  static constexpr double dead_zone = 0.2;                  ///< of a stick's way
  static constexpr double parts[] = {0.1, 0.25, 0.5, 1};    ///< of the jog rate, by deflection
  static constexpr int x_axis = 0, y_axis = 1, z_axis = 3;  ///< of its sticks
  static constexpr int looks_every_ms = 10, looks_for_one_ms = 500;

  /// Moves while `strip` is seen and `window` is in front.
  JogPad(Session& session, QWidget* window, QWidget* strip);
  ~JogPad() override;

  /// What is pressed and pushed; `Keys and pad…` shows it.
  const PadReading& reading() const { return now_; }
  void take_buttons() { buttons_ = PadButtons::kept(); }
  /// Looks at once, and does what is said; by itself it does so often enough.
  void look();

 signals:
  void looked();
  void came_or_went();

 private:
  struct Push {
    JogKey key;
    std::size_t part = 0;  ///< which of parts
    bool operator==(const Push& other) const {
      return key.axis == other.key.axis && key.sign == other.key.sign && part == other.part;
    }
  };
  bool may_move() const;
  std::optional<Push> pushed() const;
  void follow_stick();
  void follow_buttons();

  Session& session_;
  QWidget *window_, *strip_;
  PadSource source_;
  PadButtons buttons_ = PadButtons::kept();
  PadReading now_, before_;
  HeldJog jog_;
  std::optional<Push> going_;
  QTimer timer_;
};

}  // namespace ypsi::app
