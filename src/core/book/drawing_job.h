#pragma once
// What is done with the layers of a drawing, as the book keeps it. Lengths mm.
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace ypsi {

enum class DrawnAct : std::uint8_t {
  leave_out,
  on_line,  ///< cut along it
  outside,  ///< cut beside it by the tool's radius, what is within stays as large as it is drawn
  inside,
  engrave,  ///< along it, to a depth
  mark,     ///< by a pen
  crease,
  hatch  ///< what its closed lines enclose filled with lines
};
inline constexpr std::array<std::pair<DrawnAct, const char*>, 8> drawn_acts{{{DrawnAct::leave_out, "leave_out"},
                                                                             {DrawnAct::on_line, "on_line"},
                                                                             {DrawnAct::outside, "outside"},
                                                                             {DrawnAct::inside, "inside"},
                                                                             {DrawnAct::engrave, "engrave"},
                                                                             {DrawnAct::mark, "mark"},
                                                                             {DrawnAct::crease, "crease"},
                                                                             {DrawnAct::hatch, "hatch"}}};

/// What is done with what a layer holds.
struct LayerAct {
  std::string layer;
  DrawnAct act = DrawnAct::leave_out;
  int tool = 0;                 ///< by number, and so the head that it hangs on; 0: none is said
  std::string head;             ///< by name, where no tool says it; empty: the first
  int passes = 1;               ///< >= 1
  double depth_mm = 0;          ///< of a head that goes down by Z, > 0 there
  double feed_mm_min = 0;       ///< 0: as is usual
  double rpm = 0;               ///< of a spindle; 0: it stands, or is a hand's
  double overcut_mm = 0;        ///< past a corner, or past its start where a closed line has none, >= 0
  std::optional<double> level;  ///< on the head's gauge, where its blocks take one
  int tabs = 0;                 ///< that each closed line that is cut leaves, >= 0
  double tab_mm = 0;            ///< how long each stays, > 0 where there are any
  double tab_high_mm = 0;       ///< how much of the depth stays there, where a head goes down by Z; 0: all
  double lead_in_mm = 0;       ///< radius of the way into a closed line from the waste; of a knife how long it is, >= 0
  double hatch_mm = 0;         ///< between the lines of a hatch; 0: by the tool's width
  double hatch_deg = 0;        ///< of the lines, counter-clockwise from +X
  bool hatch_one_way = false;  ///< each line towards the same side
  bool hatch_bare = false;     ///< without going round the outline
  bool operator==(const LayerAct&) const = default;
};

struct DrawingJob {
  std::string file;
  std::string unit;                              ///< mm, cm, m, in, ft, or how many mm it is; empty: as the file says
  std::vector<LayerAct> acts;                    ///< by layer; of layers that the drawing lacks too, for the next one
  int columns = 1, rows = 1;                     ///< copies beside each other, >= 1
  double gap_mm = 5;                             ///< between copies, >= 0
  bool one_each = false;                         ///< each copy has a program of its own, and all the same zero
  std::optional<std::array<double, 2>> zero_mm;  ///< of the drawing, on work zero; none: its lower left corner
  bool operator==(const DrawingJob&) const = default;
};

}  // namespace ypsi
