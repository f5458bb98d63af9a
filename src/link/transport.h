#pragma once
// A line to a controller: bytes out, bytes in. In process, TCP on the loopback, or serial.
#include <string>
#include <string_view>

#include "core/result.h"

namespace ypsi::link {

class Transport {
 public:
  virtual ~Transport() = default;
  /// Begins to open it, again where it was open; never waits. Error: `offline` with a sentence that says why.
  virtual Result<void> open() = 0;
  /// Whether what open() began has come about: false while it may yet. Error: `offline` with why it did not.
  virtual Result<bool> opened() {
    if (is_open()) return true;
    return fail("offline", "The line to " + name() + " is down; try again in a moment.");
  }
  virtual bool is_open() const = 0;
  virtual void close() = 0;
  virtual void write(std::string_view bytes) = 0;
  virtual std::string read() = 0;  ///< what has come; never waits
  /// Waits until something can be read, for `seconds` at most.
  virtual void wait(double seconds) = 0;
  virtual double now_s() const = 0;  ///< of a clock that only rises
  /// "the stand-in in this window", "127.0.0.1:7125", "/dev/ttyUSB0": how messages call it.
  virtual std::string name() const = 0;
};

/// What stands at the far end of a line within this process.
class ByteDevice {
 public:
  virtual ~ByteDevice() = default;
  /// Heard at the time of the poll() before: whoever brings them late looks first.
  virtual void receive(std::string_view bytes) = 0;
  virtual std::string take_output() = 0;
  /// `now_s`: the transport's clock.
  virtual void poll(double now_s) = 0;
  virtual void closed() = 0;  ///< the host hung up
  virtual bool line_up() const = 0;
};

}  // namespace ypsi::link
