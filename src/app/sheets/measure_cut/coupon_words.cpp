#include "app/sheets/measure_cut/coupon_words.h"

#include "app/sheets/measure_cut_sheet.h"

namespace ypsi::app {

QString coupon_words(CouponKind kind) {
  switch (kind) {
    case CouponKind::frame:
      return MeasureCutSheet::tr("pockets, tenons and depths");
    case CouponKind::depths:
      return MeasureCutSheet::tr("steps of depth");
    case CouponKind::square:
      return MeasureCutSheet::tr("four holes for the diagonals");
    case CouponKind::circle:
      return MeasureCutSheet::tr("circles");
    case CouponKind::heads:
      return MeasureCutSheet::tr("two squares, and crosses of all heads");
    case CouponKind::plate:
      return MeasureCutSheet::tr("crosses and a square, engraved");
    case CouponKind::lines:
      break;
  }
  return MeasureCutSheet::tr("rows of lines");
}

QString reason_words(CouponReason reason) {
  switch (reason) {
    case CouponReason::sizes_unknown:
      return MeasureCutSheet::tr(
          "Nothing was cut and measured yet: two sizes of pocket and of tenon tell scale and cutter apart.");
    case CouponReason::sizes_old:
      return MeasureCutSheet::tr("Something changed since the last cut was measured: sizes first.");
    case CouponReason::lost_motion:
      return MeasureCutSheet::tr("Lost motion is not known or out of date: circles show it.");
    case CouponReason::lean:
      return MeasureCutSheet::tr("Squareness is not known or out of date: diagonals tell it.");
    case CouponReason::depth:
      return MeasureCutSheet::tr("The scale of Z is not known or out of date: steps of depth tell it.");
    case CouponReason::heads_unknown:
      return MeasureCutSheet::tr(
          "Nothing was cut and measured yet: squares cut both ways round and a cross by each head tell scale, lost "
          "motion, blade and heads apart.");
    case CouponReason::heads_old:
      return MeasureCutSheet::tr("Something changed since the last cut was measured: squares and crosses tell what.");
    case CouponReason::heads_settled:
      return MeasureCutSheet::tr("All is known: cut it again to see that it still holds.");
    case CouponReason::plate_unknown:
      return MeasureCutSheet::tr(
          "Nothing was engraved and measured yet: crosses, a square round and how wide its lines are tell scale, lost "
          "motion, lean, depth and how the plate lies apart.");
    case CouponReason::plate_old:
      return MeasureCutSheet::tr("Something changed since the last engraving was measured: its lines tell what.");
    case CouponReason::plate_settled:
      return MeasureCutSheet::tr("All is known: engrave it again to see that it still holds.");
    case CouponReason::nothing:
      break;
  }
  return MeasureCutSheet::tr("All is known: lines at uneven distances show what repeats with a screw.");
}

}  // namespace ypsi::app
