#pragma once
// What a part will be off by, in words; for the page and for the certificate.
#include <QString>

#include "core/tasks/budget.h"
#include "core/units/length.h"

namespace ypsi::app {

/// "inside sizes", "outside sizes", "spacings"
QString size_kind_name(SizeKind kind);
/// "+0.64 ±0.39", the unit stands beside.
QString off_words(const OffBy& off, LengthUnit unit);
/// "outside sizes come out 0.64 mm short along X, ±0.39 mm": the size that the headline is of; empty where there is
/// none.
QString worst_size_words(const Budget& budget, LengthUnit unit);
/// "without lost motion X and cutter T1, which nobody measured": what is in no size because it is unknown; empty where
/// all is known.
QString without_words(const Budget& budget);

}  // namespace ypsi::app
