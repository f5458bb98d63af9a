#pragma once
// A line to a stand-in with a clock of its own, on which a test says what becomes of the bytes.
#include <fstream>
#include <functional>
#include <random>
#include <sstream>

#include "link/transport.h"
#include "standin/truth.h"

namespace ypsi::link {

inline std::string demo_scenario() {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.scenario.json");
  std::stringstream text;
  text << file.rdbuf();
  return text.str();
}

/// Bytes of one write or read, as they come out at the other end.
using Mangle = std::function<std::string(std::string)>;

class BadLine final : public Transport {
 public:
  explicit BadLine(standin::ServedMachine& machine) : machine_(machine) {}
  Mangle down, up;
  bool cut = false;  ///< the cable is out
  int waits = 0;     ///< how often somebody waited for it
  double machine_speed = 1;

  Result<void> open() override {
    if (cut) return fail("offline", "The cable is out.");
    open_ = true;
    return {};
  }
  bool is_open() const override { return open_ && !cut; }
  void close() override {
    if (open_) machine_.closed();
    open_ = false;
  }
  void write(std::string_view bytes) override {
    if (is_open()) machine_.receive(down ? down(std::string(bytes)) : std::string(bytes));
  }
  std::string read() override {
    std::string bytes = machine_.take_output();
    if (!is_open()) return {};
    return up ? up(std::move(bytes)) : bytes;
  }
  void wait(double seconds) override {
    ++waits;
    pass(seconds);
  }
  double now_s() const override { return now_; }
  std::string name() const override { return "the test's line"; }
  void pass(double seconds) {
    for (double t = 0; t < seconds - 1e-9; t += 0.01) {
      now_ += 0.01;
      machine_.advance(0.01 * machine_speed);
      machine_.poll(now_);
    }
  }

 private:
  standin::ServedMachine& machine_;
  double now_ = 0;
  bool open_ = false;
};

/// Loses whole writes, repeats them, changes, drops and adds bytes, each with its chance in a thousand.
struct Noise {
  int lost = 0, repeated = 0, changed = 0, dropped = 0, added = 0;
  std::mt19937_64 random{1};
  bool chance(int per_mille) { return static_cast<int>(random() % 1000) < per_mille; }
  std::string operator()(const std::string& bytes) {
    if (bytes.empty() || chance(lost)) return {};
    std::string out;
    for (const char c : bytes) {
      if (chance(dropped)) continue;
      if (chance(added)) out += static_cast<char>(random() & 0xff);
      out += chance(changed) ? static_cast<char>(random() & 0xff) : c;
    }
    return chance(repeated) ? out + out : out;
  }
};

}  // namespace ypsi::link
