#pragma once
// The heads on the carriage: where each stands against the first, how a knife cuts against its axis, a beam's focus and
// width. Source: handbook of the trade, 18 to 20.
#include "core/book/worksheets/heads.h"
#include "core/heads/beam_focus.h"
#include "core/heads/head_offset.h"
#include "core/heads/knives.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* heads_id = "heads";

enum class HeadMeasure { place, trailing, blade, focus, kerf };
inline constexpr std::array all_head_measures{HeadMeasure::place, HeadMeasure::trailing, HeadMeasure::blade,
                                              HeadMeasure::focus, HeadMeasure::kerf};
const char* name(HeadMeasure measure);  ///< "place"

/// What was found of one head; lengths mm. Its subject is head_subject().
struct HeadEntry {
  std::string head{}, what{};
  std::optional<double> x{}, y{}, U{}, k{}, marks{}, turn_mrad{}, U_turn_mrad{};
  std::optional<double> value{};  ///< trailing offset, focus (machine Z), kerf
  std::optional<double> forward{}, left{}, angle_zero_deg{}, U_angle_deg{};
  bool lapsed = false;  ///< it was taken off: what was found before holds no more
};
template <class V>
void describe(V& v, HeadEntry& f) {
  v.text("head", f.head);
  v.text("what", f.what);
  v.number("x_mm", f.x);
  v.number("y_mm", f.y);
  v.number("U_mm", f.U);
  v.number("k", f.k);
  v.number("marks", f.marks);
  v.number("turn_mrad", f.turn_mrad);
  v.number("U_turn_mrad", f.U_turn_mrad);
  v.number("value_mm", f.value);
  v.number("forward_mm", f.forward);
  v.number("left_mm", f.left);
  v.number("angle_zero_deg", f.angle_zero_deg);
  v.number("U_angle_deg", f.U_angle_deg);
  v.flag("lapsed", f.lapsed, Written::where_not_usual);
}

/// "pen: place".
std::string head_subject(const std::string& head, HeadMeasure measure);

/// What can be measured of a head: its place where it is not the first, and what its kind has besides.
std::vector<HeadMeasure> measures_of(const MachineSetup& machine, std::size_t head);
/// The one that the worksheet is about, by its place in the list: named, else the second, else the first. None without
/// heads.
std::optional<std::size_t> chosen_head(const Book& book);

/// Another head is chosen; what was read of the one before is put by.
void choose_head(Book& book, const std::string& name);

/// Marks of the worksheet over which both heads stood, in machine coordinates, or its crosses, as marks.
std::vector<SharedMark> shared_marks(const HeadsWorksheet& sheet);
std::vector<SharedMark> crosses_as_marks(const HeadsWorksheet& sheet, const std::optional<HeadPlace>& in_book);

/// Of what is on the worksheet. Errors: those of the calculation; `too_few`, `no_instrument`.
Result<HeadOffset> evaluate_head_place(const Book& book, bool by_crosses);
Result<MeasuredLength> evaluate_trailing(const Book& book);
Result<TurnedKnife> evaluate_blade(const Book& book);
Result<BeamFocus> evaluate_focus(const Book& book);
Result<MeasuredLength> evaluate_kerf(const Book& book);

/// Keep a finding in book and record, with what was there before; `time` RFC 3339. Nothing where there is no head.
void keep_head_place(Book& book, const HeadOffset& found, bool by_crosses, const std::string& time);
void keep_trailing(Book& book, const MeasuredLength& found, const std::string& time);
void keep_blade(Book& book, const TurnedKnife& found, const std::string& time);
/// Precondition: it has a focus.
void keep_focus(Book& book, const BeamFocus& found, const std::string& time);
void keep_kerf(Book& book, const MeasuredLength& found, const std::string& time);
/// Put right by what a cut showed: its lines lay so far beside where they were meant, and its ends so much too far
/// apart, with what was known of it, or nothing. `entry` brings time, readings and instrument. Nothing where there is
/// no such head, or no place of it to put right.
void correct_head_place(Book& book, const std::string& head, PlanPoint by, double U, double k, Entry entry);
void correct_trailing(Book& book, const std::string& head, double by, double U, double k, Entry entry);
/// A head was taken off, and perhaps put on again: its place holds no more, nor what was set on it.
void head_taken_off(Book& book, std::size_t head, const std::string& time);

const Task& heads_task();

}  // namespace ypsi
