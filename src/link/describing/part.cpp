#include "link/describing/part.h"

#include <algorithm>
#include <charconv>

#include "core/ascii.h"

namespace ypsi::link {

Utterance* said_for(Part part, ControllerDescription& of) {
  switch (part) {
    case Part::place:
      return &of.report.ask;
    case Part::home:
      return &of.acts.home;
    case Part::jog:
      return &of.acts.jog;
    case Part::end_jog:
      return &of.acts.end_jog;
    case Part::hold:
      return &of.acts.hold;
    case Part::go_on:
      return &of.acts.go_on;
    case Part::abandon:
      return &of.acts.abandon;
    case Part::stop:
      return &of.acts.stop;
    case Part::feed_override:
      return &of.acts.feed_override;
    default:
      return nullptr;
  }
}

std::string* line_for(Part part, ControllerDescription& of) {
  switch (part) {
    case Part::greeting:
      return &of.greeting.send;
    case Part::taken:
      return &of.block.settle;
    case Part::probe:
      return &of.probe.block;
    default:
      return nullptr;
  }
}

std::string* pattern_for(Part part, ControllerDescription& of) {
  switch (part) {
    case Part::greeting:
      return &of.greeting.expect;
    case Part::taken:
      return &of.block.accepted;
    case Part::refused:
      return &of.block.refused;
    case Part::not_now:
      return &of.block.again;
    case Part::place:
      return &of.report.answer;
    case Part::probe:
      return &of.probe.answer;
    case Part::trouble:
      return &of.trouble;
    default:
      return nullptr;
  }
}

std::vector<std::string> groups_of(Part part) {
  switch (part) {
    case Part::refused:
    case Part::trouble:
      return {"why"};
    case Part::place:
      return {"state", "mx", "my", "mz", "wx", "wy", "wz", "feed", "spindle", "inputs"};
    case Part::probe:
      return {"contact", "mx", "my", "mz", "wx", "wy", "wz"};
    case Part::settings:
      return {"value"};
    default:
      return {};
  }
}

bool is_described(Part part, const ControllerDescription& in) {
  ControllerDescription d = in;
  if (part == Part::settings) return !d.settings.empty();
  if (part == Part::words) return !d.takes_not.empty();
  if (part == Part::trust) return d.trust != TrustTalk{};
  if (const std::string* pattern = pattern_for(part, d)) return !pattern->empty();
  const Utterance* said = said_for(part, d);
  return said && said->said();
}

bool moves_in_try(Part part) {
  switch (part) {
    case Part::home:
    case Part::jog:
    case Part::end_jog:
    case Part::hold:
    case Part::go_on:
    case Part::abandon:
    case Part::stop:
    case Part::probe:
      return true;
    default:
      return false;
  }
}

bool can_be_tried(Part part) {
  return moves_in_try(part) || part == Part::greeting || part == Part::taken || part == Part::refused ||
         part == Part::place || part == Part::settings;
}

namespace {

/// As `text` is for X.
std::string for_axis(const std::string& text, Axis axis, int step) {
  std::string out;
  bool found = false;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const bool alone = (i == 0 || !is_letter(text[i - 1])) && (i + 1 == text.size() || !is_letter(text[i + 1]));
    const bool is_x = alone && (text[i] == 'x' || text[i] == 'X');
    found = found || is_x;
    out += !is_x ? text[i] : text[i] == 'x' ? *axis_key(axis) : letter(axis);
  }
  if (found || step == 0) return out;
  const auto first = std::find_if(text.begin(), text.end(), is_digit);
  if (first == text.end()) return text;
  const auto behind = std::find_if_not(first, text.end(), is_digit);
  int number = 0;
  if (std::from_chars(&*first, text.data() + (behind - text.begin()), number).ec != std::errc()) return text;
  return std::string(text.begin(), first) + std::to_string(number + step * static_cast<int>(index(axis))) +
         std::string(behind, text.end());
}

}  // namespace

void say_for_other_axes(ControllerDescription& description, int step) {
  const auto all = description.settings;
  const std::string of_x = "axis.x.";
  for (const auto& [name, setting] : all) {
    if (!name.starts_with(of_x)) continue;
    for (const Axis axis : {Axis::y, Axis::z}) {
      DescribedSetting other = setting;
      for (std::string* text : {&other.get.block, &other.answer, &other.set, &other.called})
        *text = for_axis(*text, axis, step);
      description.settings.try_emplace(axis_setting(axis, name.substr(of_x.size())), std::move(other));
    }
  }
}

}  // namespace ypsi::link
