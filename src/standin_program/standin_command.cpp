#include "standin_program/standin_command.h"

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QFile>
#include <QTextStream>

#include "link/transports/tcp_transport.h"
#include "standin_program/serve.h"

namespace ypsi::standin {
namespace {

int give_up(const std::string& sentence) {
  QTextStream(stderr) << QString::fromStdString(sentence) << "\n";
  return 2;
}

}  // namespace

int standin_command(const QCoreApplication& app) {
  QCoreApplication::setApplicationName(QStringLiteral("ypsilograph-standin"));
  QCoreApplication::setApplicationVersion(QStringLiteral(YPSI_VERSION));
  QCommandLineParser parser;
  parser.setApplicationDescription(QStringLiteral(
      "A simulated machine that speaks Ypsilograph's controller link (docs/link.md). Nothing real moves."));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addOptions(
      {{"scenario", "What the machine is like.", "FILE"},
       {"port", "TCP port on the loopback; 0 for any.", "PORT", QString::number(link::default_port)},
       {"serial", "Serve a serial line instead of TCP.", "DEVICE"},
       {"face", "Answer as a controller that takes G-code a line at a time: bare, asked or telling.", "NAME"},
       {"speed", "Times real time; 0 for as fast as it goes.", "FACTOR", "1"}});
  parser.process(app);

  QByteArray text(R"({"format":"ypsilograph-scenario","version":1})");
  if (parser.isSet("scenario")) {
    QFile file(parser.value("scenario"));
    if (!file.open(QIODevice::ReadOnly))
      return give_up("“" + file.fileName().toStdString() + "” cannot be read: " + file.errorString().toStdString() +
                     ".");
    text = file.readAll();
  }
  auto machine = ServedMachine::from_scenario(text.toStdString());
  if (!machine) return give_up(machine.error().message);
  bool number = false;
  const double speed = parser.value("speed").toDouble(&number);
  if (!number || speed < 0 || speed > 1000) return give_up("--speed takes a factor from 0 to 1000.");
  (*machine)->set_speed(speed);
  if (parser.isSet("face"))
    if (auto worn = (*machine)->wear(parser.value("face").toStdString()); !worn) return give_up(worn.error().message);
  Serve serve(std::move(*machine));
  if (parser.isSet("serial")) {
    if (auto opened = serve.use_serial(parser.value("serial")); !opened) return give_up(opened.error().message);
    QTextStream(stdout) << "Serving at " << parser.value("serial") << "\n";
  } else {
    const int port = parser.value("port").toInt(&number);
    if (!number || port < 0 || port > 65535) return give_up("--port takes a number from 0 to 65535.");
    const auto listening = serve.listen(static_cast<quint16>(port));
    if (!listening) return give_up(listening.error().message);
    QTextStream(stdout) << "Listening at 127.0.0.1:" << *listening << "\nToken " << serve.token() << "\n";
  }
  return QCoreApplication::exec();
}

}  // namespace ypsi::standin
