#pragma once
// A line to a device within this process; the same bytes as on any other.
#include <chrono>

#include "link/transport.h"

namespace ypsi::link {

class InProcess final : public Transport {
 public:
  /// `device` must outlive it.
  InProcess(ByteDevice& device, std::string name) : device_(device), name_(std::move(name)) {}

  Result<void> open() override;
  bool is_open() const override { return open_ && device_.line_up(); }
  void close() override;
  void write(std::string_view bytes) override;
  std::string read() override;
  void wait(double seconds) override;
  double now_s() const override;
  std::string name() const override { return name_; }

 private:
  ByteDevice& device_;
  std::string name_;
  bool open_ = false;
  std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now();
};

}  // namespace ypsi::link
