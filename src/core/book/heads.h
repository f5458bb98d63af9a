#pragma once
// What a machine carries on its one carriage: heads that cut, mark or point, each with its own place against the first,
// from which the machine counts. Lengths mm. Source: handbook of the trade, 18 to 20.
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <utility>

#include "core/geometry.h"

namespace ypsi {

enum class HeadKind : std::uint8_t {
  spindle,
  pointer,  ///< a light or a camera
  beam,
  drag_knife,    ///< a castor knife: it trails its pivot
  turned_knife,  ///< the controller turns it
  wheel,
  creaser,
  pen,
  scribe,  ///< dragged, the spindle at rest
};

/// As the book writes them.
inline constexpr std::array<std::pair<HeadKind, const char*>, 9> head_kinds{{{HeadKind::spindle, "spindle"},
                                                                             {HeadKind::pointer, "pointer"},
                                                                             {HeadKind::beam, "beam"},
                                                                             {HeadKind::drag_knife, "drag_knife"},
                                                                             {HeadKind::turned_knife, "turned_knife"},
                                                                             {HeadKind::wheel, "wheel"},
                                                                             {HeadKind::creaser, "creaser"},
                                                                             {HeadKind::pen, "pen"},
                                                                             {HeadKind::scribe, "scribe"}}};

/// The first's place less this head's over one mark: the machine is sent to S - place to put this head over S.
struct HeadPlace {
  CountedLength x_mm, y_mm;
  double U_mm = 0;
};

/// A castor's, or a turned blade's, way from the point that the machine counts for.
struct BladePlace {
  double forward_mm = 0, left_mm = 0;
  std::optional<double> U_mm;
  std::optional<double> angle_zero_deg, U_angle_deg;
};

struct Head {
  std::string name;
  HeadKind kind = HeadKind::spindle;
  /// The owner's own blocks of G-code, "{level}" where one says what the gauge is set to; empty: by Z alone, and
  /// nothing to switch.
  std::string lower, raise, on, off;
  std::string gauge;  ///< what its gauge shows: "bar", "%"; empty: it has none
  double gauge_low = 0, gauge_high = 0;
  double cap = 0;                  ///< on its gauge, never to be passed; 0: not said
  std::optional<HeadPlace> place;  ///< the first has none; of another: not measured
  std::optional<double> trailing_mm, U_trailing_mm;
  std::optional<BladePlace> blade;
  std::optional<Coordinate> focus_z_mm;  ///< machine Z at which a beam is narrowest on the bed
  std::optional<double> U_focus_mm;
  std::optional<double> kerf_mm, U_kerf_mm;
};

enum class HeadAct : std::uint8_t { lower, raise, on, off };
inline constexpr std::array all_head_acts{HeadAct::lower, HeadAct::raise, HeadAct::on, HeadAct::off};

/// The owner's block for an act; empty where it has none.
constexpr const std::string& block_of(const Head& head, HeadAct act) {
  return act == HeadAct::lower   ? head.lower
         : act == HeadAct::raise ? head.raise
         : act == HeadAct::on    ? head.on
                                 : head.off;
}

/// Whether a level is more than its owner ever allows; where no cap is said nothing is.
constexpr bool above_cap(const Head& head, double level) {
  return head.cap > 0 && level > head.cap;
}

/// Whether its spindle must turn before it cuts: a knife, a pen or a scribe rests, and a beam has none.
constexpr bool needs_spindle(HeadKind kind) {
  return kind == HeadKind::spindle;
}
/// Whether it marks the stock and takes nothing of it apart.
constexpr bool only_marks(HeadKind kind) {
  return kind == HeadKind::pen || kind == HeadKind::creaser;
}
/// Whether it leaves anything on the stock.
constexpr bool cuts(HeadKind kind) {
  return kind != HeadKind::pointer;
}

enum class FenceKind : std::uint8_t {
  along_x,  ///< an edge that runs along X, at its y_mm
  along_y,
  point,  ///< a stop
};
inline constexpr std::array<std::pair<FenceKind, const char*>, 3> fence_kinds{
    {{FenceKind::along_x, "along_x"}, {FenceKind::along_y, "along_y"}, {FenceKind::point, "point"}}};

/// An edge or a stop of the table, against which blanks are laid.
struct Fence {
  std::string name;
  FenceKind kind = FenceKind::along_x;
  Coordinate x_mm, y_mm;  ///< where it stands, as far as the book knows; one of them is of no meaning for an edge
  double offset_mm = 0;   ///< what is added to that place, found by cutting
  std::optional<double> U_offset_mm;
};

}  // namespace ypsi
