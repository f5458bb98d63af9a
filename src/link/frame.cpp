#include "link/frame.h"

#include <fmt/format.h>

#include <charconv>
#include <optional>

namespace ypsi::link {
namespace {

constexpr std::string_view sum_key = R"(,"sum":")";
constexpr std::size_t sum_digits = 8, sum_length = sum_key.size() + sum_digits + 2;

unsigned char complement(unsigned char byte) {
  return static_cast<unsigned char>(0xff - byte);
}

bool is_act(unsigned char byte) {
  switch (static_cast<Act>(byte)) {
    case Act::hold:
    case Act::abandon:
    case Act::stop:
    case Act::heartbeat:
    case Act::end_jog:
      return true;
  }
  return false;
}

std::optional<DownLine> read_down(std::string_view line) {
  std::uint32_t number = 0;
  const auto [rest, error] = std::from_chars(line.data(), line.data() + line.size(), number);
  if (error != std::errc()) return std::nullopt;
  const auto digits = static_cast<std::size_t>(rest - line.data());
  // "17 8f3a01c2 payload"
  if (line.size() < digits + sum_digits + 2 || line[digits] != ' ' || line[digits + 1 + sum_digits] != ' ')
    return std::nullopt;
  const std::string_view payload = line.substr(digits + sum_digits + 2);
  std::string summed(line.substr(0, digits));
  summed += ' ';
  summed += payload;
  if (checksum(summed) != line.substr(digits + 1, sum_digits)) return std::nullopt;
  return DownLine{number, std::string(payload)};
}

}  // namespace

std::string act_bytes(Act act) {
  const auto byte = static_cast<unsigned char>(act);
  return {static_cast<char>(byte), static_cast<char>(complement(byte))};
}

std::string down_line(std::uint32_t number, std::string_view payload) {
  std::string summed = fmt::format("{} ", number);
  const std::size_t at = summed.size();
  summed += payload;
  for (std::size_t i = at; i < summed.size(); ++i)
    if (summed[i] < 0x20 || summed[i] == 0x7f) summed[i] = summed[i] == '\t' ? ' ' : '?';
  return fmt::format("{} {} {}\n", number, checksum(summed), std::string_view(summed).substr(at));
}

bool LineSplitter::add(char byte) {
  if (ended_) {
    line_.clear();
    ended_ = overlong_ = false;
  }
  if (byte == '\n') return ended_ = true;
  if (line_.size() >= longest_) {
    overlong_ = true;
    return false;
  }
  if (byte != '\r') line_ += byte;
  return false;
}

std::vector<DownDecoder::Item> DownDecoder::feed(std::string_view bytes) {
  std::vector<Item> acts, lines;
  for (const char c : bytes) {
    const auto byte = static_cast<unsigned char>(c);
    const unsigned char first = std::exchange(act_, 0);
    if (first != 0 && byte == complement(first)) {
      acts.emplace_back(static_cast<Act>(first));
      continue;
    }
    if (is_act(byte)) {
      act_ = byte;
      continue;
    }
    if (!splitter_.add(c)) continue;
    if (splitter_.overlong()) {
      lines.emplace_back(UnreadableLine{});
    } else if (!splitter_.line().empty()) {
      if (auto line = read_down(splitter_.line()))
        lines.emplace_back(std::move(*line));
      else
        lines.emplace_back(UnreadableLine{});
    }
  }
  acts.insert(acts.end(), std::make_move_iterator(lines.begin()), std::make_move_iterator(lines.end()));
  return acts;
}

std::string up_line(std::string object) {
  object.pop_back();  // the closing brace
  const std::string sum = checksum(object);
  object += sum_key;
  object += sum;
  object += "\"}\n";
  return object;
}

std::vector<std::string> UpDecoder::feed(std::string_view bytes) {
  std::vector<std::string> objects;
  for (const char c : bytes) {
    if (!splitter_.add(c)) continue;
    const std::string& line = splitter_.line();
    if (line.empty() && !splitter_.overlong()) continue;
    const bool shaped = !splitter_.overlong() && line.size() > sum_length + 1 && line.front() == '{' &&
                        line.ends_with("\"}") && line.compare(line.size() - sum_length, sum_key.size(), sum_key) == 0;
    const std::string_view text = shaped ? std::string_view(line).substr(0, line.size() - sum_length) : "";
    if (shaped && checksum(text) == line.substr(line.size() - sum_digits - 2, sum_digits))
      objects.emplace_back(std::string(text) + "}");
    else
      ++bad_;
  }
  return objects;
}

}  // namespace ypsi::link
