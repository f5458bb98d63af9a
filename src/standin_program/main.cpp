// ypsilograph-standin: the simulated machine as a program of its own.
#include <QCoreApplication>

#include "standin_program/standin_command.h"

int main(int argc, char** argv) {
  const QCoreApplication app(argc, argv);
  return ypsi::standin::standin_command(app);
}
