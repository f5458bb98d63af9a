#pragma once
// A scale finding in words that a person says in a workshop.
#include <QString>
#include <QStringList>

#include "core/calibration/scale.h"
#include "core/units/length.h"

namespace ypsi::app {

struct StepsWords {
  QString lead;         ///< "X needs"
  QString figure;       ///< "159.36"
  QString was;          ///< "was 160.00, all five readings weighted"
  QString verdict;      ///< one or two strong sentences
  bool good = true;     ///< false: attention
  QString explanation;  ///< how sure, arithmetic, what it does to a part
};

/// `part_mm`: the owner's usual part along this axis; `longest_mm`: the longest move that the axis allows.
StepsWords describe(const ScaleInput& input, const ScaleResult& result, char axis, double part_mm, double longest_mm,
                    LengthUnit unit);
QString suspect_words(const Suspect& suspect, const ScaleInput& input);

}  // namespace ypsi::app
