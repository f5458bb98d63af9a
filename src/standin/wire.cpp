#include "standin/wire.h"

#include <utility>

namespace ypsi::standin {
namespace {
constexpr double dropped_for_s = 2, garbled_for_s = 0.5, late_by_s = 0.5;
}

void Wire::break_down(FaultKind fault) {
  if (fault == FaultKind::link_drop)
    down_until_ = now_ + dropped_for_s;
  else if (fault == FaultKind::link_garbage)
    garbled_until_ = now_ + garbled_for_s;
  else
    next_answer_ = fault;
}

/// What a bad line makes of bytes: some lost, some changed, some from nowhere.
std::string Wire::garble(std::string_view bytes) {
  std::string out;
  for (const char c : bytes) {
    const auto dice = random_() % 8;
    if (dice == 0) continue;
    if (dice == 1) out += static_cast<char>(random_() & 0xff);
    out += dice == 2 ? static_cast<char>(random_() & 0xff) : c;
  }
  return out;
}

std::string Wire::on_air(std::string_view bytes) {
  if (!up()) return {};
  return now_ < garbled_until_ ? garble(bytes) : std::string(bytes);
}

std::string Wire::to_host(std::string_view bytes, const IsAnswer& is_answer) {
  if (!next_answer_ && late_.empty() && partial_.empty()) return on_air(bytes);
  std::string out;
  if (now_ >= late_until_) out = std::exchange(late_, {});
  for (const char c : bytes) {
    partial_ += c;
    if (c != '\n') continue;
    out += befall(partial_, is_answer);
    partial_.clear();
  }
  return on_air(out);
}

std::string Wire::befall(const std::string& line, const IsAnswer& is_answer) {
  if (now_ < late_until_) return late_ += line, std::string();  // nothing overtakes
  if (!is_answer(line)) return report_ = line;
  if (!next_answer_ || (next_answer_ == FaultKind::report_in_answer && report_.empty())) return line;
  const std::size_t half = line.size() / 2;
  switch (*std::exchange(next_answer_, std::nullopt)) {
    case FaultKind::answer_lost:
      return {};
    case FaultKind::answer_twice:
      return line + line;
    case FaultKind::answer_late:
      late_until_ = now_ + late_by_s;
      late_ = line;
      return {};
    case FaultKind::answer_garbled:
      return "\xf0" + line.substr(half);
    case FaultKind::report_in_answer:
      return line.substr(0, half) + report_ + line.substr(half);
    default:
      return line;
  }
}

}  // namespace ypsi::standin
