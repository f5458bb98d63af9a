#pragma once
// The wire between the stand-in and its host, and what breaks on it.
#include <cstdint>
#include <functional>
#include <optional>
#include <random>
#include <string>
#include <string_view>

#include "standin/scenario.h"

namespace ypsi::standin {

class Wire {
 public:
  /// `is_answer`: whether a line that comes up answers one that was sent.
  using IsAnswer = std::function<bool(std::string_view line)>;
  explicit Wire(std::uint64_t seed) : random_(seed) {}

  void poll(double now_s) { now_ = now_s; }
  /// Dropped: for two seconds nothing goes over it; garbled: for half a second what goes over it is.
  void break_down(FaultKind fault);
  /// False while it is dropped.
  bool up() const { return now_ >= down_until_; }
  /// What becomes of bytes on their way to the machine ...
  std::string to_machine(std::string_view bytes) { return on_air(bytes); }
  /// ... and of those that come from it.
  std::string to_host(std::string_view bytes, const IsAnswer& is_answer);

 private:
  std::string on_air(std::string_view bytes);
  std::string garble(std::string_view bytes);
  /// What comes of a whole line, in its turn.
  std::string befall(const std::string& line, const IsAnswer& is_answer);
  std::mt19937_64 random_;
  double now_ = 0, down_until_ = -1, garbled_until_ = -1, late_until_ = -1;
  std::optional<FaultKind> next_answer_;
  std::string partial_, late_, report_;
};

}  // namespace ypsi::standin
