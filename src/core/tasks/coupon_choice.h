#pragma once
// Which test cut tells most, given what a book already knows.
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/book/worksheets/cut.h"
#include "core/program/coupon.h"

namespace ypsi {

enum class CouponReason {
  sizes_unknown,
  sizes_old,
  lost_motion,
  lean,
  depth,
  nothing,
  heads_unknown,  ///< at a table nothing was cut and measured yet
  heads_old,      ///< something changed there since
  heads_settled,
  plate_unknown,  ///< at an engraver nothing was engraved and measured yet
  plate_old,      ///< something changed there since
  plate_settled,
};

struct CouponChoice {
  CouponKind kind = CouponKind::frame;
  CouponReason reason = CouponReason::sizes_unknown;
};

/// The one that settles the most that is still unknown or out of date; rows of lines where all is settled, since they
/// show what no other does.
CouponChoice choose_coupon(const Book& book);

/// What make_coupon() needs, for the book's stock and the tool `number`; 0: the one with which Z zero was set, else the
/// first whose diameter is known. Errors: `no_tool`, `no_stock`.
Result<CouponSetting> coupon_setting(const Book& book, int number, CutMaterial material = CutMaterial::wood);

/// A test cut, and the worksheet for it: its sizes, nothing measured yet.
struct TestCut {
  Coupon coupon;
  CutWorksheet worksheet;
};

/// The pointed tool that was tried on Trials; else the first of the book; null without one.
const Tool* pointed_tool(const Book& book);

/// The kinds that this machine can make.
std::vector<CouponKind> coupon_kinds(const MachineSetup& machine);

/// `tool` as for coupon_setting(); of no meaning for a cut by heads. There an instrument that spans the stock takes the
/// place of one that does not, and what lies close together is measured with a caliper where the book has one; lines of
/// an engraving under a magnifier. Errors: those of coupon_setting(), make_coupon(), make_head_coupon() and
/// make_engraved_coupon(); `no_depth` where nobody knows what a nose is to be set to.
Result<TestCut> make_test_cut(const Book& book, CouponKind kind, const std::string& instrument, int tool = 0,
                              CutMaterial material = CutMaterial::wood);
/// The worksheet for a test cut made with that setting.
CutWorksheet worksheet_of(const Coupon& coupon, CouponKind kind, const CouponSetting& setting,
                          const std::string& instrument);

}  // namespace ypsi
