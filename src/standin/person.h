#pragma once
// The person at the stand-in: sees it, lays instruments to it and reads them, puts hands on it.
#include <map>
#include <random>

#include "core/procedures/machine_link.h"
#include "standin/plant.h"

namespace ypsi::standin {

class Person final : public Bench {
 public:
  Person(Plant& plant, const MachineLink& controller);

  double gap_seen() const override;
  std::optional<Outline> stock_seen() const override;
  std::optional<std::array<double, 2>> setter_seen() const override;
  std::array<double, 3> tool_seen() const override;
  Surroundings surroundings() const override;
  void mark(Axis axis) override;
  Result<double> read_distance(Axis axis, std::string_view instrument) override;
  Result<double> read_free_way(Axis axis, bool towards_plus, std::string_view instrument) override;
  Result<void> spot(std::string_view name) override;
  Result<double> read_between(std::string_view from, std::string_view to, std::string_view instrument) override;
  Result<double> read_square(double length, bool turned, std::string_view instrument) override;
  Result<double> read_blade(Axis towards, double height, bool turned, std::string_view instrument) override;
  Result<double> read_sweep(double radius, double angle_deg, std::string_view instrument) override;
  Result<double> measure(const CutFeature& feature, std::string_view instrument) override;
  Result<std::array<double, 2>> pointer_from(std::string_view spotted, double power_percent) override;
  Result<std::array<double, 2>> head_from(std::string_view head, std::string_view spotted) override;
  Result<double> read_strokes(const StrokePoint& from, const StrokePoint& to, Axis along,
                              std::string_view instrument) override;
  Result<double> read_width(std::string_view head, std::string_view instrument) override;
  Result<double> read_strips(std::string_view head, int strips, std::string_view instrument) override;
  Result<TrialSeen> try_cut(std::string_view head, double level) override;
  Result<double> read_from_fence(std::string_view fence, std::string_view instrument) override;
  Result<double> read_groove(double tick, std::string_view instrument) override;
  void turn_nose(double tick) override { plant_.turn_nose(tick); }
  void set_clip(bool on) override { plant_.set_clip(on); }
  void hold_switch(Axis axis, bool pressed) override { plant_.hold_switch(axis, pressed); }
  void hold_far_switch(Axis axis, bool pressed) override { plant_.hold_far_switch(axis, pressed); }
  void press_emergency_stop(bool pressed) override { plant_.press_emergency_stop(pressed); }
  Result<void> arm(std::string_view point) override { return plant_.arm(point); }
  void lay_plate(PlatePlace place) override { plant_.lay_plate(place); }
  Result<void> put_tool(int number) override;
  void lay_clamp(double x, double y) override;
  void take_clamps_away() override { plant_.take_clamps_away(); }
  void lay_fresh_stock() override { plant_.lay_fresh_stock(); }
  void adjust_nut(Axis axis) override { plant_.adjust_nut(axis); }
  void move_rail_end(RailEnd end, double distance) override { plant_.move_rail_end(end, distance); }
  void set_speed(double factor) override { speed_ = factor > 0 ? factor : 0; }
  double speed() const { return speed_; }

  /// Exact size of a feature, from the sweeps: what an instrument without errors would read. Error: `no_feature`.
  Result<double> true_size(const CutFeature& feature) const;
  Result<double> true_groove(const std::vector<const Stroke*>& strokes, const CutFeature& feature,
                             const Point3& at) const;

 private:
  struct CalibrationError {
    double fixed = 0, relative = 0;
  };
  /// `jaws`: which part of the instrument is laid on, where it has several that are each off by their own.
  Result<double> read(double distance, std::string_view instrument, std::string_view jaws = {});
  Result<std::size_t> head(std::string_view name) const;
  Result<TrialSeen> look_for_dot(std::size_t head);
  /// Whether the lines that a size is measured between were made by heads: where there are heads and nothing was
  /// milled.
  bool measures_lines() const;
  double width_of(std::size_t head, const Stroke& stroke) const;  ///< mm, of a beam's line
  double groove_depth(double level);                              ///< mm, of the next groove
  Result<std::array<double, 2>> place_of(const StrokePoint& point) const;
  /// A place of the controller's machine frame, physically: as far from the tool as it is in the controller's count.
  Point3 physical(const MachinePosition& place) const;

  Plant& plant_;
  const MachineLink& controller_;
  std::array<std::optional<double>, axis_count> marks_;
  std::map<std::string, std::array<double, 2>, std::less<>> spots_;
  std::map<std::string, CalibrationError, std::less<>> calibration_;
  double square_error_ = 0;  ///< rad, of the carpenter's square
  std::mt19937_64 random_;
  double speed_ = 1;
};

}  // namespace ypsi::standin
