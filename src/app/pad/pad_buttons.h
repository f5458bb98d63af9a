#pragma once
// Which button of a jog pad does what; kept on this computer.
#include <QString>
#include <array>
#include <map>

#include "app/widgets/jog_keys.h"

namespace ypsi::app {

enum class PadAct { guard, hold, x_minus, x_plus, y_minus, y_plus, z_minus, z_plus };
inline constexpr std::array all_pad_acts{PadAct::guard,   PadAct::hold,   PadAct::x_minus, PadAct::x_plus,
                                         PadAct::y_minus, PadAct::y_plus, PadAct::z_minus, PadAct::z_plus};

QString pad_act_words(PadAct act);
/// The step that it makes; none for the guard and for Hold.
std::optional<JogKey> step_of(PadAct act);

class PadButtons {
 public:
  /// As they were kept; at first those that a pad has under the fingers: the left shoulder guards, the right face
  /// button holds, the cross steps X and Y, the upper and lower face button Z.
  static PadButtons kept();
  void keep() const;
  int of(PadAct act) const { return numbers_.at(act); }
  /// Whoever had that button has it no more, but Hold keeps its own. False where Hold would lose it, or nothing is left
  /// for it.
  bool assign(PadAct act, int button);

 private:
  std::map<PadAct, int> numbers_;
};

}  // namespace ypsi::app
