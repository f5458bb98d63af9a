// How long a machine moves on once a jog key, or the stick of a pad, is let go: window and machine in real time, 200
// times each. Prints one JSON object, milliseconds; `braking_ms` is what the machine's acceleration alone asks for.
#define SDL_MAIN_HANDLED
#include <SDL2/SDL.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QTemporaryDir>
#include <QTest>
#include <QTextStream>
#include <algorithm>
#include <cmath>
#include <vector>

#include "app/demo.h"
#include "app/jog_strip.h"
#include "app/main_window.h"
#include "app/pad/jog_pad.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/session.h"

namespace ypsi::app {
namespace jog_release {
namespace {

constexpr int times = 200, under_way_ms = 150, longest_wait_ms = 10000;
constexpr double rate_mm_min = 1200, step_mm = 0.01;
constexpr int guard = SDL_CONTROLLER_BUTTON_LEFTSHOULDER, stick = SDL_CONTROLLER_AXIS_LEFTX;
constexpr Sint16 all_the_way = 32767;

class Release {
 public:
  explicit Release(Session& session) : session_(session) {}
  bool stands() const { return session_.machine().status().state == MachineState::ready; }
  bool moves() const { return session_.machine().status().state == MachineState::moving; }
  bool ends_standing() const {
    return QTest::qWaitFor([this] { return stands(); }, longest_wait_ms);
  }
  /// `push` until it moves and is under way, then `let_go`; ms until it stands. Below zero: it never did.
  template <class Push, class LetGo>
  double once(Push push, LetGo let_go) const {
    const bool under_way = QTest::qWaitFor(
        [&] {
          push();
          return moves();
        },
        longest_wait_ms);
    if (!under_way) return -1;
    QTest::qWait(under_way_ms);
    QElapsedTimer since;
    since.start();
    let_go();
    while (!stands() && since.elapsed() < longest_wait_ms) QCoreApplication::processEvents();
    return stands() ? static_cast<double>(since.nsecsElapsed()) / 1e6 : -1;
  }

 private:
  Session& session_;
};

QString figures(const char* by, std::vector<double> all) {
  std::sort(all.begin(), all.end());
  return QString(R"("%1_median_ms": %2, "%1_worst_ms": %3)").arg(by).arg(all[all.size() / 2]).arg(all.back());
}

}  // namespace

int run() {
  QTemporaryDir folder;
  const auto demo = prepare_demo(YPSI_DEMO_DATA, folder.path(), true);
  auto connection = Connection::to_stand_in({demo->scenario, demo->settings});
  if (!connection) return 1;
  Session session{BookStore(demo->book), std::move(*connection)};
  MainWindow window(session);
  window.show();
  session.editor().open_book();
  QApplication::setActiveWindow(&window);
  const Release release(session);
  MachineSession& machine = session.machine();
  machine.connection()->set_speed(0);
  machine.home();
  if (!QTest::qWaitFor([&] { return machine.status().all_homed() && release.stands(); }, longest_wait_ms)) return 1;
  const auto room = machine.room(Axis::x);
  machine.jog(Axis::x, (room.low + room.high) / 2 - machine.status().position.x);
  QTest::qWait(under_way_ms);
  if (!release.ends_standing()) return 1;
  machine.connection()->set_speed(1);
  machine.set_jog_rate(rate_mm_min);
  machine.set_jog_step(step_mm);
  QTest::keyClick(&window, Qt::Key_J, Qt::ControlModifier);
  auto* strip = window.findChild<JogStrip*>("jog-strip");
  std::vector<double> by_key, by_pad;
  for (int i = 0; i < times; ++i) {
    const Qt::Key key = i % 2 ? Qt::Key_Left : Qt::Key_Right;
    const auto press = [&](bool again) {
      QKeyEvent event(QEvent::KeyPress, key, Qt::NoModifier, {}, again);
      QCoreApplication::sendEvent(strip, &event);
    };
    press(false);
    if (!release.ends_standing()) return 1;
    by_key.push_back(release.once([&] { press(true); }, [&] { QTest::keyRelease(strip, key); }));
    if (by_key.back() < 0) return 1;
  }
  const int device = SDL_JoystickAttachVirtual(SDL_JOYSTICK_TYPE_GAMECONTROLLER, SDL_CONTROLLER_AXIS_MAX,
                                               SDL_CONTROLLER_BUTTON_MAX, 0);
  SDL_Joystick* joystick = SDL_JoystickOpen(device);
  const auto* pad = window.findChild<JogPad*>("jog-pad");
  if (!joystick || !QTest::qWaitFor([&] { return pad->reading().there; }, longest_wait_ms)) return 1;
  SDL_JoystickSetVirtualButton(joystick, guard, 1);
  for (int i = 0; i < times; ++i) {
    const auto push = [&](int how_far) { SDL_JoystickSetVirtualAxis(joystick, stick, static_cast<Sint16>(how_far)); };
    by_pad.push_back(release.once([&] { push(i % 2 ? -all_the_way : all_the_way); }, [&] { push(0); }));
    if (by_pad.back() < 0) return 1;
  }
  SDL_JoystickClose(joystick);
  SDL_JoystickDetachVirtual(device);
  const double acceleration = session.editor().book().machine.axis(Axis::x).acceleration;
  QTextStream(stdout)
      << "{" << figures("key", by_key) << ", " << figures("pad", by_pad)
      << QString(R"(, "times": %1, "braking_ms": %2})").arg(times).arg(rate_mm_min / 60 / acceleration * 1000) << "\n";
  return 0;
}

}  // namespace jog_release
}  // namespace ypsi::app
