// A book of 10,000 entries: how long the window takes to open it, to show each sheet, and to keep one more finding.
// Prints one JSON object, milliseconds; medians of several turns.
#include <QElapsedTimer>
#include <QFile>
#include <QTemporaryDir>
#include <QTextStream>
#include <algorithm>
#include <map>

#include "app/demo.h"
#include "app/main_window.h"
#include "app/session/book_editor.h"
#include "app/session/book_store.h"
#include "app/session/connection.h"
#include "app/session/machine_session.h"
#include "app/session/session.h"
#include "core/book/book_json.h"
#include "core/tasks/all_tasks.h"

namespace ypsi::app {
namespace long_book {
namespace {

const std::size_t entries = qEnvironmentVariableIntValue("YPSI_ENTRIES") > 0
                                ? static_cast<std::size_t>(qEnvironmentVariableIntValue("YPSI_ENTRIES"))
                                : 10000;
constexpr int turns = 9;

double median(std::vector<double> all) {
  std::nth_element(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(all.size() / 2), all.end());
  return all[all.size() / 2];
}

/// The demo's own record over and over, as years of use would leave it.
void make_long(const QString& path) {
  Book book = read_book(*read_file(path))->book;
  const auto once = book.history;
  for (std::size_t i = 0; book.history.size() < entries; ++i) book.history.push_back(once[i % once.size()]);
  QFile file(path);
  if (!file.open(QIODevice::WriteOnly)) return;
  file.write(QByteArray::fromStdString(write_book(book)));
}

}  // namespace

int run() {
  QTemporaryDir folder;
  const auto demo = prepare_demo(YPSI_DEMO_DATA, folder.path(), true);
  if (!demo) return 1;
  make_long(demo->book);
  std::vector<double> opened, kept;
  std::map<QString, std::vector<double>> shown;
  QElapsedTimer timer;
  const auto took = [&] { return static_cast<double>(timer.nsecsElapsed()) / 1e6; };
  for (int turn = 0; turn < turns; ++turn) {
    auto connection = Connection::to_stand_in({demo->scenario, demo->settings});
    if (!connection) return 1;
    timer.start();
    Session session{BookStore(demo->book), std::move(*connection)};
    MainWindow window(session);
    session.editor().open_book();
    window.show();
    QCoreApplication::processEvents();
    window.repaint();
    opened.push_back(took());
    for (const Task* sheet : all_tasks()) {
      timer.start();
      window.open_sheet(QString(sheet->id()));
      QCoreApplication::processEvents();
      window.repaint();
      shown[QString(sheet->id())].push_back(took());
    }
    timer.start();
    session.editor().change_book("one more", [](Book& b) { b.history.push_back(b.history.back()); });
    kept.push_back(took());
  }
  double slowest = 0;
  QString which;
  for (const auto& [id, all] : shown)
    if (const double m = median(all); m > slowest) slowest = m, which = id;
  QTextStream(stdout)
      << QString(R"({"entries": %1, "open_ms": %2, "slowest_sheet": "%3", "slowest_sheet_ms": %4, "keep_ms": %5})")
             .arg(entries)
             .arg(median(opened))
             .arg(which)
             .arg(slowest)
             .arg(median(kept))
      << "\n";
  return 0;
}

}  // namespace long_book
}  // namespace ypsi::app
