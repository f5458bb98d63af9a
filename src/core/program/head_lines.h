#pragma once
// Straight lines by one or several heads as a program that carries their places in its own coordinates, so that it does
// the same at any controller: to put a head over S the first is sent to S - place. Lengths mm, work frame. Source:
// handbook of the trade, 18.
#include <optional>
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/heads/plan_point.h"
#include "core/program/program.h"

namespace ypsi {

/// One line from end to end, lowered at its start and raised at its end.
struct HeadLine {
  std::size_t head = 0;  ///< of the machine's, from 0
  double x0 = 0, y0 = 0, x1 = 0, y1 = 0;
  std::optional<double> depth{};  ///< below the top for a head that goes down by Z; the setting's where none
  std::optional<double> level{};  ///< on the head's gauge, where its own blocks take one
  std::optional<double> feed{};   ///< mm/min, > 0; the setting's where none
  /// Where it is come from to its start, against that: so that slack lies as it is meant to.
  double run_up_x = 0, run_up_y = 0;
  std::string before{};  ///< for people: stops the program with this to be done first ("set 14 %"); empty: goes on
};

struct HeadLinesSetting {
  std::string title;                ///< for people
  std::string rests_on{};           ///< a remark of what it is made of; empty: none
  double depth = 0.5;               ///< > 0, of heads that go down by Z
  double lift = 5;                  ///< above the top, > 0
  double feed = 1000, down = 300;   ///< mm/min, > 0
  bool unmeasured_at_zero = false;  ///< a head of no known place counts as being where the first is
  double rpm = 0;                   ///< of a spindle among them; 0: it stands
  int tool = 0;                     ///< changed to at the start; 0: the one that is in
};

/// Between a head's own blocks: until a holder is down or up.
inline constexpr double holder_dwell_s = 0.3;

/// A line of any shape, closed or not, lowered at its start and raised at its end.
struct HeadPath {
  std::size_t head = 0;  ///< of the machine's, from 0
  int tool = 0;          ///< that is to be in it, by number; 0: whichever is
  std::vector<PlanPoint> points;
  double depth = 0;               ///< below the top for a head that goes down by Z, > 0 there
  int passes = 1;                 ///< each as much deeper, >= 1; over the same line again where blocks lower the head
  std::optional<double> level{};  ///< on the head's gauge, where its own blocks take one
  double feed = 0;                ///< mm/min; 0: the setting's
  double rpm = 0;                 ///< of a spindle; 0: it stands
  std::vector<bool> over_tab{};   ///< by point: the way to it is over a tab; empty: there are none
  double tab_depth = 0;           ///< how deep it may go over one, below the top, where a head goes down by Z
  double lead_in = 0;    ///< of a drag knife before its line, in the waste; three times what it trails at least
  double overcut = 0;    ///< of a drag knife past the start of a closed line; its trailing offset at least
  std::string remark{};  ///< for people, before the first of its kind
};

struct HeadProgram {
  std::string text;
  Program program;  ///< the text, read back
};

/// Without heads in the book the spindle alone, as head 0. Errors: `too_few` without a line; `no_place` for a head
/// whose place was not measured; `no_level` where its blocks want one; `over_cap`; `out_of_range`.
Result<HeadProgram> head_lines_program(const Book& book, const std::vector<HeadLine>& lines,
                                       const HeadLinesSetting& setting);

/// Lines of any shape one after the other, tools changed and the spindle started where one wants it; a drag knife is
/// compensated for its trailing offset. Errors besides: `no_trailing` where that was not measured; those of
/// knife_path().
Result<HeadProgram> head_paths_program(const Book& book, const std::vector<HeadPath>& paths,
                                       const HeadLinesSetting& setting);
/// The same for contours of one head, all alike.
Result<HeadProgram> knife_program(const Book& book, std::size_t head,
                                  const std::vector<std::vector<PlanPoint>>& contours, const HeadLinesSetting& setting);

/// A line along X and one along Y by each of two heads, all through one middle: nominally they lie on each other.
std::vector<HeadLine> cross_lines(std::size_t first, std::size_t other, double x, double y, double length);
/// Two lines towards one end along X, one from each side: their gap tells a castor's trailing offset, where they lie
/// and end where a turned blade stands.
std::vector<HeadLine> facing_lines(std::size_t head, double x, double y, double length);
/// Short lines side by side along Y, each at its level: a pause before each says what to set.
std::vector<HeadLine> trial_lines(std::size_t head, const std::vector<double>& levels, const std::string& gauge,
                                  double x, double y, double length, double apart);

}  // namespace ypsi
