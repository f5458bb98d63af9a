#pragma once
// What lies on the machine and what is to be done with it: stock, program, work zeros, clamps, the rack's places.
// Lengths mm; every place says its frame.
#include <array>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/book/drawing_job.h"
#include "core/book/material.h"
#include "core/geometry.h"

namespace ypsi {

/// The zero of one of G54 to G59, machine coordinates.
struct FrameZero {
  std::string name;  ///< the owner's, "left vice"; may be empty
  std::optional<Coordinate> x_mm, y_mm, z_mm;
  bool on_bed = false;  ///< Z zero is what the stock, with its sheet, lies on; else the stock's top
  int z_tool = 0;       ///< in the spindle when Z zero was set; 0: not known
  std::optional<Coordinate>& zero(Axis a) { return a == Axis::x ? x_mm : a == Axis::y ? y_mm : z_mm; }
  const std::optional<Coordinate>& zero(Axis a) const { return a == Axis::x ? x_mm : a == Axis::y ? y_mm : z_mm; }
  bool operator==(const FrameZero&) const = default;
};

/// A marked spot of the stock on which every tool is zeroed where there is no setter.
struct ZeroSpot {
  Coordinate x_mm, y_mm;
  CountedLength height_mm;  ///< of its surface above work zero
  bool operator==(const ZeroSpot&) const = default;
};

/// A clamp, a vice or another thing that no tool may meet: a box that stands on the bed.
struct Clamp {
  std::string name;
  Coordinate x_mm, y_mm;                ///< its middle
  double width_mm = 40, depth_mm = 40;  ///< along X and Y, > 0
  double height_mm = 30;                ///< above the bed, > 0
  bool operator==(const Clamp&) const = default;
};

/// A tool rack: slots in a straight row, from two captured end places.
struct ToolRack {
  Coordinate first_x_mm, first_y_mm, last_x_mm, last_y_mm;  ///< nose over the slot
  int slot_count = 0;                                       ///< 0: there is none
  Coordinate grip_z_mm;                                     ///< machine Z of the nose where it takes a tool
  Coordinate clear_z_mm;  ///< machine Z above which a hanging tool passes over the rack, above grip_z_mm
  double height_mm = 60;  ///< of the rack above the bed, > 0
  bool operator==(const ToolRack&) const = default;
};

inline constexpr double usual_part_tolerance = 0.2;  ///< mm, where the owner said none

struct Job {
  double part_width = 300, part_height = 200;  ///< the owner's usual part, for what errors mean
  std::optional<double> part_tolerance;        ///< what its sizes may be off by, mm, > 0; none: not said
  std::string stock_name;                      ///< its material
  std::vector<Material> materials;             ///< that something is known of
  std::array<double, 3> stock_size{0, 0, 0};   ///< width, height, thickness; 0: not known
  std::array<double, 2> stock_corner{0, 0};    ///< its front left corner, work frame: where zero is on it
  double sheet_mm = 0;    ///< that sticks the stock to what lies below, as large as it, >= 0; 0: there is none
  double board_mm = 0;    ///< that the stock lies on and that stands on the bed, >= 0; 0: it lies on the bed
  double bed_skin = 0.3;  ///< how deep a cut may go into what the stock and its sheet lie on, >= 0
  std::string program;    ///< path of the program last loaded
  std::vector<std::string> recent_programs;
  std::vector<std::string> queue;  ///< paths of programs to be cut one after another on one zero
  std::array<FrameZero, work_frame_count> frames;
  int frame = 0;  ///< the one in use where a program names none; 0: G54
  std::optional<ZeroSpot> zero_spot;
  std::vector<Clamp> clamps;
  std::optional<DrawingJob> drawing;   ///< that programs are made from
  std::vector<std::string> checklist;  ///< the owner's own points, for what no sensor sees
  FrameZero& used() { return frames[static_cast<std::size_t>(frame)]; }
  const FrameZero& used() const { return frames[static_cast<std::size_t>(frame)]; }
  /// Of the frame in use, machine coordinate.
  std::optional<Coordinate>& zero(Axis a) { return used().zero(a); }
  const std::optional<Coordinate>& zero(Axis a) const { return used().zero(a); }
  bool has_zero() const { return used().x_mm && used().y_mm && used().z_mm; }
  /// Heights in the frame in use: of the stock's top, of what it and its sheet lie on, of the bed.
  double stock_top_z() const { return used().on_bed ? stock_size[2] + sheet_mm : 0; }
  double lies_on_z() const { return used().on_bed ? 0 : -stock_size[2] - sheet_mm; }
  double bed_z() const { return lies_on_z() - board_mm; }
  nlohmann::json unknown;
};

}  // namespace ypsi
