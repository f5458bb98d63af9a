#include <gtest/gtest.h>

#include <QApplication>
#include <QTemporaryDir>

#include "app/theme/theme.h"

int main(int argc, char** argv) {
  const QTemporaryDir config;  // what the tests remember is not the user's
  qputenv("XDG_CONFIG_HOME", config.path().toUtf8());
  qputenv("XDG_DATA_HOME", (config.path() + "/data").toUtf8());
  const QApplication app(argc, argv);
  QApplication::setOrganizationName("ypsilograph");
  QApplication::setApplicationName("ypsilograph-tests");
  ypsi::app::load_fonts();
  testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
