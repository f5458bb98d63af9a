#pragma once
// The machine without its controller: carriages, beam, spindle, bed, stock, and the wires of its sensors. Motors turn
// it, wires tell of it; everything else about it is truth, which no program may read.
#include <random>

#include "core/procedures/bench.h"
#include "core/program/own_blocks.h"
#include "standin/arming.h"
#include "standin/cut_stock.h"
#include "standin/head_marks.h"
#include "standin/mechanics.h"

namespace ypsi::standin {

class Plant {
 public:
  explicit Plant(const Scenario& scenario);
  Plant(const Plant&) = delete;
  Plant& operator=(const Plant&) = delete;

  // -- what the controller is wired to
  void turn(const std::array<std::int64_t, axis_count>& steps);
  bool switch_line(Axis axis) const;      ///< as wired, faults included
  bool far_switch_line(Axis axis) const;  ///< never where there is none
  bool probe_line() const;
  bool emergency_stop_line() const { return emergency_stop_; }
  /// Error: `not_armed` while something is off that comes first.
  Result<void> armed() const { return arming_.all_on(); }
  void set_spindle(double rpm);
  /// The blocks that it takes for its heads.
  std::vector<OwnBlock> own_blocks() const;
  /// `level` on its gauge, where its block says one.
  void act_on_head(std::size_t head, HeadAct act, double level);
  /// For good: only its own block switches one on again.
  void put_beams_out();
  /// For as long as the machine waits.
  void shade_beams(bool shaded) { shaded_ = shaded; }
  /// The machine stands for so long.
  void stand(double seconds);
  bool beam_on() const;
  /// What a beam did each time that it was switched on, the newest last: at which level, and for how long it shone
  /// while the machine stood.
  struct Flash {
    double level = 0, seconds = 0;
  };
  const std::vector<Flash>& flashes_of(std::size_t head) const { return flashes_[head]; }
  /// Homing stands the beam's right end this far from where the left end's switch puts it, mm towards +Y.
  void square_beam(double right_end_offset) {
    homed_offset_ = right_end_offset;
    settle_lean();
  }

  // -- what hands do
  void set_clip(bool on) { clip_ = on; }
  void hold_switch(Axis axis, bool pressed) { switches_[index(axis)].hold(pressed); }
  void hold_far_switch(Axis axis, bool pressed) {
    if (auto& far_switch = far_switches_[index(axis)]) far_switch->hold(pressed);
  }
  void press_emergency_stop(bool pressed) {
    emergency_stop_ = pressed;
    if (pressed) arming_.stop();
  }
  /// Errors: as Arming's.
  Result<void> arm(std::string_view point) { return arming_.switch_on(point, emergency_stop_); }
  /// A corner plate goes onto the corner of the stock that is nearest to the tool, turned to it.
  void lay_plate(PlatePlace place);
  bool put_tool(int number);
  void lay_clamp(double x, double y);
  void take_clamps_away() { clamps_.clear(); }
  void lay_fresh_stock() {
    cut_.clear();
    for (HeadMarks& marks : marks_) marks.clear();
  }
  void turn_nose(double tick) {
    if (scenario_->nose) nose_tick_ = tick;
  }
  void adjust_nut(Axis axis) { mechanics_[index(axis)].adjust(); }
  void move_rail_end(RailEnd end, double distance);

  // -- what breaks
  void jam_switch(Axis axis) { switches_[index(axis)].jam_closed(); }
  void short_probe() { probe_shorted_ = true; }
  /// The motor misses steps that the controller has counted.
  void lose_steps(Axis axis, std::int64_t steps);

