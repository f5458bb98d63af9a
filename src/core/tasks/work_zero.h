#pragma once
// Where the program lies: set, touched, turned with the stock.
#include "core/heads/drawn_marks.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* work_zero_id = "work_zero";

/// How the stock lies, counter-clockwise; subject "turn".
struct TurnEntry {
  std::optional<double> rotation_mrad{};
  std::optional<double> U_rotation_mrad{};
};
template <class V>
void describe(V& v, TurnEntry& f) {
  v.number("rotation_mrad", f.rotation_mrad);
  v.number("U_rotation_mrad", f.U_rotation_mrad);
}

inline constexpr const char* turn_subject = "turn";

/// How the stock lies, rad counter-clockwise: as it was found last, where that was on the day that work zero was set
/// last, since another stock lies otherwise. 0 where it was not found.
double stock_turn(const Book& book);

/// The marks of the worksheet that were found, fitted: as drawn against machine coordinates. Errors: those of
/// fit_marks().
Result<MarksFit> evaluate_marks(const Book& book);
/// Keeps in the record how the drawing lies; its places are set as work zero by whoever calls.
void keep_marks(Book& book, const MarksFit& fit, const std::string& instrument, const std::string& time);

const Task& work_zero_task();

}  // namespace ypsi
