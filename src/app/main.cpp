// Ypsilograph: the window.
#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QIcon>
#include <QStandardPaths>
#include <QTextStream>
#include <QTimer>

#include "app/demo.h"
#include "app/main_window.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/session.h"
#include "app/theme/theme.h"
#include "app/to_q.h"

using namespace ypsi::app;

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("ypsilograph"));
  QApplication::setOrganizationName(QStringLiteral("ypsilograph"));
  QApplication::setApplicationVersion(QStringLiteral(YPSI_VERSION));
  QCommandLineParser parser;
  parser.setApplicationDescription(QStringLiteral("Commissions and calibrates routers, engravers and cutting tables."));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addOptions({{"demo", "Start with the demo workshop and its stand-in machine."},
                     {"fresh", "With --demo: start the demo from its first day again."},
                     {"folder", "Keep the demo's files here.", "DIR"},
                     {"sheet", "Open this sheet.", "ID"},
                     {"night", "Night theme."},
                     {"homed", "With --demo: home the stand-in at the start."},
                     {"size", "Size of the window, as in 1280x800.", "WxH"},
                     {"exit-when-shown", "Exit as soon as the window has been painted (for measuring the start)."},
                     {"shot", "Save a picture of the window and exit.", "FILE.png"}});
  parser.addPositionalArgument("BOOK", "A machine book (.ypsi).", "[BOOK]");
  parser.process(app);
  load_fonts();
  QApplication::setWindowIcon(QIcon(QStringLiteral(":/ypsilograph.png")));
  set_night(parser.isSet("night"));

  QString book = parser.positionalArguments().value(0);
  std::unique_ptr<Connection> connection;
  std::optional<StandInFiles> stand_in;
  if (book.isEmpty() || parser.isSet("demo")) {
    const QString folder = parser.isSet("folder")
                               ? parser.value("folder")
                               : QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/demo";
    auto demo = prepare_demo(find_demo_data(), folder, parser.isSet("fresh"));
    if (demo) {
      book = demo->book;
      stand_in = StandInFiles{demo->scenario, demo->settings};
      auto started = Connection::to_stand_in(*stand_in);
      if (started)
        connection = std::move(*started);
      else
        QTextStream(stderr) << to_q(started.error().message) << "\n";
    } else {
      QTextStream(stderr) << to_q(demo.error().message) << "\n";
      return 1;
    }
  }
  Session session{BookStore(book), std::move(connection)};
  if (stand_in) session.machine().set_stand_in(*stand_in);
  MainWindow window(session);
  if (parser.isSet("size")) {
    const QStringList size = parser.value("size").split('x');
    if (size.size() == 2) window.resize(size[0].toInt(), size[1].toInt());
  }
  window.show();
  session.editor().open_book();
  if (parser.isSet("homed") && session.machine().connection() && session.machine().connection()->in_this_window()) {
    session.machine().home();
    session.machine().connection()->advance(120);
  }
  if (parser.isSet("exit-when-shown"))
    QTimer::singleShot(0, &window, [&] {
      window.repaint();
      QCoreApplication::exit(0);
    });
  if (parser.isSet("sheet")) window.open_sheet(parser.value("sheet"));
  if (parser.isSet("shot"))
    QTimer::singleShot(1200, &window, [&] {
      const bool saved = window.grab().save(parser.value("shot"));
      QTextStream(stderr) << (saved ? "Saved " : "Could not save ") << parser.value("shot") << "\n";
      QCoreApplication::exit(saved ? 0 : 1);
    });
  return QApplication::exec();
}
