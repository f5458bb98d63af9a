#pragma once
// A bench at which nothing is seen and nothing happens; tests override what they are about.
#include "core/procedures/bench.h"

namespace ypsi {

class QuietBench : public Bench {
 public:
  double gap_seen() const override { return 0; }
  std::optional<Outline> stock_seen() const override { return std::nullopt; }
  std::optional<std::array<double, 2>> setter_seen() const override { return std::nullopt; }
  std::array<double, 3> tool_seen() const override { return {}; }
  Surroundings surroundings() const override { return {}; }
  void mark(Axis) override {}
  Result<double> read_distance(Axis, std::string_view) override { return 0.0; }
  Result<double> read_free_way(Axis, bool, std::string_view) override { return 0.0; }
  Result<void> spot(std::string_view) override { return {}; }
  Result<double> read_between(std::string_view, std::string_view, std::string_view) override { return 0.0; }
  Result<double> read_square(double, bool, std::string_view) override { return 0.0; }
  Result<double> read_blade(Axis, double, bool, std::string_view) override { return 0.0; }
  Result<double> read_sweep(double, double, std::string_view) override { return 0.0; }
  Result<double> measure(const CutFeature&, std::string_view) override { return 0.0; }
  Result<std::array<double, 2>> pointer_from(std::string_view, double) override { return std::array{0.0, 0.0}; }
  Result<std::array<double, 2>> head_from(std::string_view, std::string_view) override { return std::array{0.0, 0.0}; }
  Result<double> read_strokes(const StrokePoint&, const StrokePoint&, Axis, std::string_view) override { return 0.0; }
  Result<double> read_width(std::string_view, std::string_view) override { return 0.0; }
  Result<double> read_strips(std::string_view, int, std::string_view) override { return 0.0; }
  Result<TrialSeen> try_cut(std::string_view, double) override { return TrialSeen{}; }
  Result<double> read_from_fence(std::string_view, std::string_view) override { return 0.0; }
  Result<double> read_groove(double, std::string_view) override { return 0.0; }
  void turn_nose(double) override {}
  void set_clip(bool) override {}
  void hold_switch(Axis, bool) override {}
  void hold_far_switch(Axis, bool) override {}
  void press_emergency_stop(bool) override {}
  void lay_plate(PlatePlace) override {}
  Result<void> arm(std::string_view) override { return {}; }
  Result<void> put_tool(int) override { return {}; }
  void lay_clamp(double, double) override {}
  void take_clamps_away() override {}
  void lay_fresh_stock() override {}
  void adjust_nut(Axis) override {}
  void move_rail_end(RailEnd, double) override {}
  void set_speed(double) override {}
};

}  // namespace ypsi
