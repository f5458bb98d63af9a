#pragma once
#include <QString>
#include <string>

namespace ypsi::app {

inline QString to_q(const std::string& text) {
  return QString::fromStdString(text);
}

}  // namespace ypsi::app
