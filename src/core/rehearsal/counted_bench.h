#pragma once
// A bench that counts what a person has to do at it. Contract: `rehearse`, effort.
#include "core/procedures/bench.h"

namespace ypsi {

/// A person's: what was read with an instrument and what was done by hand.
struct Effort {
  int readings = 0, acts = 0;
  double seconds = 0;
};

class CountedBench final : public Bench {
 public:
  /// `inner` must outlive it.
  explicit CountedBench(Bench& inner) : inner_(inner) {}
  const Effort& effort() const { return effort_; }

  double gap_seen() const override { return inner_.gap_seen(); }
  std::optional<Outline> stock_seen() const override { return inner_.stock_seen(); }
  std::optional<std::array<double, 2>> setter_seen() const override { return inner_.setter_seen(); }
  std::array<double, 3> tool_seen() const override { return inner_.tool_seen(); }
  Surroundings surroundings() const override { return inner_.surroundings(); }
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
  void turn_nose(double tick) override;
  void set_clip(bool on) override;
  void hold_switch(Axis axis, bool pressed) override;
  void hold_far_switch(Axis axis, bool pressed) override;
  void press_emergency_stop(bool pressed) override;
  void lay_plate(PlatePlace place) override;
  Result<void> arm(std::string_view point) override;
  Result<void> put_tool(int number) override;
  void lay_clamp(double x, double y) override;
  void take_clamps_away() override;
  void lay_fresh_stock() override;
  void adjust_nut(Axis axis) override;
  void move_rail_end(RailEnd end, double distance) override;
  void set_speed(double factor) override { inner_.set_speed(factor); }

 private:
  Bench& read(std::string_view instrument);
  Bench& act();
  Bench& inner_;
  Effort effort_;
};

}  // namespace ypsi
