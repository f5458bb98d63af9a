// What a description may say, and what its lines mean.
#include "link/lines/controller_description.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <utility>

#include "link/messages.h"

namespace ypsi::link {
namespace {

constexpr std::array setting_heads{"axis.x.", "axis.y.", "axis.z.", "limits.", "probe.", "work.", "tool."};

Error flaw(std::string code, std::string sentence, std::string where) {
  return {std::move(code), std::move(sentence), std::move(where)};
}

/// What is wrong with a line that has places to fill.
std::optional<Error> flaw_of_places(const std::string& text, const std::vector<std::string>& needed,
                                    const std::vector<std::string>& allowed, const std::string& where) {
  for (const std::string& each : needed)
    if (text.find('{' + each + '}') == std::string::npos)
      return flaw("missing", fmt::format("“{}” is to have {{{}}} where that goes.", where, each), where);
  for (std::size_t at = text.find('{'); at != std::string::npos; at = text.find('{', at + 1)) {
    const std::size_t end = text.find('}', at);
    const std::string name = end == std::string::npos ? text.substr(at + 1) : text.substr(at + 1, end - at - 1);
    if (std::find(allowed.begin(), allowed.end(), name) == allowed.end())
      return flaw("out_of_range", fmt::format("“{}” has a place {{{}}} that nothing fills.", where, name), where);
  }
  return std::nullopt;
}

std::optional<Error> flaw_of_utterance(const Utterance& u, const std::string& where) {
  if (!u.block.empty() + !u.text.empty() + !u.bytes.empty() > 1)
    return flaw("out_of_range", fmt::format("“{}” says more than one of block, text and bytes; leave one.", where),
                where);
  if (auto bytes = bytes_of(u.bytes); !bytes) return flaw("out_of_range", bytes.error().message, where + ".bytes");
  for (const std::string* line : {&u.block, &u.text})
    if (line->find_first_of("\r\n") != std::string::npos)
      return flaw("out_of_range", fmt::format("“{}” has a line's end in it; it is one line.", where), where);
  return std::nullopt;
}

std::optional<Error> flaw_of_pattern(const std::string& text, const std::vector<std::string>& needed,
                                     const std::string& where) {
  const auto pattern = LinePattern::from(text);
  if (!pattern) return flaw("bad_pattern", fmt::format("“{}”: {}", where, pattern.error().message), where);
  if (text.empty()) return std::nullopt;
  for (const std::string& each : needed)
    if (!pattern->has_group(each))
      return flaw("missing", fmt::format("“{}” is to have a group (?P<{}>…).", where, each), where);
  return std::nullopt;
}

std::optional<Error> flaw_of_report(const ControllerDescription& d) {
  if (d.report.ask.said() && !d.reports())
    return flaw("missing", "“report” asks, and “report.answer” does not say what comes back.", "report.answer");
  if (!d.reports()) return std::nullopt;
  if (auto bad = flaw_of_pattern(d.report.answer, {"state"}, "report.answer")) return bad;
  const LinePattern answer = LinePattern::of(d.report.answer);
  const auto has = [&](const char* kind) {
    return std::all_of(all_axes.begin(), all_axes.end(),
                       [&](Axis a) { return answer.has_group(std::string(kind) + axis_key(a)); });
  };
  if (!has("m") && !has("w"))
    return flaw("missing",
                "“report.answer” is to tell where it stands: groups mx, my and mz of the machine, or wx, wy and wz of "
                "the work.",
                "report.answer");
  if (d.states.empty())
    return flaw("missing", "“states” is to say what the words of the report's state mean.", "states");
  return std::nullopt;
}

std::optional<Error> flaw_of_words(const ControllerDescription& d) {
  for (const auto& [word, state] : d.states)
    if (!state_of_word(state) || state == "offline")
      return flaw("out_of_range", fmt::format("“states.{}”: there is no state “{}”.", word, state), "states." + word);
  MachineInputs inputs;
  for (const auto& [word, input] : d.inputs)
    if (word.empty() || !set_input(inputs, input, true))
      return flaw("out_of_range", fmt::format("“inputs.{}”: there is no input “{}”.", word, input), "inputs." + word);
  for (const auto& [name, setting] : d.settings) {
    const std::string where = "settings." + name;
    if (std::none_of(setting_heads.begin(), setting_heads.end(),
                     [&n = name](const char* head) { return n.starts_with(head); }))
      return flaw("out_of_range", fmt::format("There is no setting “{}”; docs/link.md lists them.", name), where);
    if (auto bad = flaw_of_utterance(setting.get, where + ".get")) return bad;
    if (auto bad = flaw_of_pattern(setting.answer, {"value"}, where + ".answer")) return bad;
    if (setting.get.said() && setting.get.block.empty())
      return flaw("wrong_type", fmt::format("“{}.get” is to be a block, whose answer says that all was told.", where),
                  where + ".get");
    if (setting.get.said() != !setting.answer.empty())
      return flaw("missing", fmt::format("“{}” is to have both get and answer, or neither.", where), where);
    if (!setting.set.empty())
      if (auto bad = flaw_of_places(setting.set, {"value"}, {"value"}, where + ".set")) return bad;
  }
  return std::nullopt;
}

std::optional<Error> flaw_of_acts(const ControllerDescription& d) {
  const ActTalk& a = d.acts;
  const std::pair<const char*, const Utterance*> acts[] = {
      {"hold", &a.hold}, {"continue", &a.go_on}, {"abandon", &a.abandon}, {"stop", &a.stop},
      {"home", &a.home}, {"jog", &a.jog},        {"end_jog", &a.end_jog}, {"override", &a.feed_override}};
  for (const auto& [name, act] : acts)
    if (auto bad = flaw_of_utterance(*act, std::string("acts.") + name)) return bad;
  if (a.hold.said() && !a.go_on.said())
    return flaw("missing", "“acts” has hold and no continue, so nothing could let go of it.", "acts.continue");
  for (const auto& [name, act] : {std::pair{"home", &a.home}, std::pair{"jog", &a.jog}})
    if (act->said() && act->block.empty())
      return flaw("wrong_type", fmt::format("“acts.{}” is to be a block, whose answer says that it was taken.", name),
                  std::string("acts.") + name);
  if (!a.jog.block.empty())
    if (auto bad = flaw_of_places(a.jog.block, {"axis", "distance", "rate"}, {"axis", "distance", "rate"}, "acts.jog"))
      return bad;
  const std::string& factor = a.feed_override.block.empty() ? a.feed_override.text : a.feed_override.block;
  if (a.feed_override.said())
    if (auto bad = flaw_of_places(factor, {"percent"}, {"percent"}, "acts.override")) return bad;
  if (d.probe.block.empty() && !d.probe.answer.empty())
    return flaw("missing", "“probe” has an answer and no block.", "probe.block");
  if (!d.probe.block.empty()) {
    const std::vector<std::string> places{"axis", "place", "rate"};
    if (auto bad = flaw_of_places(d.probe.block, places, places, "probe.block")) return bad;
  }
  return std::nullopt;
}

}  // namespace

bool ControllerDescription::tells_work_alone() const {
  return reports() && !LinePattern::of(report.answer).has_group("mx");
}

bool ControllerDescription::takes(std::string_view word) const {
  return std::find(takes_not.begin(), takes_not.end(), word) == takes_not.end();
}

std::optional<Error> flaw_of(const ControllerDescription& d) {
  if (d.name.empty())
    return flaw("missing", "The description has no “name”; say what the controller is called.", "name");
  if (d.line.ending.empty() || d.line.ending.size() > 2 || d.line.ending.find_first_not_of("\r\n") != std::string::npos)
    return flaw("out_of_range", "“line.ending” is to be a line feed, a carriage return, or both.", "line.ending");
  if (auto bad = flaw_of_pattern(d.greeting.expect, {}, "greeting.expect")) return bad;
  if (d.block.accepted.empty())
    return flaw("missing", "“block.accepted” is to say how a block is answered; nothing goes without it.",
                "block.accepted");
  for (const auto& [where, pattern] :
       {std::pair{"block.accepted", &d.block.accepted}, std::pair{"block.refused", &d.block.refused},
        std::pair{"block.again", &d.block.again}})
    if (auto bad = flaw_of_pattern(*pattern, {}, where)) return bad;
  if (auto bad = flaw_of_utterance(d.report.ask, "report.ask")) return bad;
  if (auto bad = flaw_of_report(d)) return bad;
  if (auto bad = flaw_of_pattern(d.probe.answer, {"contact"}, "probe.answer")) return bad;
  if (auto bad = flaw_of_pattern(d.trouble, {}, "trouble")) return bad;
  if (auto bad = flaw_of_words(d)) return bad;
  if (auto bad = flaw_of_acts(d)) return bad;
  if (!d.reports() && d.block.answered == Answered::taken && d.block.settle.empty())
    return flaw("missing",
                "Nothing tells when a move has ended: say that a block is answered when it is done "
                "(“block.answered”), or what block waits for all before it (“block.settle”, mostly a dwell), or how it "
                "reports.",
                "block.answered");
  return std::nullopt;
}

Result<std::string> bytes_of(const std::string& hexadecimal) {
  std::string digits;
  for (const char c : hexadecimal)
    if (c != ' ') digits += c;
  std::string bytes;
  const auto is_digit = [](char c) { return std::isxdigit(static_cast<unsigned char>(c)) != 0; };
  if (digits.size() % 2 != 0 || !std::all_of(digits.begin(), digits.end(), is_digit))
    return fail("out_of_range",
                fmt::format("“{}” are no bytes; write each with two hexadecimal digits, as 1b.", hexadecimal));
  for (std::size_t i = 0; i < digits.size(); i += 2)
    bytes += static_cast<char>(std::stoi(digits.substr(i, 2), nullptr, 16));
  return bytes;
}

std::string filled(std::string_view text, const std::map<std::string, std::string>& places) {
  std::string out(text);
  for (const auto& [name, value] : places) {
    const std::string place = '{' + name + '}';
    for (std::size_t at = out.find(place); at != std::string::npos; at = out.find(place, at + value.size()))
      out.replace(at, place.size(), value);
  }
  return out;
}

bool set_input(MachineInputs& inputs, std::string_view name, bool on) {
  if (name == "probe") return inputs.probe = on, true;
  if (name == "emergency_stop") return inputs.emergency_stop = on, true;
  for (const Axis axis : all_axes) {
    if (name == std::string("home_") + axis_key(axis)) return inputs.home_switch[index(axis)] = on, true;
    if (name == std::string("far_") + axis_key(axis)) return inputs.far_switch[index(axis)] = on, true;
  }
  return false;
}

}  // namespace ypsi::link
