#include "core/drawing_in/drawing_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <iterator>

namespace ypsi {
namespace {

constexpr double smallest_mm = 2;  // no part is smaller altogether
constexpr std::size_t told_one_by_one = 20;

std::string source_words(const Drawing& drawing, std::uint32_t source) {
  return drawing.format == "DXF" ? fmt::format("line {}", source) : fmt::format("element {}", source);
}

std::string place_words(PlanPoint p) {
  return fmt::format("X {:.2f} Y {:.2f}", p.real(), p.imag());
}

}  // namespace

std::vector<LayerSum> layer_sums(const Drawing& drawing) {
  std::vector<LayerSum> sums;
  for (const DrawnLayer& l : drawing.layers) sums.push_back({l.name, l.colour});
  for (const DrawnContour& c : drawing.contours) {
    LayerSum& sum = sums[c.layer];
    ++(c.closed ? sum.closed : sum.open);
    sum.length_mm += length_of(c);
  }
  return sums;
}

std::vector<DrawingFinding> look_over(const Drawing& drawing, const Mended& mended, const MachineSetup& machine) {
  std::vector<DrawingFinding> all;
  const auto box = drawing.extents();
  const double width = box ? box->high.real() - box->low.real() : 0,
               height = box ? box->high.imag() - box->low.imag() : 0;
  const std::string size = fmt::format("{:.1f} by {:.1f} mm", width, height);
  if (!box) all.push_back({"empty", "There is no line in this drawing that can be cut.", {}, {}});
  if (box && drawing.unit_from == UnitFrom::usual)
    all.push_back({"unit_not_said",
                   fmt::format("How large is it? {}, so that it is {}. Measure one dimension of it, and say if it is "
                               "another.",
                               drawing.unit_words, size),
                   {},
                   {}});
  const double bed_x = machine.axis(Axis::x).travel, bed_y = machine.axis(Axis::y).travel;
  const bool fits = (width <= bed_x && height <= bed_y) || (width <= bed_y && height <= bed_x);
  if (box && std::max(width, height) < smallest_mm)
    all.push_back(
        {"size_absurd", fmt::format("It is {} in all: is the unit right ({})?", size, drawing.unit_words), {}, {}});
  else if (box && !fits)
    all.push_back({"larger_than_bed",
                   fmt::format("It is {}, and the machine reaches {:.0f} by {:.0f} mm; is the unit right ({})?", size,
                               bed_x, bed_y, drawing.unit_words),
                   {},
                   {}});
  for (std::size_t i = 0; i < std::min(mended.joined.size(), told_one_by_one); ++i) {
    const JoinedEnds& j = mended.joined[i];
    all.push_back({"joined",
                   fmt::format("Two ends of “{}” were {:.3f} mm apart at {} and are joined.",
                               drawing.layers[j.layer].name, j.gap, place_words(j.at)),
                   j.at,
                   {}});
  }
  // Where nothing is closed, nor nearly so, lines are meant to end: folds, ticks, names.
  const auto sums = layer_sums(drawing);
  std::vector<OpenEnd> odd;
  std::copy_if(mended.open.begin(), mended.open.end(), std::back_inserter(odd),
               [&](const OpenEnd& e) { return e.nearly_closed || sums[e.layer].closed > 0; });
  for (std::size_t i = 0; i < std::min(odd.size(), told_one_by_one); ++i) {
    const OpenEnd& e = odd[i];
    all.push_back({"open_end",
                   fmt::format("A line of “{}” ends at {} ({}){}.", drawing.layers[e.layer].name, place_words(e.at),
                               source_words(drawing, e.source),
                               e.gap ? fmt::format("; the nearest other end is {:.2f} mm away", *e.gap) : ""),
                   e.at, e.source});
  }
  for (const auto& [n, what] : {std::pair{mended.joined.size(), "joined ends"}, {odd.size(), "open ends"}})
    if (n > told_one_by_one)
      all.push_back({"more", fmt::format("There are {} more {}.", n - told_one_by_one, what), {}, {}});
  if (mended.doubled > 0)
    all.push_back({"doubled",
                   mended.doubled == 1 ? std::string("One line was drawn twice; it is cut once.")
                                       : fmt::format("{} lines were drawn twice; each is cut once.", mended.doubled),
                   {},
                   {}});
  if (!drawing.texts.empty()) {
    const DrawnText& first = drawing.texts.front();
    all.push_back(
        {"text",
         fmt::format("There {} that no outline was made of, the first “{:.40}” ({}); {} not cut. Turn text "
                     "into outlines where it shall be.",
                     drawing.texts.size() == 1 ? "is 1 text" : fmt::format("are {} texts", drawing.texts.size()),
                     first.words, source_words(drawing, first.source),
                     drawing.texts.size() == 1 ? "it is" : "they are"),
         first.at, first.source});
  }
  for (const PassedBy& p : drawing.passed_by)
    all.push_back(
        {"passed_by",
         fmt::format("Not read: {}, {} ({}).", p.what, p.times == 1 ? "once" : fmt::format("{} times", p.times),
                     (p.times == 1 ? "" : "first ") + source_words(drawing, p.source)),
         {},
         p.source});
  return all;
}

}  // namespace ypsi
