#pragma once
// The stand-in's controller as one that is given a block at a time and never told where a program begins or ends. What
// the faces have in common is this and nothing else: how they talk is each one's own.
#include <string_view>

#include "core/program/interpreter.h"
#include "standin/controller.h"

namespace ypsi::standin {

class BlockRunner {
 public:
  explicit BlockRunner(Controller& controller) : controller_(controller) {}

  /// One block. Errors: `full`, take it again in a moment; else why it is refused.
  Result<void> take(std::string_view block);
  /// Errors as take(). They wait until what was taken before is done.
  Result<void> home();
  Result<void> jog(Axis axis, double distance, double rate);
  Result<void> set(std::string_view setting, double value);
  /// Nothing is under way or waits.
  bool idle() const;
  /// What was taken is forgotten; the machine slows down, or stands at once.
  void abandon();
  void stop();
  /// Goes on after a hold, or once the tool that was asked for is in.
  void go_on();
  void started_again();
  Controller& controller() { return controller_; }
  /// What became of a block after it was taken: read once.
  std::optional<Error> take_refusal();

 private:
  Result<void> closed();
  Result<void> move_unhomed(std::string_view block);

  Controller& controller_;
  Interpreter unhomed_;  ///< for what is moved by distances before homing
  bool open_ = false;    ///< a program is under way, as the controller has it
  std::uint32_t tag_ = 0;
};

}  // namespace ypsi::standin
