#pragma once
// Figures as large as their room allows.
#include <QFontMetrics>

#include "app/theme/theme.h"

namespace ypsi::app {

/// The largest bold size, `most` to `least` px, at which `text` is no wider than `wide` px; `least` where none is.
inline int px_that_fits(const QString& text, double wide, int most, int least) {
  int px = most;
  while (px > least && QFontMetrics(text_font(px, true)).horizontalAdvance(text) > wide) --px;
  return px;
}

}  // namespace ypsi::app
