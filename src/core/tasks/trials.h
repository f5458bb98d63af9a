#pragma once
// Trials: at which pressure, depth or power a material is cut through, and at which what lies below is marked; what to
// set is between, by material and tool. Source: handbook of the trade, 19 to 21.
#include "core/book/worksheets/trials.h"
#include "core/calibration/next_trial.h"
#include "core/calibration/wear.h"
#include "core/program/checks.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* trials_id = "trials";

/// Of what the levels are.
enum class TrialKind { pressure, depth, power };
/// Of a head: a knife's, a wheel's, a creaser's or a pen's pressure, a spindle's or a scribe's depth, a beam's power.
TrialKind trial_kind(HeadKind head);

/// Whether a spindle's or a scribe's depth is set by a nose that rides on the stock: its gauge is the nose's dial.
bool has_nose(const Head& head);
/// Whether depths are tried with its spindle.
bool engraves(const MachineSetup& machine);

inline constexpr double surely_through = 0.99;  ///< of all cuts, at what is set at least
inline constexpr double hardly_marked = 0.01;   ///< of all cuts, at what is set at most

enum class TrialVerdict {
  nothing,  ///< not tried enough to say anything
  from,     ///< cuts through from there; what lies below was not looked at, or never marked
  room,     ///< there is room between
  narrow,   ///< there is, but by less than what is not known of both
  no_room,  ///< it marks before it cuts through
};

struct TrialFinding {
  std::optional<Threshold> through, backing;  ///< none where nothing was looked at
  std::optional<double> low, U_low;           ///< from here it cuts through 99 times of 100
  std::optional<double> high, U_high;         ///< up to here it marks once of 100
  std::optional<double> set;                  ///< on the gauge's grid, between
  TrialVerdict verdict = TrialVerdict::nothing;
  NextTrial next;                   ///< where the next try tells most ...
  bool next_about_backing = false;  ///< ... and about what
};

/// Result of an entry; its subject is trial_subject().
struct TrialEntry {
  std::string material{}, head{}, kind{}, gauge{};
  int tool = 0;
  std::optional<double> through{}, U_through{}, sigma{}, low{}, U_low{};
  std::optional<double> backing{}, U_backing{}, high{}, U_high{};
  std::optional<double> set{}, looks{}, cut_m{};
  std::optional<double> feed{};  ///< mm/min; of a beam's power and speed alone, whose power `set` is
  // Of a depth told by grooves alone, whose `set` is the tick, or the depth that Z is sent to.
  std::optional<double> mm_per_tick{}, zero_tick{}, U_zero_tick{}, depth{}, U_depth{}, cap{};
  /// Yes and no tried over levels: what the others are not.
  bool is_by_looks() const { return !feed && !mm_per_tick; }
};
template <class V>
void describe(V& v, TrialEntry& f) {
  v.text("material", f.material);
  v.text("head", f.head);
  v.text("kind", f.kind);
  v.text("gauge", f.gauge);
  v.count("tool", f.tool);
  v.number("through", f.through);
  v.number("U_through", f.U_through);
  v.number("sigma", f.sigma);
  v.number("low", f.low);
  v.number("U_low", f.U_low);
  v.number("backing", f.backing);
  v.number("U_backing", f.U_backing);
  v.number("high", f.high);
  v.number("U_high", f.U_high);
  v.number("set", f.set);
  v.number("looks", f.looks);
  v.number("cut_m", f.cut_m);
  v.number("feed_mm_min", f.feed);
  v.number("mm_per_tick", f.mm_per_tick);
  v.number("zero_tick", f.zero_tick);
  v.number("U_zero_tick", f.U_zero_tick);
  v.number("depth_mm", f.depth);
  v.number("U_depth_mm", f.U_depth);
  v.number("cap_mm", f.cap);
}

/// "sailcloth 0.4, wheel, T2".
std::string trial_subject(const TrialsWorksheet& sheet);
/// The head of the worksheet; the first where it names none; null without heads.
const Head* trial_head(const Book& book);
/// Another material, head or tool is chosen; the looks of the one before are put by.
void choose_trial(Book& book, const std::string& material, const std::string& head, int tool);
/// Levels to look between: as typed, else the gauge's.
std::optional<TrialRange> trial_range(const Book& book);

/// Of the looks on the worksheet. Error: `no_range` where nobody has said between which levels.
Result<TrialFinding> evaluate_trials(const Book& book);
/// Keeps it for that material and tool, and clears the looks.
void keep_trials(Book& book, const TrialFinding& found, const std::string& time);

/// The newest setting of a material with a tool that holds; none where it was never tried.
std::optional<TrialEntry> setting_for(const Book& book, const std::string& material, int tool);
/// For judging a program: the newest of each head for the material that lies on the machine, that holds.
std::vector<KeptSetting> kept_settings(const Book& book);
/// How the threshold of the worksheet's material, head and tool has risen. Errors: those of wear_line().
Result<Wear> wear_of(const Book& book, const TrialsWorksheet& sheet);
/// To choose from: what something was kept for, newest first, then what is under way, described or lies there.
std::vector<std::string> known_materials(const Book& book);

const Task& trials_task();

}  // namespace ypsi
