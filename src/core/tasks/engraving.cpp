#include "core/tasks/engraving.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/book/record.h"
#include "core/book/worksheets/trials.h"
#include "core/metrology/normal.h"
#include "core/program/tool_shape.h"

namespace ypsi {
namespace {

constexpr const char* depth_kind = "depth";
constexpr int ladder_grooves = 6;
constexpr double groove_mm = 12, free_margin_mm = 4, deepest_part = 0.8;  // of the plate, where its total is said
constexpr double usual_deepest_mm = 0.5, shallowest_mm = 0.05, tick_grid = 1, depth_grid_mm = 0.01;

double width_at(const Tool& tool, double depth) {
  return 2 * radius_at(tool, std::max(0.0, depth));
}

/// Standard uncertainty of a depth for one of what was measured, at about this depth.
double as_depth(const Book& book, double u, double depth) {
  if (!book.worksheets[trials_worksheet].depth.by_width) return u;
  const Tool* tool = engraving_tool(book);
  const double wide = tool ? width_at(*tool, depth) : 0;
  return tool ? std::fabs(height_at(*tool, (wide + u) / 2) - height_at(*tool, (wide - u) / 2)) / 2 : u;
}

nlohmann::json said(const std::optional<double>& set) {
  return {{"set", set ? nlohmann::json(*set) : nlohmann::json()}};
}

}  // namespace

std::string engraving_subject(const std::string& material, const std::string& head, int tool) {
  TrialsWorksheet s;
  s.material = material;
  s.head = head;
  s.tool = tool;
  return trial_subject(s) + ", depth";
}

bool by_nose(const Book& book) {
  const Head* head = trial_head(book);
  return head && has_nose(*head) && !book.worksheets[trials_worksheet].depth.by_z;
}

Material plate_material(const Book& book) {
  return material_named(book.job.materials, book.worksheets[trials_worksheet].material);
}

const Tool* engraving_tool(const Book& book) {
  return book.tool(book.worksheets[trials_worksheet].tool);
}

Result<double> groove_depth(const Book& book, const TickGroove& groove) {
  if (!book.worksheets[trials_worksheet].depth.by_width) return groove.measured_mm;
  const Tool* tool = engraving_tool(book);
  if (!tool || is_flat(*tool))
    return fail("no_shape",
                "A width tells the depth of a pointed tool alone: choose the tool that engraved, with its angle and "
                "tip on Tools, or measure depths.",
                "tool");
  return height_at(*tool, groove.measured_mm / 2);
}

Result<EngravingFinding> evaluate_engraving(const Book& book) {
  const DepthSheet& s = book.worksheets[trials_worksheet].depth;
  const Instrument* instrument = book.instrument(s.instrument);
  if (!instrument)
    return fail("no_instrument", "Say with what the grooves were measured: choose an instrument.", "instrument");
  std::vector<Groove> grooves;
  double deepest = 0;
  for (const TickGroove& g : s.grooves) {
    const auto depth = groove_depth(book, g);
    if (!depth) return tl::make_unexpected(depth.error());
    grooves.push_back({g.tick, *depth});
    deepest = std::max(deepest, *depth);
  }
  EngravingFinding f;
  f.depth = s.wanted_mm > 0 ? s.wanted_mm : deepest;
  const double own = as_depth(book, std::sqrt(instrument->variance_mm2()), f.depth),
               common = as_depth(book, instrument->u_cal_mm, f.depth);
  const auto ticks = evaluate_ticks(grooves, f.depth, own);
  if (!ticks) return tl::make_unexpected(ticks.error());
  f.ticks = *ticks;
  const double U_common = normal_quantile(0.975) * common, u_next = std::hypot(f.ticks.u_next, common);
  f.U_next = std::hypot(f.ticks.U_next, U_common);
  f.ticks.U_zero_tick = std::hypot(f.ticks.U_zero_tick, U_common / std::fabs(f.ticks.mm_per_tick));
  const Material material = plate_material(book);
  const PlateLayers plate{material.cap_mm, std::max(material.total_mm, material.cap_mm), s.core_left_mm};
  f.margins = depth_margins(plate, f.depth, f.U_next);
  if (plate.cap > 0) f.chance_missed = chance_above(f.depth, plate.cap, u_next, f.ticks.dof);
  if (const Tool* tool = engraving_tool(book)) {
    f.width = width_at(*tool, f.depth);
    f.U_width = (width_at(*tool, f.depth + f.U_next) - width_at(*tool, f.depth - f.U_next)) / 2;
  }
  return f;
}

void keep_engraving(Book& book, const EngravingFinding& found, const std::string& time) {
  TrialsWorksheet& s = book.worksheets[trials_worksheet];
  const Head* head = trial_head(book);
  TrialEntry f{.material = s.material, .head = head ? head->name : "", .kind = depth_kind};
  f.gauge = by_nose(book) ? head->gauge : "Z";
  f.tool = s.tool;
  f.set = found.ticks.tick;
  f.looks = static_cast<double>(s.depth.grooves.size());
  f.mm_per_tick = found.ticks.mm_per_tick;
  f.zero_tick = found.ticks.zero_tick;
  f.U_zero_tick = found.ticks.U_zero_tick;
  f.depth = found.depth;
  f.U_depth = found.U_next;
  if (const double cap = plate_material(book).cap_mm; cap > 0) f.cap = cap;
  const auto was = engraving_for(book, s.material, s.tool);
  Entry e;
  e.time = time;
  e.sheet = trials_id;
  s.head = f.head;
  e.subject = engraving_subject(s.material, s.head, s.tool);
  e.instrument = s.depth.instrument;
  for (const TickGroove& g : s.depth.grooves)
    e.readings.push_back({{"tick", g.tick}, {s.depth.by_width ? "width_mm" : "depth_mm", g.measured_mm}});
  e.result = result_of(f);
  e.as_found = said(was ? was->set : std::nullopt);
  e.as_left = said(f.set);
  s.depth.grooves.clear();
  book.history.push_back(std::move(e));
}

void correct_engraving(Book& book, const EngravedAs& as, double too_deep, double U, Entry entry) {
  auto f = engraving_for(book, as.material, as.tool);
  if (!f) f = engraving_for(book, as.material, 0);  // by whichever tool it was tried with
  if (!f || !f->mm_per_tick || *f->mm_per_tick == 0) return;
  f->tool = as.tool;
  entry.sheet = trials_id;
  entry.as_found = said(f->set);
  f->zero_tick = as.set_to - (as.depth + too_deep) / *f->mm_per_tick;
  f->U_zero_tick = U / std::fabs(*f->mm_per_tick);
  if (f->depth) f->set = *f->zero_tick + *f->depth / *f->mm_per_tick;
  // The next groove is no surer than it was.
  f->U_depth = std::max(U, f->U_depth.value_or(U));
  entry.result = result_of(*f);
  entry.as_left = said(f->set);
  book.history.push_back(std::move(entry));
}

std::optional<TrialEntry> engraving_for(const Book& book, const std::string& material, int tool) {
  for (RecordWalk walk(book); walk.step();) {
    if (walk.entry().sheet != trials_id || !walk.counts()) continue;
    auto f = finding_of<TrialEntry>(walk.entry());
    if (f.mm_per_tick && f.material == material && (tool == 0 || f.tool == tool)) return f;
  }
  return std::nullopt;
}

Result<EngravingLadder> engraving_ladder(const Book& book) {
  const Head* head = trial_head(book);
  const DepthSheet& s = book.worksheets[trials_worksheet].depth;
  const auto& size = book.job.stock_size;
  if (!(size[0] > 2 * free_margin_mm + groove_mm) || !(size[1] > 2 * free_margin_mm))
    return fail("no_stock", "Say on Stock and program how large the piece is that the ladder is engraved in.", "stock");
  const bool nose = by_nose(book);
  const double total = plate_material(book).total_mm;
  double low = shallowest_mm, high = total > 0 ? deepest_part * total : usual_deepest_mm;
  if (s.wanted_mm > 0) high = std::min(high, 2 * s.wanted_mm);
  if (nose) {
    low = head->gauge_low;
    high = head->gauge_high;
    // Once the ticks are told, about the depth that is wanted; before, over the middle of the dial.
    if (const auto f = evaluate_engraving(book); f && f->ticks.mm_per_tick > 0) {
      const double reach = std::max(2.0, std::fabs(f->ticks.tick - f->ticks.zero_tick) / 2);
      low = std::max(low, f->ticks.tick - reach);
      high = std::min(high, f->ticks.tick + reach);
    }
  }
  if (!(low < high)) return fail("no_range", "The ladder has no room between its lowest and its highest.", "depth");
  EngravingLadder ladder;
  const double apart = (size[1] - 2 * free_margin_mm) / (ladder_grooves - 1), grid = nose ? tick_grid : depth_grid_mm;
  const std::size_t of = head ? static_cast<std::size_t>(head - book.machine.heads.data()) : 0;
  for (int i = 0; i < ladder_grooves; ++i) {
    const double tick = std::round((low + (high - low) * i / (ladder_grooves - 1)) / grid) * grid;
    HeadLine line{.head = of};
    line.x0 = book.job.stock_corner[0] + free_margin_mm;
    line.x1 = line.x0 + groove_mm;
    line.y0 = line.y1 = book.job.stock_corner[1] + free_margin_mm + apart * i;
    line.depth = nose ? nose_press_mm : tick;
    if (nose) line.before = fmt::format("turn the nose to {:g} {}, always turning the same way", tick, head->gauge);
    ladder.lines.push_back(std::move(line));
    ladder.ticks.push_back(tick);
  }
  return ladder;
}

}  // namespace ypsi
