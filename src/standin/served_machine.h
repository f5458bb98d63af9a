#pragma once
// The stand-in behind its link: bytes in, bytes out, and a clock to wind. This header is all of it that the window, or
// any other program, may include; nothing here tells the truth.
#include <memory>
#include <string>
#include <string_view>

#include "core/rehearsal/owner_knows.h"
#include "link/transport.h"

namespace ypsi {
class Bench;
class MachineLink;
}  // namespace ypsi

namespace ypsi::standin {

class StandIn;
struct Scenario;

class ServedMachine final : public link::ByteDevice {
 public:
  /// Errors: those of read_scenario.
  static Result<std::unique_ptr<ServedMachine>> from_scenario(std::string_view text);
  static std::unique_ptr<ServedMachine> from(Scenario scenario);
  ~ServedMachine() override;
  ServedMachine(const ServedMachine&) = delete;
  ServedMachine& operator=(const ServedMachine&) = delete;

  void receive(std::string_view bytes) override;
  std::string take_output() override;
  /// Call it at least every 20 ms.
  void poll(double now_s) override;
  void closed() override;
  /// False for a while after a fault that drops the line.
  bool line_up() const override;

  /// It answers as another controller, one that takes G-code a line at a time: "bare", "asked" or "telling".
  /// Error: `out_of_range` for any other name.
  Result<void> wear(std::string_view face);
  bool wears_face() const;

  /// What the line carries, bytes/s: states take a third of it. 0: no bound.
  void set_line_rate(double bytes_per_s);
  /// A host must tell this in its hello; empty: none need.
  void require_token(std::string token);
  /// Whether somebody has greeted and is heard.
  bool has_host() const;

  /// Seconds of the machine's own time.
  void advance(double seconds);
  double now_s() const;
  /// Times real time as set at the bench; 0: as fast as it goes.
  double speed() const;
  void set_speed(double factor);

  /// The controller and the bench without a line between, for a program that needs none.
  MachineLink& link();
  Bench& bench();
  /// What its owner knows without measuring.
  OwnerKnows known() const;

  /// The controller's own memory of its settings, which outlives a power-down. JSON.
  std::string settings() const;
  void restore_settings(std::string_view json);

 private:
  friend StandIn& truth_of(ServedMachine& machine);
  struct Parts;
  explicit ServedMachine(std::unique_ptr<Parts> parts);
  std::unique_ptr<Parts> parts_;
};

}  // namespace ypsi::standin
