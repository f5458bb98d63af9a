#pragma once
// What a cause found in a cut is called, and what putting it right does; for the sheet Measure the cut.
#include <QString>

#include "app/session/session.h"
#include "core/tasks/cut_reading.h"

namespace ypsi::app {

/// "X is 0.12 % too long: 0.36 mm on 300 mm (±0.05)".
QString cause_sentence(const CutCause& cause, const Book& book);
/// "Steps of X to 80.370"; empty where nothing is corrected by it.
QString cure_words(const CutCause& cause, const Book& book);
/// What the cure changes and what it makes out of date.
QString cure_tip(const CutCause& cause);
/// "scale of X", "the cutter's diameter".
QString quantity_words(CutQuantity quantity, bool by_heads);  ///< what heads cut has no cutter
/// "Measure one more inside width along X, of another size: it tells the cutter from the scale."
QString missing_sentence(const MissingFeature& missing, bool by_heads);

}  // namespace ypsi::app
