#include "link/describing/describing_bench.h"

#include <fmt/format.h>

#include <algorithm>

namespace ypsi::link {

DescribingBench::DescribingBench(std::unique_ptr<Transport> transport, HandMemory known,
                                 std::shared_ptr<ControllerDescription> draft)
    : line_(std::move(transport)), known_(std::move(known)), draft_(std::move(draft)) {}

void DescribingBench::poll() {
  if (trying())
    try_->poll();
  else
    (void)line_.read();  // into its log
}

Result<void> DescribingBench::may_speak() const {
  if (!line_.is_open()) return fail("offline", "The line is not open; connect it first.");
  if (trying()) return fail("busy", "Something is being tried; wait until it has ended, or give it up.");
  return {};
}

Result<void> DescribingBench::say(const std::string& text) {
  if (auto ok = may_speak(); !ok) return ok;
  line_.write(text + draft_->line.ending);
  return {};
}

Result<void> DescribingBench::say_bytes(const std::string& hexadecimal) {
  if (auto ok = may_speak(); !ok) return ok;
  const auto bytes = bytes_of(hexadecimal);
  if (!bytes) return tl::make_unexpected(bytes.error());
  line_.write(*bytes);
  return {};
}

Result<void> DescribingBench::learn(Part part, const std::string& line, const std::vector<Mark>& marks) {
  std::string* const pattern = pattern_for(part, *draft_);
  if (!pattern) return fail("out_of_range", "Nothing comes back for this part.");
  *pattern = pattern_of(line, marks, stands_alone(part));
  return {};
}

Result<void> DescribingBench::learn_setting(const std::string& name, const std::string& line) {
  const auto tokens = tokens_of(line);
  const auto last = std::find_if(tokens.rbegin(), tokens.rend(), [](const Token& t) { return t.number; });
  if (last == tokens.rend())
    return fail("missing", fmt::format("“{}” has no number that could be the setting's value.", line));
  const std::string value = line.substr(last->begin, last->end - last->begin);
  const std::size_t point = value.find('.');
  DescribedSetting& setting = draft_->settings[name];
  setting.answer = pattern_of(line, {{*last, "value"}}, true);
  setting.digits = point == std::string::npos ? 0 : static_cast<int>(value.size() - point - 1);
  return {};
}

std::vector<std::string> DescribingBench::came_since_said() const {
  const LinePattern known[] = {LinePattern::of(draft_->report.answer), LinePattern::of(draft_->block.accepted)};
  std::vector<std::string> came;
  for (auto line = log().lines().rbegin(); line != log().lines().rend() && line->from_controller; ++line)
    if (std::none_of(std::begin(known), std::end(known), [&](const LinePattern& p) { return p.find(line->bytes); }))
      came.push_back(line->bytes);
  std::reverse(came.begin(), came.end());
  return came;
}

Result<void> DescribingBench::begin_try(Part part) {
  if (auto ok = may_speak(); !ok) return ok;
  if (!can_be_tried(part))
    return fail("out_of_range", "This part is seen when the machine works, and cannot be tried.");
  try_ = std::make_unique<PartTry>(part, line_, *draft_, known_);
  return {};
}

void DescribingBench::give_up_try() {
  if (try_) try_->give_up();
}

}  // namespace ypsi::link
