// What a Qt window costs that shows nothing: the measure for our own start.
#include <QApplication>
#include <QMainWindow>
#include <QTimer>

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QMainWindow window;
  window.resize(1280, 800);
  window.show();
  QTimer::singleShot(0, &window, [&] {
    window.repaint();
    QCoreApplication::exit(0);
  });
  return QApplication::exec();
}
