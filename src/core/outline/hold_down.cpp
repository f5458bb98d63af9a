#include "core/outline/hold_down.h"

namespace ypsi {
namespace {

constexpr double mm2_per_cm2 = 100, m2_per_mm2 = 1e-6, pa_per_kPa = 1e3;
constexpr double none_of_it = 1e-9;  // of a zone: what rounding leaves

Outline outline_of(const VacuumZone& zone) {
  return rectangle({zone.x_mm, zone.y_mm}, {zone.width_mm, zone.depth_mm});
}

}  // namespace

Result<HoldDown> hold_down(const VacuumBed& bed, const Outline& stock, const std::vector<FreedPiece>& pieces) {
  if (bed.zones.empty())
    return fail("no_zones", "The book has no vacuum zones; say on the sheet Build where each lies.", "zones");
  HoldDown found;
  found.stock = area_without(stock, {});
  if (!(found.stock > 0))
    return fail("no_stock", "Say how large the stock is: which zones lie under it follows from that.", "stock");
  std::vector<Outline> open;
  for (const VacuumZone& zone : bed.zones) {
    const Outline outline = outline_of(zone);
    const double whole = area_of(outline), covered = common_area(stock, {}, {outline});
    ZoneCover cover{zone.name, covered / whole};
    cover.open = cover.covered > none_of_it && cover.covered + none_of_it >= bed.open_share;
    if (cover.open) {
      cover.to_mask = whole - covered;
      open.push_back(outline);
    }
    found.zones.push_back(std::move(cover));
  }
  const auto force = [&bed](double held) -> std::optional<double> {
    if (!(bed.pressure_kPa > 0)) return std::nullopt;
    return held * m2_per_mm2 * bed.pressure_kPa * pa_per_kPa * bed.friction;
  };
  found.held = common_area(stock, {}, open);
  found.force_N = force(found.held);
  for (const FreedPiece& piece : pieces) {
    HeldPiece held;
    held.area = area_without(piece.outline, piece.holes);
    held.held = common_area(piece.outline, piece.holes, open);
    held.force_N = force(held.held);
    held.too_small = held.area < bed.smallest_piece_cm2 * mm2_per_cm2 || !(held.held > none_of_it * held.area);
    found.pieces.push_back(held);
  }
  return found;
}

}  // namespace ypsi
