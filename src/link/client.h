#pragma once
// A controller at the other end of a line, as the MachineLink that procedures and the window talk to; where the
// controller says that it is simulated, also the bench of the person beside it. Nothing here waits but open(): settings
// are known from the handshake on, what is asked for is taken on trust until its answer, and what the bench reads is
// asked for again until it is there.
#include <deque>
#include <memory>

#include "link/wire.h"

namespace ypsi::link {

class Client final : public MachineLink, public Bench {
 public:
  explicit Client(std::unique_ptr<Transport> transport) : wire_(std::make_unique<Wire>(std::move(transport))) {}

  /// What a controller asks for that is reached over a network; empty: nothing.
  void set_token(std::string token) { wire_->set_token(std::move(token)); }
  /// Begins to shake hands and to read the settings, anew where it is up; poll() goes on with it. Error: `offline`.
  Result<void> begin(double within_s = 2);
  /// True once hands were shaken and the settings are known, false while that may be yet. Error: `offline` with why
  /// not.
  Result<bool> opened() const;
  /// begin(), and waits for what comes of it: for programs without a window.
  Result<void> open(double within_s = 2);
  /// Wire::poll(), and what became of what was asked for. Call it often.
  void poll();
  Wire& wire() { return *wire_; }
  const Wire& wire() const { return *wire_; }
  bool simulated() const { return wire_->identity().can("simulated"); }

  MachineStatus status() const override;
  Result<double> setting(std::string_view name) const override;
  Result<void> set_setting(std::string_view name, double value) override;
  std::map<std::string, double> settings() const override { return settings_; }
  std::vector<Refusal> refusals() override { return std::exchange(refusals_, {}); }
  Result<void> home() override;
  Result<void> jog(Axis axis, double distance, double rate) override;
  void end_jog() override { end_by(Act::end_jog); }
  Result<void> begin_program() override;
  Result<void> send(std::string_view block, std::uint32_t tag) override;
  void end_program() override;
  void stop() override { end_by(Act::stop); }
  void hold() override { end_by(Act::hold); }
  void go_on() override { wire_->post({{"do", "continue"}}, continue_within_s); }
  void abandon() override { end_by(Act::abandon); }
  void tool_changed(int tool) override;
  void set_feed_override(double factor) override;

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
  void turn_nose(double tick) override;
  Result<void> arm(std::string_view point) override;
  void set_clip(bool on) override;
  void hold_switch(Axis axis, bool pressed) override;
  void hold_far_switch(Axis axis, bool pressed) override;
  void press_emergency_stop(bool pressed) override;
  void lay_plate(PlatePlace place) override;
  Result<void> put_tool(int number) override;
  void lay_clamp(double x, double y) override;
  void take_clamps_away() override;
  void lay_fresh_stock() override;
  void adjust_nut(Axis axis) override;
  void move_rail_end(RailEnd end, double distance) override;
  void set_speed(double factor) override;

 private:
  /// Something that is looked at again and again: asked for without waiting, and meanwhile as it was last seen.
  struct Look {
    std::uint32_t asked = 0;
    json seen;
  };
  /// Asked for and not answered yet, in the order of asking.
  struct Pending {
    enum class Kind { act, setting, motion } kind{};
    json what{};
    std::string setting{};
    std::optional<double> before{};  ///< the setting, where it was known
    double uttered_at = 0;
    std::uint32_t number = 0;  ///< 0: not sent, since what comes before it is not settled
  };
  Result<void> ask(Pending pending);
  Result<void> move(json what, bool streams);
  Result<void> do_act(json what) { return ask({Pending::Kind::act, std::move(what)}); }
  void send_what_may_go();
  Result<void> settle(const Pending& pending, const Result<json>& answer);
  void end_by(Act act);
  void ask_for_settings();
  void hear_settings();
  bool unsent() const { return !pending_.empty() && pending_.back().number == 0; }
  const json& look(Look& at, const char* what) const;
  Result<json> reading(const json& request);
  Result<double> number(const json& request);

  std::unique_ptr<Wire> wire_;
  mutable Look gap_, stock_, setter_, tool_, surroundings_;
  std::deque<Pending> pending_;
  std::vector<Refusal> refusals_;
  std::optional<Error> motion_refused_;
  std::map<std::string, double> settings_;
  std::map<std::string, std::uint32_t> readings_;  ///< asked for and not there yet: the request's number, by its text
  std::uint32_t settings_asked_ = 0, greeted_ = 0;
  int settings_missed_ = 0;      ///< times, since hands were shaken
  bool settings_known_ = false;  ///< the controller's, since hands were shaken
  bool streams_ = false;         ///< the last motion asked for was a program
  bool program_ran_ = false, end_owed_ = false;
};

}  // namespace ypsi::link
