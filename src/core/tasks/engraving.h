#pragma once
// How deep an engraving comes out, told by grooves at known ticks of a nose's dial or at known depths of Z: what to set
// for a depth, and whether that surely clears the cap of a plate and spares what must be left of its core. Lengths mm.
// Source: handbook of the trade, 23.
#include "core/book/worksheets/trials.h"
#include "core/calibration/depth_ticks.h"
#include "core/calibration/engraving_depth.h"
#include "core/program/head_lines.h"
#include "core/tasks/trials.h"

namespace ypsi {

struct EngravingFinding {
  DepthTicks ticks;
  double depth = 0;                      ///< that is wanted
  double U_next = 0;                     ///< of the next groove alone
  DepthMargins margins;                  ///< of the plate
  double chance_missed = 0;              ///< that a groove does not pass the cap; 0 where there is none
  std::optional<double> width, U_width;  ///< of the line at the top; none where the tool is not known
};

/// Whether the dial of a nose says how deep, rather than Z.
bool by_nose(const Book& book);
/// Of the worksheet: its layers.
Material plate_material(const Book& book);
/// Of the tool whose shape tells widths; null where none is chosen.
const Tool* engraving_tool(const Book& book);
/// How deep a groove of the worksheet is: as measured, or as wide as that. Error: `no_shape` where widths are measured
/// and the tool is as wide at its tip as above, or not chosen.
Result<double> groove_depth(const Book& book, const TickGroove& groove);

/// Of the grooves on the worksheet; where nobody has said how deep it shall be, as deep as the deepest. Errors:
/// `no_instrument`; that of groove_depth(); those of evaluate_ticks().
Result<EngravingFinding> evaluate_engraving(const Book& book);
/// Keeps it for that material and tool, and clears the grooves. Precondition: the material has a name.
void keep_engraving(Book& book, const EngravingFinding& found, const std::string& time);
/// The newest of a material and a tool that holds.
std::optional<TrialEntry> engraving_for(const Book& book, const std::string& material, int tool);

/// "red over white, spindle, T3, depth".
std::string engraving_subject(const std::string& material, const std::string& head, int tool);

/// A plate that was engraved as that was kept: set to `set_to`, to come out `depth` deep.
struct EngravedAs {
  std::string material;
  int tool = 0;
  double set_to = 0, depth = 0;
};
/// It came out `too_deep` (+-U) deeper: the zero tick follows, and what is set; `entry` brings time, subject and
/// readings. Nothing where no depth of that material and tool is kept.
void correct_engraving(Book& book, const EngravedAs& as, double too_deep, double U, Entry entry);

inline constexpr double nose_press_mm = 1;  ///< that Z is sent below the top, so that the nose rides

/// A ladder to be engraved and measured: its lines, over the stock's breadth so that an uneven top is told too, and
/// what is set for each. Errors: `no_stock` where its size is not known; `no_range` where the nose has no dial.
struct EngravingLadder {
  std::vector<HeadLine> lines;
  std::vector<double> ticks;
};
Result<EngravingLadder> engraving_ladder(const Book& book);

}  // namespace ypsi
