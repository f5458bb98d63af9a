#include "core/tasks/fences.h"

#include <algorithm>

#include "core/book/machine_kinds.h"
#include "core/book/record.h"
#include "core/book/worksheets/fences.h"
#include "core/calibration/blanks.h"
#include "core/tasks/build.h"
#include "core/tasks/heads.h"
#include "core/tasks/put_by.h"
#include "core/tasks/squareness.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace {

class FencesTask final : public Task {
 public:
  FencesTask() : Task(fences_id, "Fences and stops", TaskGroup::references) {}
  bool applies_to(const MachineSetup& machine) const override { return cuts_drawings(machine.kind); }
  bool commissions() const override { return false; }  // a table without any is whole too
  std::vector<Upstream> depends_on() const override {
    return {{steps_per_unit_id}, {squareness_id}, {heads_id}, {build_id, "heads"}};
  }
  Words summary(const Entry& e) const override {
    const auto f = finding_of<FenceEntry>(e);
    if (f.blanks) return {{"fence_blanks", {e.subject, SaidNumber{*f.blanks, 0}, SaidLength{f.mean.value_or(0), 2}}}};
    if (!f.offset) return Task::summary(e);
    return {{"fence_offset", {e.subject, SaidLength{*f.offset, 2, false}, SaidLength{f.U.value_or(0), 2}}}};
  }
  std::vector<CertifiedLine> certificate(const Book& book) const override {
    std::vector<CertifiedLine> all;
    for (const Fence& fence : book.fences)
      if (newest(book, id(), fence.name))
        all.push_back({.code = "certified_fence",
                       .subject = fence.name,
                       .value = [](const Entry& e) { return finding_of<FenceEntry>(e).offset; },
                       .U = [](const Entry& e) { return finding_of<FenceEntry>(e).U; },
                       .k = [](const Entry& e) { return finding_of<FenceEntry>(e).k; }});
    return all;
  }
};

}  // namespace

std::optional<std::size_t> chosen_fence(const Book& book) {
  for (std::size_t i = 0; i < book.fences.size(); ++i)
    if (book.fences[i].name == book.worksheets[fences_worksheet].fence) return i;
  if (book.fences.empty()) return std::nullopt;
  return 0;
}

void choose_fence(Book& book, const std::string& name) {
  FencesWorksheet& s = book.worksheets[fences_worksheet];
  if (const auto now = chosen_fence(book); now && s.fence.empty()) s.fence = book.fences[*now].name;
  FencesWorksheet fresh;
  fresh.fence = name;
  fresh.instrument = s.instrument;
  take_up(
      s, book.worksheets[fences_put_by], name, [](const FencesWorksheet& each) { return each.fence; },
      std::move(fresh));
}

Result<FenceResult> evaluate_fences(const Book& book) {
  const auto at = chosen_fence(book);
  if (!at) return fail("no_fence", "There is no fence on this machine yet; add one.", "fence");
  const FencesWorksheet& s = book.worksheets[fences_worksheet];
  const Instrument* instrument = book.instrument(s.instrument);
  if (!instrument) return fail("no_instrument", "The instrument is not in the book; choose another.", "instrument");
  if (!(s.expected_mm > 0))
    return fail("missing", "Say what the pieces should measure: from the fence to the cut.", "expected");
  if (s.tests.empty() || s.tests.back().measured_mm.empty())
    return fail("too_few", "Cut along it and type what the piece measures.", "measured");
  return evaluate_fence({.expected = s.expected_mm,
                         .offset = s.tests.back().offset_mm,
                         .adds = s.adds,
                         .test = static_cast<int>(s.tests.size()),
                         .measured = s.tests.back().measured_mm,
                         .tolerance = s.tolerance_mm},
                        *instrument);
}

void begin_fence_test(Book& book) {
  if (const auto at = chosen_fence(book))
    book.worksheets[fences_worksheet].tests.push_back({book.fences[*at].offset_mm, {}});
}

void keep_fence(Book& book, const FenceResult& found, const std::string& time) {
  const auto at = chosen_fence(book);
  FencesWorksheet& s = book.worksheets[fences_worksheet];
  if (!at || s.tests.empty()) return;
  Fence& fence = book.fences[*at];
  Entry e;
  e.time = time;
  e.sheet = fences_id;
  e.subject = fence.name;
  e.instrument = s.instrument;
  for (const double mm : s.tests.back().measured_mm) e.readings.push_back(mm);
  e.result = result_of(FenceEntry{.expected = s.expected_mm,
                                  .mean = found.mean,
                                  .U = found.U,
                                  .k = found.k,
                                  .offset = found.new_offset,
                                  .tests = static_cast<double>(s.tests.size()),
                                  .done = found.done});
  e.as_found = {{"fence.offset_mm", fence.offset_mm}};
  e.as_left = {{"fence.offset_mm", found.new_offset}};
  fence.offset_mm = found.new_offset;
  fence.U_offset_mm = found.U;
  book.history.push_back(std::move(e));
  if (found.done)
    s.tests.clear();
  else
    s.tests.push_back({fence.offset_mm, {}});
}

Result<BlanksResult> evaluate_blanks_of(const Book& book) {
  if (!chosen_fence(book)) return fail("no_fence", "There is no fence on this machine yet; add one.", "fence");
  const FencesWorksheet& s = book.worksheets[fences_worksheet];
  const Instrument* instrument = book.instrument(s.instrument);
  if (!instrument) return fail("no_instrument", "The instrument is not in the book; choose another.", "instrument");
  return evaluate_blanks(s.sizes, s.expected_mm, s.tolerance_mm, std::max(1, s.every), instrument->resolution_mm);
}

void keep_blanks(Book& book, const BlanksResult& found, const std::string& time) {
  const auto at = chosen_fence(book);
  FencesWorksheet& s = book.worksheets[fences_worksheet];
  if (!at) return;
  Entry e;
  e.time = time;
  e.sheet = fences_id;
  e.subject = book.fences[*at].name + ", blanks";
  e.instrument = s.instrument;
  for (const BlankSize& b : s.sizes) e.readings.push_back({{"count", b.count}, {"size_mm", b.size_mm}});
  e.result = result_of(FenceEntry{.expected = s.expected_mm,
                                  .mean = found.now,
                                  .U = found.U_now,
                                  .drift = found.drift,
                                  .U_drift = found.U_drift,
                                  .s = found.s,
                                  .blanks = static_cast<double>(s.blanks)});
  s.blanks = 0;
  s.sizes.clear();
  book.history.push_back(std::move(e));
}

std::vector<std::pair<Axis, double>> zero_by(const Fence& fence) {
  std::vector<std::pair<Axis, double>> all;
  if (fence.kind != FenceKind::along_x) all.emplace_back(Axis::x, place_of(fence, Axis::x));
  if (fence.kind != FenceKind::along_y) all.emplace_back(Axis::y, place_of(fence, Axis::y));
  return all;
}

double place_of(const Fence& fence, Axis axis) {
  const bool across = fence.kind == FenceKind::point || (fence.kind == FenceKind::along_x) == (axis == Axis::y);
  return (axis == Axis::x ? fence.x_mm : fence.y_mm) + (across ? fence.offset_mm : 0);
}

const Task& fences_task() {
  static const FencesTask task;
  return task;
}

}  // namespace ypsi
