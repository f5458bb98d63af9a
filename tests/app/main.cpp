#include <gtest/gtest.h>

#include <QApplication>

#include "app/theme/theme.h"

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  ypsi::app::load_fonts();
  testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
