#include "core/drawing_in/drawing_basis.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/checksum.h"
#include "core/drawing_in/drawing_program.h"

namespace ypsi {
namespace {

std::string word(const std::optional<double>& mm) {
  return mm ? fmt::format("{:.4f}", *mm) : "-";
}

/// All that a head brings into a program.
std::string of_head(const Head& h) {
  std::string all = fmt::format("{}|{}|{}|{}|{}|{}|", h.name, static_cast<int>(h.kind), h.lower, h.raise, h.on, h.off);
  if (h.place) all += fmt::format("{:.4f} {:.4f}", h.place->x_mm.mm, h.place->y_mm.mm);
  all += "|" + word(h.trailing_mm) + "|";
  if (h.focus_z_mm) all += word(h.focus_z_mm->mm);
  if (h.blade)
    all += fmt::format("{:.4f} {:.4f} ", h.blade->forward_mm, h.blade->left_mm) + word(h.blade->angle_zero_deg);
  return all + "\n";
}

}  // namespace

RestsOn basis_of(const Book& book, const DrawingJob& job, std::string drawing_sum) {
  std::string all = fmt::format("{}|{}|{}|{:.4f}|", job.unit, job.columns, job.rows, job.gap_mm);
  if (job.zero_mm) all += fmt::format("{:.4f} {:.4f}", (*job.zero_mm)[0], (*job.zero_mm)[1]);
  std::vector<LayerAct> acts = job.acts;
  std::erase_if(acts, [](const LayerAct& a) { return a.act == DrawnAct::leave_out; });
  std::sort(acts.begin(), acts.end(), [](const LayerAct& a, const LayerAct& b) { return a.layer < b.layer; });
  std::set<std::size_t> heads;
  std::set<int> tools;
  for (const LayerAct& a : acts) {
    all += fmt::format("\n{}|{}|{}|{}|{}|{:.4f}|{:.4f}|{:.4f}|", a.layer, static_cast<int>(a.act), a.tool, a.head,
                       a.passes, a.depth_mm, a.feed_mm_min, a.rpm);
    all += word(a.level) + word(a.overcut_mm);
    all += fmt::format("{} {:.4f} {:.4f} {:.4f} {:.4f} {:.4f} {} {}", a.tabs, a.tab_mm, a.tab_high_mm, a.lead_in_mm,
                       a.hatch_mm, a.hatch_deg, a.hatch_one_way, a.hatch_bare);
    if (const auto head = head_of(book, a)) heads.insert(*head);
    tools.insert(a.tool);
  }
  all += "\n";
  for (const std::size_t i : heads)
    if (i < book.machine.heads.size()) all += of_head(book.machine.heads[i]);
  for (const int number : tools)
    if (const Tool* tool = book.tool(number)) all += fmt::format("T{} {:.4f} {}\n", number, tool->diameter, tool->head);
  const std::string name = job.file.substr(job.file.find_last_of('/') + 1);
  return {plain_words(name), std::move(drawing_sum), checksum(all)};
}

}  // namespace ypsi
