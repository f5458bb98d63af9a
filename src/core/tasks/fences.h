#pragma once
// Fences and stops: what is added to each one's place so that what is cut along it comes out as long as it should.
// Source: handbook of the trade, 22.
#include "core/calibration/blanks.h"
#include "core/calibration/fence.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* fences_id = "fences";

/// mm; its subject is the fence's name.
struct FenceEntry {
  std::optional<double> expected{}, mean{}, U{}, k{}, offset{}, tests{};
  std::optional<double> drift{}, U_drift{}, s{};  ///< of a row of blanks: mm a blank, and the scatter about it
  std::optional<double> blanks{};                 ///< how many were cut
  bool done = false;
};
template <class V>
void describe(V& v, FenceEntry& f) {
  v.number("expected_mm", f.expected);
  v.number("mean_mm", f.mean);
  v.number("U_mm", f.U);
  v.number("k", f.k);
  v.number("offset_mm", f.offset);
  v.number("tests", f.tests);
  v.number("drift_mm", f.drift);
  v.number("U_drift_mm", f.U_drift);
  v.number("s_mm", f.s);
  v.number("blanks", f.blanks);
  v.flag("done", f.done);
}

/// The fence that the worksheet is about: named, else the first; none where there is none.
std::optional<std::size_t> chosen_fence(const Book& book);
/// Another fence is chosen; what was read beside the one before is put by.
void choose_fence(Book& book, const std::string& name);
/// Of the newest test on the worksheet. Errors: those of evaluate_fence(); `no_instrument`, `no_fence`.
Result<FenceResult> evaluate_fences(const Book& book);
/// Another test on the worksheet, with the offset as it is now.
void begin_fence_test(Book& book);
/// Takes the newest test's correction over and keeps it in the record; a test that is done ends the row.
void keep_fence(Book& book, const FenceResult& found, const std::string& time);

/// Of the blanks on the worksheet. Errors: those of evaluate_blanks(); `no_instrument`, `no_fence`.
Result<BlanksResult> evaluate_blanks_of(const Book& book);
/// Keeps what the row of blanks told, and begins to count anew.
void keep_blanks(Book& book, const BlanksResult& found, const std::string& time);

/// What work zero is set to by a fence, machine coordinates: across it; of a stop along X and Y.
std::vector<std::pair<Axis, double>> zero_by(const Fence& fence);

/// Where a fence is taken to stand, machine coordinate: its place with its offset.
double place_of(const Fence& fence, Axis axis);

const Task& fences_task();

}  // namespace ypsi
