#include "core/tasks/coupon_choice.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/book/record.h"
#include "core/book/worksheets/cut.h"
#include "core/program/engraved_coupon.h"
#include "core/program/head_coupon.h"
#include "core/program/own_blocks.h"
#include "core/program/tool_shape.h"
#include "core/rehearsal/workshop.h"
#include "core/tasks/engraving.h"
#include "core/tasks/heads.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/measure_cut.h"
#include "core/tasks/squareness.h"
#include "core/tasks/standing.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/stock_program.h"
#include "core/tasks/trials.h"

namespace ypsi {
namespace {

const Tool* tool_of(const Book& book, int number) {
  if (number != 0) return book.tool(number);
  if (const Tool* t = book.tool(book.job.used().z_tool); t && t->diameter > 0) return t;
  const auto found = std::find_if(book.tools.begin(), book.tools.end(), [](const Tool& t) { return t.diameter > 0; });
  return found == book.tools.end() ? nullptr : &*found;
}

tl::unexpected<Error> no_stock(const Book& book) {
  return fail("no_stock",
              std::string("The book does not know the stock's size; type it on the sheet ") +
                  stock_program_task().title_at(book.machine) + ".",
              "--book");
}

/// What a head's gauge is set to: as the newest trials have it, else in the middle of what its owner tries.
std::optional<double> level_of(const Book& book, const Head& head) {
  if (!says_level(head, HeadAct::lower) && !says_level(head, HeadAct::on)) return std::nullopt;
  for (const KeptSetting& kept : kept_settings(book))
    if (kept.head == head.name && kept.set) return kept.set;
  return (head.gauge_low + head.gauge_high) / 2;
}

Result<HeadCouponSetting> head_coupon_setting(const Book& book) {
  const auto& stock = book.job.stock_size;
  if (!(stock[0] > 0 && stock[1] > 0)) return no_stock(book);
  HeadCouponSetting setting{.stock_width = stock[0], .stock_height = stock[1]};
  setting.corner_x = book.job.stock_corner[0];
  setting.corner_y = book.job.stock_corner[1];
  for (const Head& h : book.machine.heads) setting.levels.push_back(level_of(book, h));
  return setting;
}

/// With what is kept of its material and tool; a depth that was not tried is sent to by Z alone.
Result<TestCut> make_engraving(const Book& book, const std::string& instrument, int number) {
  const auto& stock = book.job.stock_size;
  if (!(stock[0] > 0 && stock[1] > 0)) return no_stock(book);
  const Tool* tool = number > 0 ? book.tool(number) : pointed_tool(book);
  if (!tool)
    return fail("no_tool", "The book has no pointed tool; enter the one that engraves on Tools, with angle and tip.",
                "--tool");
  const TrialsWorksheet& trials = book.worksheets[trials_worksheet];
  auto kept = engraving_for(book, trials.material, tool->number);
  if (!kept) kept = engraving_for(book, trials.material, 0);
  const bool nose = by_nose(book);
  if (nose && !(kept && kept->set))
    return fail("no_depth", "At which tick the nose engraves how deep is not known yet; try it on Trials.", "depth");
  const Head* head = trial_head(book);
  constexpr double usual_engraving_mm = 0.2;
  EngravedCouponSetting setting{.stock_width = stock[0], .stock_height = stock[1]};
  setting.corner_x = book.job.stock_corner[0];
  setting.corner_y = book.job.stock_corner[1];
  setting.head = head ? static_cast<std::size_t>(head - book.machine.heads.data()) : 0;
  setting.tool = tool->number;
  setting.depth = kept && kept->depth          ? *kept->depth
                  : trials.depth.wanted_mm > 0 ? trials.depth.wanted_mm
                                               : usual_engraving_mm;
  setting.sent_to = nose ? nose_press_mm : kept && kept->set ? *kept->set : setting.depth;
  if (nose)
    setting.before =
        fmt::format("turn the nose to {:.1f} {}, always turning the same way", *kept->set, head ? head->gauge : "");
  if (!head || needs_spindle(head->kind)) setting.rpm = book.machine.spindle.max_rpm / 2;
  auto coupon = make_engraved_coupon(book, setting);
  if (!coupon) return tl::make_unexpected(coupon.error());
  CouponSetting of;
  of.tool = tool->number;
  of.stock_width = stock[0];
  of.stock_height = stock[1];
  CutWorksheet sheet = worksheet_of(*coupon, CouponKind::plate, of, instrument);
  sheet.depth_mm = setting.depth;
  sheet.material = trials.material;
  if (nose) sheet.set_to = *kept->set;
  if (book.instrument(magnifier)) sheet.short_instrument = magnifier;
  return TestCut{std::move(*coupon), std::move(sheet)};
}

/// The wanted one where it spans `size`; else the finest of the book that does; the wanted one where none does.
std::string spanning(const Book& book, const std::string& wanted, double size) {
  if (reach_of(wanted) >= size) return wanted;
  const auto finest = finest_for(book.instruments, size);
  return finest ? finest->name : wanted;
}

double rest_for(const Book& book) {
  double rest = 0;
  for (const Axis a : {Axis::x, Axis::y}) {
    const auto at = newest(book, lost_motion_id, std::string(1, letter(a)));
    const auto found = at ? finding_of<LostMotionEntry>(book.history[*at]) : LostMotionEntry{};
    rest = std::max(rest, last_pass_rest(found.lost_motion, found.U.value_or(0)));
  }
  return rest;
}

}  // namespace

const Tool* pointed_tool(const Book& book) {
  const auto pointed = [](const Tool& t) { return !is_flat(t) && t.kind != "drill"; };
  if (const Tool* t = engraving_tool(book); t && pointed(*t)) return t;
  const auto found = std::find_if(book.tools.begin(), book.tools.end(), pointed);
  return found == book.tools.end() ? nullptr : &*found;
}

CouponChoice choose_coupon(const Book& book) {
  const Standings standings(book);
  const auto current = [&](const char* sheet, std::optional<Axis> axis = {}) {
    return standings.of(sheet, axis).standing == Standing::current;
  };
  const Standing cut = standings.of(measure_cut_id).standing;
  const bool sizes_settled = cut == Standing::current && current(steps_per_unit_id, Axis::x) &&
                             current(steps_per_unit_id, Axis::y) && current(squareness_id);
  if (cut_by_heads(book.machine)) {
    const bool settled = sizes_settled && current(heads_id);
    return {CouponKind::heads, cut == Standing::never_done ? CouponReason::heads_unknown
                               : settled                   ? CouponReason::heads_settled
                                                           : CouponReason::heads_old};
  }
  if (engraves(book.machine))
    return {CouponKind::plate, cut == Standing::never_done ? CouponReason::plate_unknown
                               : sizes_settled             ? CouponReason::plate_settled
                                                           : CouponReason::plate_old};
  if (cut == Standing::never_done) return {CouponKind::frame, CouponReason::sizes_unknown};
  if (!current(steps_per_unit_id, Axis::x) || !current(steps_per_unit_id, Axis::y) || cut != Standing::current)
    return {CouponKind::frame, CouponReason::sizes_old};
  if (!current(lost_motion_id, Axis::x) || !current(lost_motion_id, Axis::y))
    return {CouponKind::circle, CouponReason::lost_motion};
  if (!current(squareness_id)) return {CouponKind::square, CouponReason::lean};
  if (!current(steps_per_unit_id, Axis::z)) return {CouponKind::depths, CouponReason::depth};
  return {CouponKind::lines, CouponReason::nothing};
}

Result<CouponSetting> coupon_setting(const Book& book, int number, CutMaterial material) {
  const Tool* tool = tool_of(book, number);
  if (!tool || !(tool->diameter > 0))
    return fail("no_tool", "The book has no such tool with a diameter; enter it on the sheet Tools, or name another.",
                "--tool");
  const auto& stock = book.job.stock_size;
  if (!(stock[0] > 0 && stock[1] > 0 && stock[2] > 0)) return no_stock(book);
  CouponSetting setting;
  setting.stock_width = stock[0];
  setting.stock_height = stock[1];
  setting.thickness = stock[2];
  setting.zero_on_bed = book.job.used().on_bed;
  setting.sheet = book.job.sheet_mm;
  setting.corner_x = book.job.stock_corner[0];
  setting.corner_y = book.job.stock_corner[1];
  setting.frame = book.job.frame;
  setting.takes_tools = !book.machine.no_tool_words;
  setting.spin_up_s = spin_up_of(book.machine.spindle);
  setting.safe = std::max(setting.safe, tallest_clamp(book) + over_clamps_mm);
  setting.tool = tool->number;
  setting.tool_diameter = tool->diameter;
  setting.depth = std::min(setting.depth, stock[2] / 2);
  setting.rpm = std::min(setting.rpm, book.machine.spindle.max_rpm);
  setting.rest = rest_for(book);
  set_for(material, setting);
  return setting;
}

CutWorksheet worksheet_of(const Coupon& coupon, CouponKind kind, const CouponSetting& setting,
                          const std::string& instrument) {
  CutWorksheet sheet;
  sheet.coupon = name(kind);
  sheet.instrument = instrument;
  sheet.tool = setting.tool;
  sheet.tool_diameter_mm = setting.tool_diameter;
  sheet.stock_width_mm = setting.stock_width;
  sheet.stock_height_mm = setting.stock_height;
  for (const CouponFeature& f : coupon.features) {
    CutSize size{f.name, f.kind, f.axis, f.nominal, {}, std::array{f.at.x, f.at.y, f.at.z}, {}};
    size.head = f.head;
    if (has_other(f.kind)) size.other_mm = std::array{f.other.x, f.other.y, f.other.z};
    sheet.sizes.push_back(std::move(size));
  }
  return sheet;
}

std::vector<CouponKind> coupon_kinds(const MachineSetup& machine) {
  if (cut_by_heads(machine)) return {CouponKind::heads};
  std::vector<CouponKind> milled{CouponKind::frame, CouponKind::depths, CouponKind::square, CouponKind::circle,
                                 CouponKind::lines};
  if (engraves(machine)) milled.insert(milled.begin(), CouponKind::plate);
  return milled;
}

Result<TestCut> make_test_cut(const Book& book, CouponKind kind, const std::string& instrument, int tool,
                              CutMaterial material) {
  if (kind == CouponKind::plate) return make_engraving(book, instrument, tool);
  CouponSetting setting;
  Result<Coupon> coupon;
  if (kind == CouponKind::heads) {
    const auto by_heads = head_coupon_setting(book);
    if (!by_heads) return tl::make_unexpected(by_heads.error());
    setting.stock_width = by_heads->stock_width;
    setting.stock_height = by_heads->stock_height;
    coupon = make_head_coupon(book, *by_heads);
  } else {
    const auto milled = coupon_setting(book, tool, material);
    if (!milled) return tl::make_unexpected(milled.error());
    setting = *milled;
    coupon = make_coupon(kind, setting);
  }
  if (!coupon) return tl::make_unexpected(coupon.error());
  CutWorksheet worksheet = worksheet_of(*coupon, kind, setting, instrument);
  constexpr const char* fine = "caliper";
  if (kind == CouponKind::heads) {
    worksheet.instrument = spanning(book, instrument, std::hypot(setting.stock_width, setting.stock_height));
    if (worksheet.instrument != fine && book.instrument(fine)) worksheet.short_instrument = fine;
  }
  return TestCut{std::move(*coupon), std::move(worksheet)};
}

}  // namespace ypsi
