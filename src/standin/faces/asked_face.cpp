// `asked`: takes lines into 96 bytes and answers each when it has gone on from there; tells where it is when it hears
// ENQ; knows its settings by names; hears single bytes at once, whatever waits.
#include <fmt/format.h>

#include <locale>
#include <optional>
#include <sstream>

#include "standin/faces/block_runner.h"
#include "standin/faces/face.h"

namespace ypsi::standin {
namespace asked {
namespace {

constexpr std::size_t buffer_bytes = 96;
constexpr char enquiry = 0x05, pause = 0x13, on_again = 0x11, drop = 0x19, ease = 0x1c, halt = 0x07;
constexpr const char* who = "asked mill 2 awake\n";

struct Named {
  const char* name;  ///< its own, behind the axis
  const char* ours;
};
constexpr Named names[] = {
    {"_steps", "steps_per_mm"},      {"_fastest", "max_rate_mm_min"}, {"_gain", "accel_mm_s2"},
    {"_low", "soft_min_mm"},         {"_high", "soft_max_mm"},        {"_switch_at", "home_coordinate_mm"},
    {"_switch_high", "home_at_max"}, {"_back_off", "pull_off_mm"},    {"_turned", "reversed"}};

std::optional<std::string> setting_of(std::string_view own) {
  if (own.size() < 2) return std::nullopt;
  for (const Axis axis : all_axes)
    for (const Named& each : names)
      if (own[0] == *axis_key(axis) && own.substr(1) == each.name) return axis_setting(axis, each.ours);
  return std::nullopt;
}

const char* doing(const MachineStatus& now, bool idle) {
  switch (now.state) {
    case MachineState::held:
      return "paused";
    case MachineState::stopped:
      return "halted";
    case MachineState::emergency_stop:
      return "emergency";
    case MachineState::tool_change:
      return "wants-tool";
    case MachineState::not_homed:
      return "lost";
    default:
      return !idle ? "running" : now.all_homed() ? "still" : "lost";
  }
}

class AskedFace final : public Face {
 public:
  explicit AskedFace(Controller& controller) : runner_(controller) { out_ = who; }

  void receive(std::string_view bytes) override {
    for (const char c : bytes)
      if (!hear_byte(c) && !is_full() && waiting_.size() < buffer_bytes) waiting_ += c;  // what has no room is gone
  }
  std::string take_output() override { return std::exchange(out_, {}); }
  bool is_answer(std::string_view line) const override { return line.starts_with("took") || line.starts_with("left"); }
  void started_again() override {
    waiting_.clear();
    probes_ = 0;
    runner_.started_again();
    out_ += who;
  }

  void work() override {
    const MachineStatus now = runner_.controller().status();
    if (now.probe.count != probes_) {
      probes_ = now.probe.count;
      out_ += fmt::format("met {} at {:.3f} {:.3f} {:.3f}\n", now.probe.contact ? "yes" : "no", now.probe.at.x,
                          now.probe.at.y, now.probe.at.z);
    }
    if (const auto refusal = runner_.take_refusal()) out_ += "trouble, " + refusal->message + "\n";
    for (std::size_t end = waiting_.find('\n'); end != std::string::npos; end = waiting_.find('\n')) {
      if (waiting_.substr(0, end) == "who") {
        out_ += who;
        waiting_.erase(0, end + 1);
        continue;
      }
      const auto taken = take(waiting_.substr(0, end));
      if (!taken && taken.error().code == "full") return;
      waiting_.erase(0, end + 1);
      out_ += taken ? "took\n" : "left it: " + taken.error().message + "\n";
    }
  }

 private:
  bool hear_byte(char c) {
    switch (c) {
      case enquiry:
        tell();
        return true;
      case pause:
        runner_.controller().hold();
        return true;
      case on_again:
        runner_.go_on();
        return true;
      case drop:
        waiting_.clear();
        runner_.abandon();
        return true;
      case ease:
        runner_.controller().end_jog();
        return true;
      case halt:
        waiting_.clear();
        runner_.stop();
        return true;
      default:
        return false;
    }
  }

  void tell() {
    const MachineStatus now = runner_.controller().status();
    std::string on;
    for (const Axis axis : all_axes) {
      if (now.inputs.home_switch[index(axis)]) on += fmt::format(" {}-home", axis_key(axis));
      if (now.inputs.far_switch[index(axis)]) on += fmt::format(" {}-far", axis_key(axis));
    }
    if (now.inputs.probe) on += " probe";
    if (now.inputs.emergency_stop) on += " emergency";
    out_ += fmt::format("stands {:.3f} {:.3f} {:.3f} {} feed {:.0f} turns {:.0f} on{}\n", now.position.x,
                        now.position.y, now.position.z, doing(now, runner_.idle() && waiting_.empty()), now.feed,
                        now.spindle_rpm, on.empty() ? " nothing" : on);
  }

  Result<void> take(const std::string& line) {
    std::istringstream words(line);
    words.imbue(std::locale::classic());
    std::string verb, name;
    words >> verb;
    if (verb == "tell" && words >> name) {
      const auto setting = setting_of(name);
      if (!setting) return fail("unknown", "there is no " + name);
      out_ += fmt::format("{} is {:.4f}\n", name, runner_.controller().setting(*setting).value_or(0));
      return {};
    }
    double value = 0;
    if (verb == "let" && words >> name >> value) {
      const auto setting = setting_of(name);
      if (!setting) return fail("unknown", "there is no " + name);
      return runner_.set(*setting, value);
    }
    if (line == "seek home") return runner_.home();
    double rate = 0;
    if (verb == "creep" && words >> name >> value >> rate) {
      for (const Axis axis : all_axes)
        if (name == std::string(1, letter(axis))) return runner_.jog(axis, value, rate);
      return fail("unknown", "there is no axis " + name);
    }
    if (verb == "haste" && words >> value) {
      runner_.controller().set_feed_override(value / 100);
      return {};
    }
    return runner_.take(line);
  }

  BlockRunner runner_;
  std::string waiting_, out_;
  std::uint32_t probes_ = 0;
};

}  // namespace
}  // namespace asked

std::unique_ptr<Face> asked_face(Controller& controller) {
  return std::make_unique<asked::AskedFace>(controller);
}

}  // namespace ypsi::standin
