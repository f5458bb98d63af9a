#pragma once
// What is switched on at the stand-in before anything moves: one after the other, each when the one before is there.
#include <string>
#include <string_view>

#include "core/result.h"
#include "standin/scenario.h"

namespace ypsi::standin {

class Arming {
 public:
  explicit Arming(const PhysicalArming& truth) : truth_(truth) {}

  /// Errors: `unknown_point`; `not_armed`: it does not come on, with what is wrong.
  Result<void> switch_on(std::string_view point, bool stop_pressed);
  /// An emergency stop takes everything off but the air.
  void stop();
  /// Error: `not_armed`, with what is next.
  Result<void> all_on() const;

 private:
  std::string in_order() const;

  const PhysicalArming& truth_;
  std::size_t on_ = 0;  ///< so many of them
};

}  // namespace ypsi::standin
