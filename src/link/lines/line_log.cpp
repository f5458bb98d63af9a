#include "link/lines/line_log.h"

#include <fmt/format.h>

#include <algorithm>

namespace ypsi::link {
namespace {

constexpr double rests_s = 0.3;

bool is_end(char c) {
  return c == '\n' || c == '\r';
}

}  // namespace

std::string LoggedLine::readable() const {
  std::string text;
  for (const char c : bytes) {
    const bool shown = c >= ' ' && c <= '~';
    text += shown ? std::string(1, c) : fmt::format("<{:02x}>", static_cast<unsigned char>(c));
  }
  return text;
}

std::string LoggedLine::hexadecimal() const {
  std::string text;
  for (const char c : bytes) text += fmt::format("{}{:02x}", text.empty() ? "" : " ", static_cast<unsigned char>(c));
  return text;
}

void LineLog::add(double at_s, bool from_controller, std::string_view bytes) {
  if (lines_.size() >= longest) lines_.pop_front();
  lines_.push_back({at_s, from_controller, std::string(bytes)});
  ++ever_;
}

void LineLog::add_partial(double at_s) {
  add(at_s, true, partial_);
  partial_.clear();
}

void LineLog::went(double at_s, std::string_view bytes) {
  while (!bytes.empty() && is_end(bytes.back())) bytes.remove_suffix(1);
  add(at_s, false, bytes);
}

void LineLog::came(double at_s, std::string_view bytes) {
  rest(at_s);
  for (const char c : bytes) {
    if (is_end(c)) {
      if (!partial_.empty()) add_partial(at_s);
      continue;
    }
    if (partial_.size() >= longest_line) add_partial(at_s);
    partial_ += c;
    partial_at_s_ = at_s;
  }
}

void LineLog::rest(double now_s) {
  if (!partial_.empty() && now_s - partial_at_s_ > rests_s) add_partial(partial_at_s_);
}

std::size_t LineLog::first_since(std::uint64_t ever) const {
  return lines_.size() - static_cast<std::size_t>(std::min<std::uint64_t>(ever_ - ever, lines_.size()));
}

std::string LineLog::to_text() const {
  std::string text;
  for (const LoggedLine& line : lines_)
    text += fmt::format("{:9.3f} {} {}\n", line.at_s, line.from_controller ? '<' : '>', line.readable());
  return text;
}

void LoggedTransport::write(std::string_view bytes) {
  log_.went(now_s(), bytes);
  inner_->write(bytes);
}

std::string LoggedTransport::read() {
  std::string bytes = inner_->read();
  log_.came(now_s(), bytes);
  return bytes;
}

}  // namespace ypsi::link
