// Ypsilograph: the window.
#include <QApplication>

#include "app/start/ypsilograph.h"

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  return ypsi::app::ypsilograph(app);
}
