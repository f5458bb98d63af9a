#include "app/start/ypsilograph.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QFileInfo>
#include <QIcon>
#include <QStandardPaths>
#include <QTextStream>
#include <QTimer>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/session.h"
#include "app/start/desk.h"
#include "app/theme/large.h"
#include "app/theme/theme.h"
#include "app/to_q.h"

namespace ypsi::app {

int ypsilograph(QApplication& app) {
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
  restore_large();

  const QString book = parser.positionalArguments().value(0);
  const QString demo_folder = parser.isSet("folder")
                                  ? parser.value("folder")
                                  : QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/demo";
  Desk desk(MyMachines(), demo_folder);
  if (parser.isSet("demo")) {
    if (const auto opened = desk.open_demo(parser.isSet("fresh")); !opened) {
      QTextStream(stderr) << to_q(opened.error().message) << "\n";
      return 1;
    }
  } else if (book.isEmpty()) {
    desk.show_start();
  } else if (QFileInfo::exists(book)) {
    desk.open_book(book);
  } else {
    desk.show_start(QObject::tr("There is no book at %1 yet. Begin one here, or open one from a file.")
                        .arg(QDir::toNativeSeparators(book)));
  }
  QWidget& window = desk.window() ? static_cast<QWidget&>(*desk.window()) : *desk.start_page();
  if (parser.isSet("size")) {
    const QStringList size = parser.value("size").split('x');
    if (size.size() == 2) window.resize(size[0].toInt(), size[1].toInt());
  }
  if (Session* session = desk.session(); session && parser.isSet("homed") && session->machine().connection() &&
                                         session->machine().connection()->in_this_window()) {
    session->machine().home();
    session->machine().connection()->advance(120);
  }
  if (parser.isSet("exit-when-shown"))
    QTimer::singleShot(0, &window, [&] {
      window.repaint();
      QCoreApplication::exit(0);
    });
  if (parser.isSet("sheet") && desk.window()) desk.window()->open_sheet(parser.value("sheet"));
  if (parser.isSet("shot"))
    QTimer::singleShot(1200, &window, [&] {
      const bool saved = window.grab().save(parser.value("shot"));
      QTextStream(stderr) << (saved ? "Saved " : "Could not save ") << parser.value("shot") << "\n";
      QCoreApplication::exit(saved ? 0 : 1);
    });
  return QApplication::exec();
}

}  // namespace ypsi::app
