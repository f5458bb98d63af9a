// A program of a million lines on the plan: how long one frame takes while the plan is zoomed and moved. Prints one
// JSON object, milliseconds.
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>
#include <QTextStream>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/demo.h"
#include "app/session/book_editor.h"
#include "app/session/book_store.h"
#include "app/session/connection.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/session.h"
#include "app/widgets/plan_view.h"

namespace ypsi::app {
namespace long_program {
namespace {

constexpr int lines = 1'000'000, frames = 200;

QByteArray relief() {
  QByteArray text = "G21 G90 F1500\nS9000 M3\nG0 Z5\n";
  text.reserve(34'000'000);
  for (int i = 3; i < lines; ++i) {
    const double a = i * 0.0007;
    text += QByteArray("G1 X") + QByteArray::number(160 + 140 * std::cos(a) * std::cos(a * 0.013), 'f', 4) + " Y" +
            QByteArray::number(160 + 140 * std::sin(a), 'f', 4) + " Z" +
            QByteArray::number(-1 - std::sin(a * 3), 'f', 4) + "\n";
  }
  return text;
}

}  // namespace

int run() {
  QTemporaryDir folder;
  const auto demo = prepare_demo(YPSI_DEMO_DATA, folder.path(), true);
  if (!demo) return 1;
  auto connection = Connection::to_stand_in({demo->scenario, demo->settings});
  if (!connection) return 1;
  Session session{BookStore(demo->book), std::move(*connection)};
  session.editor().open_book();
  QFile file(folder.filePath("relief.ngc"));
  if (!file.open(QIODevice::WriteOnly)) return 1;
  file.write(relief());
  file.close();
  PlanView plan(session, PlanView::Subject::program, nullptr);
  plan.resize(900, 560);
  plan.show();
  QElapsedTimer timer;
  // The window's own thread must not stand still while the program is read, checked and drawn.
  double longest = 0;
  session.job().load_program(file.fileName());
  timer.start();
  while (session.job().loader().busy() || !session.job().program() || !session.job().checked()) {
    timer.restart();
    QCoreApplication::processEvents();
    longest = std::max(longest, static_cast<double>(timer.nsecsElapsed()) / 1e6);
    if (session.job().loader().busy()) QTest::qSleep(1);
  }
  QTest::qWait(3000);
  std::vector<double> took;
  for (int i = 0; i < frames; ++i) {
    const QPointF at(450 + i % 40, 280);
    QWheelEvent wheel(at, at, {}, {0, i < 60 || i % 2 == 0 ? 120 : -120}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    timer.restart();
    QCoreApplication::sendEvent(&plan, &wheel);
    plan.repaint();
    QCoreApplication::processEvents();
    took.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  std::sort(took.begin(), took.end());
  QTextStream(stdout) << "{\"frames\": " << frames << ", \"median_ms\": " << took[took.size() / 2]
                      << ", \"slowest_ms\": " << took.back() << ", \"longest_pause_while_loading_ms\": " << longest
                      << "}\n";
  return 0;
}

}  // namespace long_program
}  // namespace ypsi::app
