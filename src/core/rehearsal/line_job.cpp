#include "core/rehearsal/line_job.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/book/worksheets/cut.h"
#include "core/book/worksheets/trials.h"
#include "core/program/head_coupon.h"
#include "core/tasks/coupon_choice.h"
#include "core/tasks/cut_heads.h"
#include "core/tasks/cut_reading.h"
#include "core/tasks/engraved_cut.h"
#include "core/tasks/trials.h"

namespace ypsi::rehearsal::lines {
namespace {

constexpr double edge_seen_mm = 2;  // the stock's edge is seen to about a millimetre
constexpr double within_mm = 0.1;

CouponKind kind_of(const Book& book) {
  return cut_by_heads(book.machine) ? CouponKind::heads : CouponKind::plate;
}

/// The stock as it is seen, less what is not sure of its edges; machine coordinates of the controller.
Result<Bench::Outline> sure_stock(Workshop& w) {
  auto seen = w.bench.stock_seen();
  if (!seen) return fail("no_stock", "There is nothing on the bed, so nothing can be cut.");
  return Bench::Outline{seen->x0 + edge_seen_mm, seen->y0 + edge_seen_mm, seen->x1 - edge_seen_mm,
                        seen->y1 - edge_seen_mm};
}

Result<void> make(Work& work) {
  Workshop& w = work.w;
  auto made = make_test_cut(w.book, kind_of(w.book), w.book.worksheets[cut_worksheet].instrument);
  if (!made) return tl::make_unexpected(made.error());
  work.coupon = std::move(made->coupon);
  w.book.worksheets[cut_worksheet] = std::move(made->worksheet);
  if (const auto& tick = w.book.worksheets[cut_worksheet].set_to) w.bench.turn_nose(*tick);
  return {};
}

/// Every size of the worksheet; returns by how much the worst is off beyond what its instrument leaves open, and by how
/// much the worst is off at all.
struct Worst {
  double off = 0, surely = 0;
};
Result<Worst> measure(Work& work) {
  Workshop& w = work.w;
  const WorkZero zero = w.link.status().work_zero;
  Worst worst;
  for (CutSize& s : w.book.worksheets[cut_worksheet].sizes) {
    const auto laid = as_laid(s, zero);
    if (!laid) continue;
    const Instrument& with = *w.book.instrument(instrument_for(w.book.worksheets[cut_worksheet], s));
    const auto read = w.bench.measure(*laid, with.name);
    if (!read) return tl::make_unexpected(read.error());
    s.measured_mm = *read;
    const double off = std::fabs(*read - s.nominal_mm), open = 2 * with.u_mm(s.nominal_mm);
    worst.off = std::max(worst.off, off);
    worst.surely = std::max(worst.surely, off - open);
  }
  return worst;
}

/// What is significant, put right where it belongs.
Result<void> correct(Work& work, const CutReading& said) {
  Workshop& w = work.w;
  Entry entry;
  entry.readings = cut_readings(w.book.worksheets[cut_worksheet]);
  for (const CutCause& c : said.causes) {
    if (!c.significant) continue;
    switch (c.kind) {
      case CutCauseKind::steps:
        if (auto ok = correct_scale(work, *c.axis, c.value, c.U); !ok) return ok;
        break;
      case CutCauseKind::lost_motion:
        take_slack_out(w, *c.axis, c.value);
        break;
      case CutCauseKind::head_place:
      case CutCauseKind::trailing:
        correct_head(w.book, c, entry);
        break;
      case CutCauseKind::nose:
        correct_depth_setting(w.book, c, entry);
        break;
      case CutCauseKind::z_zero:
        work.too_deep = c.value;
        break;
      case CutCauseKind::tip:
        correct_tip(w.book, c, entry);
        break;
      case CutCauseKind::plate_lie:
        work.r.problems.push_back(fmt::format(
            "Measure the cut: it is {:.2f} mm deeper on the right, {:.2f} at the back; the plate does not lie even.",
            c.off_x, c.off_y));
        break;
      case CutCauseKind::lean:
        // The rails were set by longer diagonals than these.
      case CutCauseKind::cutter:
      case CutCauseKind::blade:
        break;
    }
  }
  return {};
}

/// Z zero on the plate's top in its middle, by the touch plate.
Result<double> touched_top(Work& work, const Bench::Outline& stock) {
  Workshop& w = work.w;
  if (auto ok = see_the_circuit(w); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = w.go_over((stock.x0 + stock.x1) / 2, (stock.y0 + stock.y1) / 2); !ok)
    return tl::make_unexpected(ok.error());
  const auto top = top_by_plate(w);
  if (!top) return top;
  if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return tl::make_unexpected(ok.error());
  return *top + work.too_deep;
}

}  // namespace

bool are_made(const Book& book) {
  return cut_by_heads(book.machine) || (engraves(book.machine) && pointed_tool(book) && !book.plates.empty());
}

Verdict stock_and_program(Work& work) {
  Workshop& w = work.w;
  const auto stock = sure_stock(w);
  if (!stock) return tl::make_unexpected(stock.error());
  const double thickness = plate_material(w.book).total_mm;
  w.book.job.stock_size = {std::floor(stock->x1 - stock->x0), std::floor(stock->y1 - stock->y0),
                           thickness > 0 ? thickness : 1};
  w.book.job.stock_corner = {0, 0};
  const auto instrument = w.finest_for(std::max(w.book.job.stock_size[0], w.book.job.stock_size[1]));
  if (!instrument) return fail("no_instrument", "No instrument here reaches over what is to be cut.");
  w.book.worksheets[cut_worksheet].instrument = instrument->name;
  if (kind_of(w.book) == CouponKind::plate) {
    work.setting.tool = pointed_tool(w.book)->number;
    if (auto ok = put_tool(w, work.setting.tool); !ok) return tl::make_unexpected(ok.error());
    work.r.cutter = work.setting.tool;
    work.r.nominal_cutter = pointed_tool(w.book)->diameter;
  }
  if (auto ok = make(work); !ok) return tl::make_unexpected(ok.error());
  return fmt::format("{} with {} sizes",
                     kind_of(w.book) == CouponKind::plate ? "an engraving" : "a test cut of all heads",
                     work.coupon.features.size());
}

/// By eye: the pointer, the tool or the first head over the stock's corner; lines are measured from each other.
Verdict work_zero(Work& work) {
  Workshop& w = work.w;
  const auto stock = sure_stock(w);
  if (!stock) return tl::make_unexpected(stock.error());
  if (auto ok = w.go_over((stock->x0 + stock->x1) / 2, (stock->y0 + stock->y1) / 2); !ok)
    return tl::make_unexpected(ok.error());
  MachinePosition zero{stock->x0, stock->y0, w.link.status().position.z - w.bench.gap_seen()};
  if (kind_of(w.book) == CouponKind::plate) {
    const auto top = touched_top(work, *stock);
    if (!top) return tl::make_unexpected(top.error());
    zero.z = *top;
  }
  for (const Axis a : all_axes) {
    if (auto ok = w.link.set_work_zero(a, zero[a]); !ok) return tl::make_unexpected(ok.error());
    w.book.job.zero(a) = zero[a];
  }
  w.book.job.used().on_bed = false;
  w.book.job.used().z_tool = w.link.status().tool;
  work.r.work_zero = zero;
  return std::string("set at the stock's corner by eye");
}

Verdict measure_cut(Work& work) {
  Workshop& w = work.w;
  const auto first = measure(work);
  if (!first) return tl::make_unexpected(first.error());
  const auto said = read_cut(w.book);
  if (!said) return tl::make_unexpected(said.error());
  work.r.first_cut = said->sizes;
  for (const Axis a : all_axes) work.r.steps_when_cut[index(a)] = w.setting(a, "steps_per_mm");
  work.r.worst_before = first->off;
  if (auto ok = correct(work, *said); !ok) return tl::make_unexpected(ok.error());
  // The same again on a fresh piece.
  if (auto ok = w.home(); !ok) return tl::make_unexpected(ok.error());
  w.bench.lay_fresh_stock();
  if (auto ok = lines::work_zero(work); !ok) return ok;
  if (auto ok = make(work); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = run_cut(work); !ok) return tl::make_unexpected(ok.error());
  const auto second = measure(work);
  if (!second) return tl::make_unexpected(second.error());
  work.r.worst_after = second->off;
  if (second->surely > within_mm)
    work.r.problems.push_back(
        fmt::format("Measure the cut: after the corrections a size is still off by {:.2f} mm.", second->off));
  return fmt::format("largest deviation {:.2f} mm, after the corrections {:.2f} mm", first->off, second->off);
}

}  // namespace ypsi::rehearsal::lines
