#pragma once
// What went over a line, both ways, as bytes: shown at the bench, and saved.
#include <cstdint>
#include <deque>
#include <memory>
#include <string>
#include <string_view>

#include "link/transport.h"

namespace ypsi::link {

/// One line, or what came or went in one go and had no end.
struct LoggedLine {
  double at_s = 0;  ///< by the line's clock
  bool from_controller = false;
  std::string bytes;  ///< without the ends of its line
  /// Bytes that are no characters of ASCII as <1b>.
  std::string readable() const;
  /// "1b 5a".
  std::string hexadecimal() const;
};

class LineLog {
 public:
  static constexpr std::size_t longest = 2000;       ///< lines that are kept, the newest
  static constexpr std::size_t longest_line = 4096;  ///< bytes; more begin another

  void went(double at_s, std::string_view bytes);
  void came(double at_s, std::string_view bytes);
  /// What came without an end, and was not followed by one for a while, is a line as well.
  void rest(double now_s);
  const std::deque<LoggedLine>& lines() const { return lines_; }
  /// Where in lines() begins what came or went since there had been so many.
  std::size_t first_since(std::uint64_t ever) const;
  std::uint64_t ever() const { return ever_; }  ///< how many there were; the last of them is lines().back()
  /// "    1.234 > G0 X1" to the controller, "<" from it; a line each.
  std::string to_text() const;

 private:
  void add(double at_s, bool from_controller, std::string_view bytes);
  void add_partial(double at_s);

  std::deque<LoggedLine> lines_;
  std::uint64_t ever_ = 0;
  std::string partial_;
  double partial_at_s_ = 0;
};

/// A line whose bytes are logged.
class LoggedTransport final : public Transport {
 public:
  explicit LoggedTransport(std::unique_ptr<Transport> inner) : inner_(std::move(inner)) {}

  const LineLog& log() const { return log_; }

  Result<void> open() override { return inner_->open(); }
  Result<bool> opened() override { return inner_->opened(); }
  bool is_open() const override { return inner_->is_open(); }
  void close() override { inner_->close(); }
  void write(std::string_view bytes) override;
  std::string read() override;
  void wait(double seconds) override { inner_->wait(seconds); }
  double now_s() const override { return inner_->now_s(); }
  std::string name() const override { return inner_->name(); }

 private:
  std::unique_ptr<Transport> inner_;
  LineLog log_;
};

}  // namespace ypsi::link
