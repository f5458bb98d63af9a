#pragma once
// A line that is open already and stays open: whoever uses it neither opens nor closes it.
#include "link/transport.h"

namespace ypsi::link {

class BorrowedTransport final : public Transport {
 public:
  /// `of` outlives it.
  explicit BorrowedTransport(Transport& of) : of_(of) {}

  Result<void> open() override {
    if (of_.is_open()) return {};
    return fail("offline", "The line to " + name() + " is not open; connect it first.");
  }
  bool is_open() const override { return of_.is_open(); }
  void close() override {}
  void write(std::string_view bytes) override { of_.write(bytes); }
  std::string read() override { return of_.read(); }
  void wait(double seconds) override { of_.wait(seconds); }
  double now_s() const override { return of_.now_s(); }
  std::string name() const override { return of_.name(); }

 private:
  Transport& of_;
};

}  // namespace ypsi::link
