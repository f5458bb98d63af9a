#pragma once
// The first engraving of an engraver, to be measured: crosses at the plate's corners and one in its middle, come to
// from one side, and a square round the middle one that is gone round. Lengths mm, work frame. Source: handbook of the
// trade, 16 and 23.
//
// What each tells, so that no cause hides in another: crosses keep the scale alone, the square comes out narrower by
// the lost motion, diagonals tell the lean; how wide the lines are in five places tells how deep they are there, hence
// the nose or Z zero and how the plate lies; a depth read beside a width tells the tip.
#include "core/book/book.h"
#include "core/program/coupon.h"

namespace ypsi {

struct EngravedCouponSetting {
  double stock_width = 0, stock_height = 0;  ///< mm, > 0
  double corner_x = 0, corner_y = 0;         ///< its front left corner, work frame
  std::size_t head = 0;                      ///< that engraves, of the machine's
  int tool = 0;                              ///< a pointed one of the book
  double depth = 0;                          ///< that is meant, > 0
  double sent_to = 0;    ///< below the top, what Z is sent to: the depth, or more where a nose rides
  std::string before{};  ///< for people, before the first line: what the nose is set to
  double feed = 300;     ///< mm/min, > 0
  double rpm = 0;        ///< 0: the spindle stands, or is a hand's
};

/// Features: spacings, `between` for the square, diagonals, widths, a depth. Errors: `no_shape` where the tool is not
/// in the book or as wide at its tip as above; `no_room` with the size of plate that it needs; `out_of_range`; those of
/// head_lines_program().
Result<Coupon> make_engraved_coupon(const Book& book, const EngravedCouponSetting& setting);

}  // namespace ypsi
