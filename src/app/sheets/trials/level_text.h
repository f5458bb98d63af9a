#pragma once
#include <QString>

namespace ypsi::app {

/// A level as a gauge is read: four digits at most, no trailing zeros.
inline QString level_text(double level) {
  return QString::number(level, 'g', 4);
}

}  // namespace ypsi::app
