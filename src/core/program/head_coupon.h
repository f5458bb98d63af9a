#pragma once
// The test cut of a table whose heads cut, draw and crease: two squares cut by the first head, one gone round each way,
// its crosses at the corners, a cross by every other head beside one of them, a fold in the first square and two lines
// of a drag knife that face each other. Lengths mm, work frame. Source: handbook of the trade, 16, 18 and 20.
//
// What each tells, so that no cause hides in another: both squares come out narrower by the lost motion, but a blade
// that stands beside its path narrows one and widens the other; crosses come to from one side keep the scale alone;
// diagonals between them tell the lean; another head's cross its place; the facing lines what a knife trails too much.
#include "core/book/book.h"
#include "core/program/coupon.h"

namespace ypsi {

struct HeadCouponSetting {
  double stock_width = 0, stock_height = 0;     ///< mm, > 0
  double corner_x = 0, corner_y = 0;            ///< its front left corner, work frame
  double feed = 3000;                           ///< mm/min, > 0
  std::vector<std::optional<double>> levels{};  ///< on each head's gauge, where its blocks take one
};

/// Whether what the machine counts for is no spindle, and cuts: then this is its test cut.
bool cut_by_heads(const MachineSetup& machine);

/// Errors: `no_heads` where cut_by_heads() is false; `no_room` with the size of stock that it needs; those of
/// head_lines_program(), as `no_place` for a head whose place was not measured.
Result<Coupon> make_head_coupon(const Book& book, const HeadCouponSetting& setting);

}  // namespace ypsi
