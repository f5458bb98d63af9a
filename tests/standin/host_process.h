#pragma once
// A host in a process of its own, so that it can be killed in truth, and the machine that it drives over a socket.
#include <fcntl.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <csignal>
#include <functional>

#include "link/client.h"
#include "standin/served_machine.h"

namespace ypsi::standin {

inline double clock_s() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

/// One end of a socket, as a line to a controller.
class SocketLine final : public link::Transport {
 public:
  explicit SocketLine(int socket) : socket_(socket) {}
  ~SocketLine() override { SocketLine::close(); }
  Result<void> open() override { return {}; }
  bool is_open() const override { return socket_ >= 0; }
  void close() override {
    if (socket_ >= 0) ::close(socket_);
    socket_ = -1;
  }
  void write(std::string_view bytes) override {
    while (!bytes.empty()) {
      // Not ::write: a host that was killed has closed its end, and that must not end the machine with SIGPIPE.
      const auto n = ::send(socket_, bytes.data(), bytes.size(), MSG_NOSIGNAL);
      if (n < 0) return;
      bytes.remove_prefix(static_cast<std::size_t>(n));
    }
  }
  std::string read() override {
    std::string all(65536, '\0');
    const auto n = ::recv(socket_, all.data(), all.size(), MSG_DONTWAIT);
    all.resize(n > 0 ? static_cast<std::size_t>(n) : 0);
    return all;
  }
  void wait(double seconds) override { ::usleep(static_cast<useconds_t>(std::min(seconds, 0.001) * 1e6)); }
  double now_s() const override { return clock_s(); }
  std::string name() const override { return "a socket"; }

 private:
  int socket_;
};

/// The host's side: carries bytes until it is done; false where it never is.
inline bool settle(link::Client& client, const std::function<bool()>& done) {
  for (int i = 0; i < 400'000 && !done(); ++i) {
    client.poll();
    ::usleep(100);
  }
  return done();
}
inline bool home_over(link::Client& client) {
  return client.home() &&
         settle(client, [&] { return client.status().state == MachineState::ready && client.status().all_homed(); });
}

inline constexpr double host_tick_s = 0.02;

/// `host` gets its end of the socket and returns its exit code. The machine's clock is wound until it is gone; where
/// `kill_now` says so it gets SIGKILL. 98: no process could be begun; 99: it was killed.
inline int run_host_process(ServedMachine& machine, const std::function<int(int)>& host,
                            const std::function<bool()>& kill_now) {
  int ends[2];
  if (::socketpair(AF_UNIX, SOCK_STREAM, 0, ends) != 0) return 98;
  const pid_t child = ::fork();
  if (child == 0) {
    ::close(ends[0]);
    ::_exit(host(ends[1]));
  }
  ::close(ends[1]);
  const int socket = ends[0];
  ::fcntl(socket, F_SETFL, O_NONBLOCK);
  double wall = 0;
  std::string out;
  int result = -1;
  bool killed = false;
  for (long i = 0; i < 4'000'000 && result < 0; ++i) {
    machine.poll(wall = clock_s());
    char bytes[8192];
    for (ssize_t n = 0; (n = ::read(socket, bytes, sizeof bytes)) > 0;)
      machine.receive(std::string_view(bytes, static_cast<std::size_t>(n)));
    machine.advance(host_tick_s);
    machine.poll(wall);
    out += machine.take_output();
    if (!out.empty()) {
      const auto n = ::send(socket, out.data(), out.size(), MSG_NOSIGNAL);
      if (n > 0) out.erase(0, static_cast<std::size_t>(n));
    }
    if (!killed && kill_now()) {
      ::kill(child, SIGKILL);
      killed = true;
    }
    int status = 0;
    if (::waitpid(child, &status, WNOHANG) == child) result = WIFEXITED(status) ? WEXITSTATUS(status) : 99;
    ::usleep(50);
  }
  ::close(socket);
  machine.closed();
  for (int i = 0; i < 1000; ++i) {
    machine.advance(0.02);
    machine.poll(wall += 0.02);
  }
  return result;
}

}  // namespace ypsi::standin
