#pragma once
// What a test part is called, and why it is the one to cut next; for the sheet Measure the cut.
#include <QString>

#include "core/tasks/coupon_choice.h"

namespace ypsi::app {

/// "pockets, tenons and depths"
QString coupon_words(CouponKind kind);
/// "Lost motion is not known or out of date: circles show it."
QString reason_words(CouponReason reason);

}  // namespace ypsi::app
