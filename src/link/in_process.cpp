#include "link/in_process.h"

#include <thread>

namespace ypsi::link {

Result<void> InProcess::open() {
  device_.poll(now_s());
  if (!device_.line_up()) return fail("offline", "The line to " + name_ + " is down; try again in a moment.");
  open_ = true;
  return {};
}

void InProcess::close() {
  if (std::exchange(open_, false)) device_.closed();
}

void InProcess::write(std::string_view bytes) {
  device_.poll(now_s());  // it hears them now, however long ago it was looked at
  if (is_open()) device_.receive(bytes);
}

std::string InProcess::read() {
  return open_ ? device_.take_output() : std::string();
}

void InProcess::wait(double seconds) {
  // The device answers while it receives; only one whose line is bad needs time.
  std::this_thread::sleep_for(std::chrono::duration<double>(seconds / 4));
  device_.poll(now_s());
}

double InProcess::now_s() const {
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - start_).count();
}

}  // namespace ypsi::link
