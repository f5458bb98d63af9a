// `telling`: says where it is ten times a second without being asked, in the work's coordinates; takes eight blocks at
// once and refuses with numbers; its settings have numbers; its acts are words on lines of their own.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <deque>
#include <iterator>
#include <optional>

#include "standin/faces/block_runner.h"
#include "standin/faces/face.h"

namespace ypsi::standin {
namespace telling {
namespace {

constexpr double tells_every_s = 0.1;
constexpr std::size_t takes_blocks = 8, longest = 200;
constexpr const char* who = "TELLING 7.1 begins\n";
constexpr int of_axes = 100, of_zeros = 200, per_axis = 10, of_frame = 299;
constexpr const char* axis_settings[] = {"steps_per_mm",       "max_rate_mm_min", "accel_mm_s2",
                                         "soft_min_mm",        "soft_max_mm",     "reversed",
                                         "home_coordinate_mm", "home_at_max",     "pull_off_mm"};

/// 100 + 10 per axis + which: of an axis. 200 + 3 per frame + axis: a zero. 299: the frame.
std::optional<std::string> setting_of(int number) {
  if (number == of_frame) return "work.frame";
  if (number >= of_zeros && number < of_zeros + 3 * static_cast<int>(work_frame_count))
    return work_zero_setting((number - of_zeros) / 3, all_axes[static_cast<std::size_t>((number - of_zeros) % 3)]);
  const int at = number - of_axes, axis = at / per_axis, which = at % per_axis;
  if (at < 0 || axis >= static_cast<int>(axis_count) || which >= static_cast<int>(std::size(axis_settings)))
    return std::nullopt;
  return axis_setting(all_axes[static_cast<std::size_t>(axis)], axis_settings[which]);
}

int number_of(const std::string& code) {
  if (code == "limit") return 31;
  if (code == "not_homed") return 32;
  if (code == "busy") return 33;
  if (code == "out_of_range") return 34;
  if (code == "stopped") return 35;
  if (code == "no_contact") return 36;
  if (code == "probe_on") return 37;
  return 40;
}

class TellingFace final : public Face {
 public:
  explicit TellingFace(Controller& controller) : runner_(controller) { out_ = who; }

  void receive(std::string_view bytes) override {
    for (const char c : bytes) {
      if (c != '\n') {
        if (line_.size() < longest) line_ += c;
        continue;
      }
      if (!line_.empty() && line_.back() == '\r') line_.pop_back();
      if (!do_word(line_)) take_in();
      line_.clear();
    }
  }
  std::string take_output() override { return std::exchange(out_, {}); }
  bool is_answer(std::string_view line) const override { return line.starts_with("ack") || line.starts_with("nak"); }
  void started_again() override {
    lines_.clear();
    probes_ = 0;
    runner_.started_again();
    out_ += who;
  }

  void work() override {
    const MachineStatus now = runner_.controller().status();
    if (now.probe.count != probes_) {
      probes_ = now.probe.count;
      out_ += fmt::format("touch {} {:.4f} {:.4f} {:.4f}\n", now.probe.contact ? 1 : 0, now.probe.at.x, now.probe.at.y,
                          now.probe.at.z);
    }
    if (const auto refusal = runner_.take_refusal()) out_ += fmt::format("trip {}\n", number_of(refusal->code));
    while (!lines_.empty()) {
      const auto taken = take(lines_.front());
      if (!taken && taken.error().code == "full") break;
      lines_.pop_front();
      out_ += taken ? "ack\n" : fmt::format("nak {}\n", number_of(taken.error().code));
    }
    if (now_s() - told_at_ >= tells_every_s) {
      told_at_ = now_s();
      tell(now);
    }
  }

 private:
  void take_in() {
    if (is_full() || lines_.size() >= takes_blocks)
      out_ += "wait\n";
    else
      lines_.push_back(line_);
  }

  bool do_word(const std::string& line) {
    if (line == "WHO") return out_ += who, true;
    if (line == "PAUSE") return runner_.controller().hold(), true;
    if (line == "RESUME") return runner_.go_on(), true;
    if (line == "HALT") return lines_.clear(), runner_.stop(), true;
    if (line == "FORGET") return lines_.clear(), runner_.abandon(), true;
    return false;
  }

  void tell(const MachineStatus& now) {
    const bool idle = runner_.idle() && lines_.empty();
    const int state = now.state == MachineState::held             ? 3
                      : now.state == MachineState::stopped        ? 5
                      : now.state == MachineState::emergency_stop ? 6
                      : now.state == MachineState::tool_change    ? 7
                      : !idle                                     ? 2
                      : now.all_homed()                           ? 1
                                                                  : 4;
    std::string on;
    for (const Axis axis : all_axes) {
      if (now.inputs.home_switch[index(axis)]) on += "abc"[index(axis)];
      if (now.inputs.far_switch[index(axis)]) on += "def"[index(axis)];
    }
    if (now.inputs.probe) on += 'p';
    if (now.inputs.emergency_stop) on += 's';
    const double length = now.tool_offset;
    out_ += fmt::format("now;{};{:.4f};{:.4f};{:.4f};{:.0f};{:.0f};{}\n", state, now.position.x - now.work_zero.x,
                        now.position.y - now.work_zero.y, now.position.z - now.work_zero.z - length, now.feed,
                        now.spindle_rpm, on);
  }

  Result<void> take(const std::string& line) {
    if (line == "REFERENCE") return runner_.home();
    if (line.starts_with('V')) {
      const char* const end = line.data() + line.size();
      int number = 0;
      const auto [behind, bad] = std::from_chars(line.data() + 1, end, number);
      const auto setting = bad == std::errc() ? setting_of(number) : std::nullopt;
      if (!setting) return fail("unknown", "");
      if (behind == end) {
        out_ += fmt::format("V{}={:.5f}\n", number, runner_.controller().setting(*setting).value_or(0));
        return {};
      }
      double value = 0;
      const auto [rest, no_number] = std::from_chars(std::min(behind + 1, end), end, value);
      if (*behind != '=' || no_number != std::errc() || rest != end) return fail("unknown", "");
      return runner_.set(*setting, value);
    }
    return runner_.take(line);
  }

  BlockRunner runner_;
  std::string line_, out_;
  std::deque<std::string> lines_;
  std::uint32_t probes_ = 0;
  double told_at_ = 0;
};

}  // namespace
}  // namespace telling

std::unique_ptr<Face> telling_face(Controller& controller) {
  return std::make_unique<telling::TellingFace>(controller);
}

}  // namespace ypsi::standin
