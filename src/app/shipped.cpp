#include "app/shipped.h"

#include <QCoreApplication>
#include <QDir>

namespace ypsi::app {

QString shipped_folder(const QString& what) {
  const QString program = QCoreApplication::applicationDirPath();
  for (const QString& candidate : {program + "/../../../data/" + what, program + "/../share/ypsilograph/" + what})
    if (QDir(candidate).exists()) return QDir(candidate).absolutePath();
  return {};
}

}  // namespace ypsi::app
