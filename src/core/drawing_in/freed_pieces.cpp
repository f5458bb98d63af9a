#include "core/drawing_in/freed_pieces.h"

#include <algorithm>
#include <cmath>

#include "core/drawing_in/drawing_program.h"
#include "core/drawing_in/tabs.h"

namespace ypsi {
namespace {

constexpr std::size_t most_outlines = 400, most_pieces = 2000;

/// Whether what is cut comes loose.
bool goes_through(const Book& book, const LayerAct& act) {
  if (act.act != DrawnAct::on_line && act.act != DrawnAct::outside && act.act != DrawnAct::inside) return false;
  const auto head = head_of(book, act);
  const auto& heads = book.machine.heads;
  if (head && *head < heads.size() && !heads[*head].lower.empty()) return true;  // a holder, pressed through
  const double thick = book.job.stock_size[2];
  return !(thick > 0) || act.depth_mm >= thick;
}

std::vector<const Outline*> cut_through(const Book& book, const Drawing& drawing, const DrawingJob& job) {
  std::vector<const Outline*> all;
  for (const LayerAct& act : job.acts) {
    if (!goes_through(book, act)) continue;
    for (const DrawnContour& c : drawing.contours)
      if (c.closed && drawing.layers[c.layer].name == act.layer &&
          !takes_tabs(c.points, act.tabs, way_over_tab(book, act)))
        all.push_back(&c.points);
  }
  return all;
}

/// Each outline with the next ones within it as holes; what lies within a hole is a piece of its own.
std::vector<FreedPiece> nested(const std::vector<const Outline*>& outlines) {
  struct Sized {
    const Outline* outline;
    double area;
    std::size_t piece;
  };
  std::vector<Sized> by_size;
  for (const Outline* each : outlines)
    if (const double area = area_of(*each); area > 0) by_size.push_back({each, area, 0});
  std::stable_sort(by_size.begin(), by_size.end(), [](const Sized& a, const Sized& b) { return a.area > b.area; });
  std::vector<FreedPiece> pieces;
  for (std::size_t i = 0; i < by_size.size(); ++i) {
    by_size[i].piece = pieces.size();
    pieces.push_back({*by_size[i].outline, {}});
    // The smallest that encloses it: it leaves a hole there.
    for (std::size_t j = i; j-- > 0;)
      if (lies_within(by_size[i].outline->front(), *by_size[j].outline)) {
        pieces[by_size[j].piece].holes.push_back(*by_size[i].outline);
        break;
      }
  }
  return pieces;
}

void shift(FreedPiece& piece, PlanPoint by) {
  for (PlanPoint& p : piece.outline) p += by;
  for (Outline& hole : piece.holes)
    for (PlanPoint& p : hole) p += by;
}

}  // namespace

std::vector<FreedPiece> freed_pieces(const Book& book, const Drawing& drawing, const DrawingJob& job) {
  const auto outlines = cut_through(book, drawing, job);
  const auto copies = copy_shifts(drawing, job);
  if (outlines.size() > most_outlines || outlines.size() * copies.size() > most_pieces) return {};
  const auto one = nested(outlines);
  std::vector<FreedPiece> all;
  for (const PlanPoint& by : copies)
    for (FreedPiece piece : one) {
      shift(piece, by);
      all.push_back(std::move(piece));
    }
  return all;
}

Result<HoldDown> held_on_bed(const Book& book, std::vector<FreedPiece> in_work, double turn_rad) {
  const auto &x = book.job.zero(Axis::x), &y = book.job.zero(Axis::y);
  if (!x || !y)
    return fail("no_zero", "Where the stock will lie is not known yet: set work zero in X and Y first.", "work_zero");
  const PlanPoint zero(x->mm, y->mm), by = std::polar(1.0, turn_rad);
  const auto lay = [&](Outline& outline) {
    for (PlanPoint& p : outline) p = zero + p * by;
  };
  Outline stock =
      rectangle({book.job.stock_corner[0], book.job.stock_corner[1]}, {book.job.stock_size[0], book.job.stock_size[1]});
  lay(stock);
  for (FreedPiece& piece : in_work) {
    lay(piece.outline);
    for (Outline& hole : piece.holes) lay(hole);
  }
  return hold_down(book.machine.vacuum, stock, in_work);
}

}  // namespace ypsi
