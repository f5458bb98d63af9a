// Feeds changed descriptions, changed patterns and changed lines to what talks to described controllers. A finding is a
// crash or a sanitizer's report, a pattern made from an example that does not find it, or a look at a line that takes
// out of all proportion long.
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <random>
#include <sstream>

#include "fuzz/door.h"
#include "link/describing/example.h"
#include "link/in_process.h"
#include "link/lines/line_link.h"

namespace ypsi {
namespace fuzz_lines {
namespace {

using Clock = std::chrono::steady_clock;

double since(Clock::time_point begin) {
  return std::chrono::duration<double>(Clock::now() - begin).count();
}

/// Says what it likes, whatever it is told.
class Babbler final : public link::ByteDevice {
 public:
  std::string next;
  void receive(std::string_view) override {}
  std::string take_output() override { return std::exchange(next, {}); }
  void poll(double) override {}
  void closed() override {}
  bool line_up() const override { return true; }
};

const char* const bits[] = {"(", ")",  "*",     "+",    "?", "{9999}", "[^",      "]",       "(?P<",
                            ">", ".*", "|",     "\\",   "$", "^",      "\"",      ":",       "{",
                            "}", ",",  "1e999", "null", "-", "\xff",   "(?:a*)*", "{value}", "(.*)*"};

std::string mutate(std::string text, std::mt19937_64& random) {
  for (auto n = random() % 5; n-- > 0 && !text.empty();) {
    const std::size_t at = random() % text.size();
    switch (random() % 5) {
      case 0:
        text[at] = static_cast<char>(random());
        break;
      case 1:
        text.erase(at, 1 + random() % 8);
        break;
      case 2:
        text.insert(at, bits[random() % std::size(bits)]);
        break;
      case 3:
        text.insert(at, text.substr(at / 2, random() % 60));
        break;
      default:
        text.resize(at + 1);
    }
  }
  return text;
}

std::string file_text(const std::string& path) {
  std::ifstream file(path);
  std::stringstream text;
  text << file.rdbuf();
  return text.str();
}

const char* const lines[] = {"took",
                             "left it: X would pass a limit",
                             "stands 1.000 2.000 -3.000 still feed 0 turns 0 on x-home probe",
                             "trouble, the probe met nothing",
                             "met yes at 1.000 2.000 -3.000",
                             "asked mill 2 awake",
                             "x_steps is 80.0000",
                             "so",
                             "not so, it is busy",
                             "ack",
                             "nak 31",
                             "wait",
                             "now;1;0.0000;0.0000;0.0000;0;0;ap",
                             "touch 1 1.0 2.0 3.0",
                             "V100=80.00000",
                             "TELLING 7.1 begins"};

const char* const evil[] = {"(a+)+$",          "(a|a)*b",         "(.*)*x",
                            "((a*)*)*$",       "(?P<mx>(1+)+)+z", "^(([a-z])+.)+[A-Z]$",
                            "(x{1000}){1000}", "a{100000}"};

int run(double seconds, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  std::vector<std::string> descriptions;
  for (const char* face : {"bare", "asked", "telling"})
    descriptions.push_back(file_text(std::string(YPSI_CONTROLLERS) + "/" + face + ".controller.json"));
  const auto begin = Clock::now();
  std::size_t rounds = 0, taken = 0;
  double longest_s = 0;
  const std::string megabyte(1 << 20, 'a');
  for (const char* each : evil)
    if (const auto pattern = link::LinePattern::from(each)) {
      const auto look = Clock::now();
      (void)pattern->find(megabyte);
      longest_s = std::max(longest_s, since(look));
    }
  if (longest_s > 5) return std::fprintf(stderr, "a pattern ran away for %.1f s\n", longest_s), 1;
  while (since(begin) < seconds) {
    ++rounds;
    // What is made from an example finds it.
    const std::string line = mutate(lines[random() % std::size(lines)], random);
    if (line.find_first_of("\r\n") == std::string::npos && line.size() < 200) {
      std::vector<link::Mark> marks;
      constexpr const char* groups[] = {"mx", "my", "state", "why", "inputs", "contact", "feed", "value"};
      for (const link::Token& token : link::tokens_of(line))
        if (random() % 2 == 0) {
          const std::string group = groups[random() % std::size(groups)];
          const bool figure = group == "mx" || group == "my" || group == "feed" || group == "value";
          if (!figure || token.number) marks.push_back({token, group});
        }
      const std::string text = link::pattern_of(line, marks, random() % 2 == 0);
      const auto pattern = link::LinePattern::from(text);
      const bool plus = line.find('+') != std::string::npos;  // a sign that figures have not by rule
      if (!pattern) return std::fprintf(stderr, "“%s” cannot be used\n", text.c_str()), 1;
      if (!plus && !line.empty() && !pattern->find(line))
        return std::fprintf(stderr, "“%s” does not find “%s”\n", text.c_str(), line.c_str()), 1;
    }
    const std::string& sound = descriptions[random() % descriptions.size()];
    const auto read = link::read_controller(random() % 4 == 0 ? sound : mutate(sound, random));
    if (!read) continue;
    ++taken;
    if (!link::read_controller(link::write_controller(*read)))
      return std::fprintf(stderr, "what was read cannot be read again\n"), 1;
    Babbler babbler;
    link::HandMemory known;
    known.looked_up = true;
    link::LineLink link(std::make_unique<link::InProcess>(babbler, "babbler"), *read, known);
    if (!link.begin()) continue;
    babbler.next = "asked mill 2 awake\nbare bench, ready to work\nTELLING 7.1 begins\n";
    for (int i = 0; i < 40; ++i) {
      link.poll();
      babbler.next += mutate(lines[random() % std::size(lines)], random) + (random() % 9 ? "\n" : "");
      if (random() % 200 == 0) babbler.next += megabyte;
      switch (random() % 8) {
        case 0:
          (void)link.home();
          break;
        case 1:
          (void)link.jog(Axis::x, 1, 100);
          break;
        case 2:
          if (link.begin_program()) (void)link.send("G1 X1 F100", 1);
          break;
        case 3:
          link.hold();
          break;
        case 4:
          link.stop();
          break;
        case 5:
          (void)link.set_setting("axis.x.steps_per_mm", 81);
          break;
        default:
          (void)link.status();
      }
    }
    if (link.talk().log().lines().size() > link::LineLog::longest)
      return std::fprintf(stderr, "a log without bound\n"), 1;
  }
  std::printf("lines: %zu rounds, %zu descriptions taken, longest look at a line of 1 MB %.2f s, no finding\n", rounds,
              taken, longest_s);
  return 0;
}

const fuzz::Door door("lines", run);

}  // namespace
}  // namespace fuzz_lines
}  // namespace ypsi
