#pragma once
#include <fcntl.h>
#include <gtest/gtest.h>
#include <poll.h>
#include <pty.h>
#include <unistd.h>

#include <QString>
#include <atomic>
#include <chrono>
#include <fstream>
#include <iterator>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <thread>

#include "standin/served_machine.h"

namespace ypsi::app {

/// A stand-in at the far end of a pseudo-terminal, with a thread that carries the bytes. `face`: as which it answers;
/// empty: by the project's own link. `speed`: the one at which it listens, as B57600; at another it hears and says
/// nonsense; none: at any.
class PtyMachine {
 public:
  explicit PtyMachine(const QString& scenario, const std::string& face = {}, std::optional<speed_t> speed = {})
      : speed_(speed) {
    char name[128] = {};
    EXPECT_EQ(openpty(&master_, &slave_, name, nullptr, nullptr), 0);
    name_ = name;
    std::ifstream file(scenario.toStdString());
    const std::string text((std::istreambuf_iterator<char>(file)), {});
    machine_ = standin::ServedMachine::from_scenario(text).value();
    EXPECT_TRUE(face.empty() || machine_->wear(face));
    thread_ = std::thread([this] { serve(); });
  }
  /// Pulls it out.
  ~PtyMachine() {
    over_ = true;
    thread_.join();
    close(master_);
    close(slave_);
  }
  QString name() const { return name_; }
  /// As the line is set now.
  termios settings() const {
    termios now{};
    EXPECT_EQ(tcgetattr(master_, &now), 0);
    return now;
  }

 private:
  void serve() {
    const auto begin = std::chrono::steady_clock::now();
    while (!over_) {
      pollfd wait{master_, POLLIN, 0};
      ::poll(&wait, 1, 2);
      const bool understood = !speed_ || *speed_ == speed_now();
      char bytes[4096];
      if (wait.revents & POLLIN)
        if (const ssize_t n = read(master_, bytes, sizeof bytes); n > 0)
          machine_->receive(understood ? std::string_view(bytes, static_cast<std::size_t>(n)) : "\x83\xf1\x07");
      machine_->advance(0.05);
      machine_->poll(std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count());
      std::string out = machine_->take_output();
      if (!understood && !out.empty()) out = "\xe0\x9c\x06";
      for (std::size_t at = 0; at < out.size();) {
        const ssize_t n = write(master_, out.data() + at, out.size() - at);
        if (n <= 0) break;
        at += static_cast<std::size_t>(n);
      }
    }
  }
  speed_t speed_now() const {
    termios now{};
    return tcgetattr(master_, &now) == 0 ? cfgetospeed(&now) : speed_t{};
  }
  std::optional<speed_t> speed_;
  int master_ = -1, slave_ = -1;
  QString name_;
  std::unique_ptr<standin::ServedMachine> machine_;
  std::atomic<bool> over_{false};
  std::thread thread_;
};

}  // namespace ypsi::app
