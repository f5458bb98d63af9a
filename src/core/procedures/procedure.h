#pragma once
// What drives a machine step by step for as long as it takes: begun, ticked, answered, ended. A runner holds the one
// that is under way; a window only watches it.
#include <string>
#include <vector>

#include "core/procedures/machine_link.h"

namespace ypsi {

/// What a procedure cannot go on without.
enum class WaitsFor {
  nothing,  ///< it is not under way
  machine,  ///< a move or a touch to end
  reading,  ///< a number that somebody reads
  act,      ///< something that a hand does
};

/// A setting of the controller that was changed for a while, and what it was.
struct LentSetting {
  std::string name;
  double found = 0;
  bool operator==(const LentSetting&) const = default;
};

/// Each procedure has a start() of its own, which checks everything before anything moves and changes nothing where it
/// returns an error. From then on this interface is all that its runner knows:
///   if (auto ok = runner.start(touch, [&] { return touch->start(link, way); }); !ok) ...
///   while (touch->running()) runner.tick();
class Procedure {
 public:
  enum class Phase {
    idle,
    running,
    ending,  ///< ended, but the machine does not stand yet, or what was lent is still to be put back
    done,
    failed,
  };

  Procedure() = default;
  Procedure(const Procedure&) = delete;
  Procedure& operator=(const Procedure&) = delete;
  virtual ~Procedure() = default;

  /// Looks at the machine and goes on. Call it often; does nothing where it is not running().
  void tick();
  /// Ends it, at any time: what moves slows down and stands, what was lent is put back, `why` is its error. Does
  /// nothing where it is not running.
  void cancel(Error why = {"cancelled", "It was ended; nothing was changed.", ""});
  /// The link is gone, or about to go: nothing more is asked of it. What was lent and could not be put back is owed().
  void part_from_link(Error why);

  Phase phase() const { return phase_; }
  bool running() const { return phase_ == Phase::running || phase_ == Phase::ending; }
  WaitsFor waits_for() const { return phase_ == Phase::running ? needs() : WaitsFor::nothing; }
  const Error& error() const { return error_; }                   ///< with `failed` and `ending`
  const std::vector<LentSetting>& owed() const { return lent_; }  ///< with `failed`: what the controller is owed

 protected:
  /// From start(), once everything was looked at.
  void begin(MachineLink& link);
  virtual void step(const MachineStatus& now) = 0;
  virtual WaitsFor needs() const { return WaitsFor::machine; }
  void finish() { end(Phase::done, {}); }
  void fail_with(Error error) { end(Phase::failed, std::move(error)); }
  /// Sets a setting until the procedure ends, whichever way. Errors: those of a setting.
  Result<void> lend(const std::string& name, double value);
  /// Puts back what was lent before the end. Errors: those of a setting.
  Result<void> put_back();
  MachineLink& link() const { return *link_; }
  /// Of a start() that already moved something: its error, or nothing.
  Result<void> begun() const;

 private:
  void end(Phase phase, Error error);
  void settle();
  MachineLink* link_ = nullptr;
  Phase phase_ = Phase::idle, ends_as_ = Phase::done;
  Error error_;
  std::vector<LentSetting> lent_;
};

/// Whether nothing moves by itself, so that settings are taken.
bool stands(MachineState state);

}  // namespace ypsi