  // -- truth, for the person with instruments and for tests
  const Scenario& scenario() const { return *scenario_; }
  double place(Axis axis) const { return mechanics_[index(axis)].place() * grown_; }
  double skew() const;                         ///< rad
  Point3 nose() const;                         ///< of the spindle, physical
  Point3 tip() const;                          ///< of the tool in the collet
  double bed_plane(double x, double y) const;  ///< without its waves
  double bed_height(double x, double y) const;
  double top_height(double x, double y) const;  ///< of the stock as it was laid; the bed's where there is none
  bool over_stock(double x, double y) const;
  double stock_top(double u, double v) const;  ///< at a place in the stock's own frame
  const PhysicalTool& tool() const { return tool_; }
  const std::optional<double>& nose_tick() const { return nose_tick_; }
  bool clip_on() const { return clip_; }
  PlatePlace plate() const { return plate_; }
  bool switch_held(Axis axis) const { return switches_[index(axis)].held(); }
  bool far_switch_held(Axis axis) const { return far_switches_[index(axis)] && far_switches_[index(axis)]->held(); }
  const std::vector<std::array<double, 2>>& clamps() const { return clamps_; }
  double pushed(Axis axis) const { return mechanics_[index(axis)].pushed(); }  ///< against its stops, mm in all
  CutStock& cut() { return cut_; }
  /// Where a head's pivot stands; the first's is the tool's tip where it is a spindle.
  Point3 head_point(std::size_t head) const;
  std::optional<std::size_t> head_named(std::string_view name) const;
  HeadMarks& marks_of(std::size_t head) { return marks_[head]; }
  /// A physical place in the stock's own frame: from its front left corner along its sides.
  std::array<double, 2> in_stock(double x, double y) const;

 private:
  bool touches_box(const std::array<double, 4>& box, double x, double y) const;
  bool touches_plate(const Point3& tip) const;
  bool touches_stock(const Point3& tip) const;
  bool hits_a_clamp(const Point3& tip) const;
  void turn_motors(const std::array<std::int64_t, axis_count>& steps);
  void turn_beside_clamps(const std::array<std::int64_t, axis_count>& steps);
  void cut_here(const Point3& tip);
  void ready_setter(const Point3& tip);
  void draw_with_heads();
  bool meets_the_top(const Point3& at) const;
  double held_by_nose(const Point3& tip, bool starts);
  bool burns(std::size_t head) const;

  /// How a switch's wire reaches the controller: whose it really is, and what a fault makes of it.
  struct Wire {
    std::size_t of = 0;
    bool dead = false, reversed = false;
  };
  static Wire wire_of(const Scenario& scenario, Axis axis);
  /// A head as a step of a move asks for it.
  struct HeadNow {
    bool beam = false, by_z = false, levelled = false;  ///< by_z: it has no block of its own, Z brings it down
    bool lowered = false, on = false;                   ///< by the controller's blocks
  };

  const Scenario* scenario_;
  std::array<AxisMechanics, axis_count> mechanics_;
  std::array<EndSwitch, axis_count> switches_;
  std::array<std::optional<EndSwitch>, axis_count> far_switches_;
  std::array<Wire, axis_count> wires_;
  double grown_ = 1;  ///< the frame, by its temperature
  /// After the beam has moved: a move asks for the lean at every step.
  void settle_lean();
  double lean_sin_ = 0, lean_cos_ = 1;
  double beam_ = 0, homed_offset_ = 0;  ///< right end against left, mm towards +Y, by hand and by homing
  PhysicalTool tool_;
  PlatePlace plate_ = PlatePlace::away;
  bool plate_right_ = false, plate_back_ = false;  ///< which corner
  std::vector<std::array<double, 2>> clamps_;
  bool clip_ = true, emergency_stop_ = false, probe_shorted_ = false, spindle_on_ = false;
  Arming arming_;
  std::mt19937_64 random_;
  double setter_top_ = 0, setter_error_ = 0;
  bool setter_pressed_ = false;
  double highest_ = 0;  ///< no part of the stock is above
  double cos_stock_ = 1, sin_stock_ = 0;
  CutStock cut_;
  std::vector<HeadMarks> marks_;
  std::vector<HeadNow> heads_;
  std::optional<double> nose_tick_;
  std::mt19937_64 of_nose_;
  double nose_off_ = 0;  ///< of the line in hand
  bool shaded_ = false;  ///< beams that are on are kept dark for now
  std::vector<std::vector<Flash>> flashes_;
};

}  // namespace ypsi::standin
