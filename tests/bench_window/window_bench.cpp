// What the window is measured by. Usage: window_bench long_book|long_program|jog_release; prints one JSON object.
#include <QApplication>
#include <QString>
#include <cstdio>

#include "app/theme/theme.h"

namespace ypsi::app {

// Each returns 0 where it could be measured.
namespace long_book {
int run();
}
namespace long_program {
int run();
}
namespace jog_release {
int run();
}

}  // namespace ypsi::app

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  ypsi::app::load_fonts();
  const QString what = argc > 1 ? argv[1] : "";
  if (what == "long_book") return ypsi::app::long_book::run();
  if (what == "long_program") return ypsi::app::long_program::run();
  if (what == "jog_release") return ypsi::app::jog_release::run();
  std::fprintf(stderr, "Usage: window_bench long_book|long_program|jog_release\n");
  return 2;
}
