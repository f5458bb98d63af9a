#include "app/session/opening_mark.h"

#include <QFile>
#include <utility>

namespace ypsi::app {

QString OpeningMark::take_left() const {
  QFile file(path_);
  if (!file.open(QIODevice::ReadOnly)) return {};
  const QString program = QString::fromUtf8(file.readAll()).trimmed();
  file.remove();
  return program;
}

void OpeningMark::set(const QString& program) {
  QFile file(path_);
  mine_ = file.open(QIODevice::WriteOnly);
  if (mine_) file.write(program.toUtf8());
}

void OpeningMark::clear() {
  if (std::exchange(mine_, false)) QFile::remove(path_);
}

}  // namespace ypsi::app
