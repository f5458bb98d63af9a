#pragma once
// Large: everything on the screen 1.25, 1.5 or 2 times as large, for a screen two metres away and for gloves.
#include <algorithm>

namespace ypsi::app {

inline constexpr double large_factors[] = {1, 1.25, 1.5, 2};

/// How many times as large everything is drawn; 1 where nothing was asked for.
double large();
/// Takes hold at once, in windows that are open too: the main window keeps its size on the screen and has less room
/// inside, a dialog grows as far as the screen goes. Kept for the next start. `factor`: one of `large_factors`;
/// anything else is taken for 1.
void set_large(double factor);
/// The next factor up or down; the last one stays.
void step_large(int by);
/// Once, after QApplication is there: the factor that was kept.
void restore_large();

/// What is pressed or typed into is at least so high and wide, in the toolkit's px: 44 px on the screen from 1.25 up.
/// 0 where nothing is enlarged.
int least_target_px();
/// The height of a row that is pressed, px: as usual, or a target's.
inline int target_px(int usual) {
  return std::max(usual, least_target_px());
}

}  // namespace ypsi::app
