#include "core/program/progress.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

namespace ypsi {
namespace {

std::optional<CutGround> ground_of(const nlohmann::json& line) {
  const auto zero = line.find("zero_mm"), frame = line.find("frame"), machine = line.find("machine");
  if (zero == line.end() || !zero->is_array() || zero->size() != axis_count || frame == line.end() ||
      !frame->is_number_integer() || machine == line.end() || !machine->is_string())
    return std::nullopt;
  CutGround ground;
  for (std::size_t i = 0; i < axis_count; ++i)
    if ((*zero)[i].is_number()) ground.zero[i] = (*zero)[i].get<double>();
  ground.frame = frame->get<int>();
  ground.machine = machine->get<std::string>();
  return ground;
}

}  // namespace

std::uint64_t fingerprint(std::string_view text) {
  std::uint64_t print = 14695981039346656037U;
  for (const char c : text) print = (print ^ static_cast<unsigned char>(c)) * 1099511628211U;
  return print;
}

std::string progress_begins(std::string_view path, std::string_view text) {
  return nlohmann::json{{"program", path}, {"print", fmt::format("{:016x}", fingerprint(text))}}.dump(
             -1, ' ', false, nlohmann::json::error_handler_t::replace) +
         "\n";
}

std::string progress_ground(const CutGround& ground) {
  auto zero = nlohmann::json::array();
  for (const auto& mm : ground.zero) zero.push_back(mm ? nlohmann::json(*mm) : nlohmann::json());
  return nlohmann::json{{"zero_mm", zero}, {"frame", ground.frame}, {"machine", ground.machine}}.dump(
             -1, ' ', false, nlohmann::json::error_handler_t::replace) +
         "\n";
}

std::string progress_line(std::uint32_t line) {
  return fmt::format("{{\"line\":{}}}\n", line);
}

std::string progress_ends() {
  return "{\"ended\":true}\n";
}

std::optional<Progress> read_progress(std::string_view bytes) {
  std::optional<Progress> progress;
  for (std::size_t at = 0; at < bytes.size();) {
    const std::size_t end = bytes.find('\n', at);
    if (end == std::string_view::npos) break;
    const auto line = nlohmann::json::parse(bytes.substr(at, end - at), nullptr, false);
    at = end + 1;
    if (!line.is_object()) continue;
    if (const auto print = line.find("print"); print != line.end() && print->is_string()) {
      progress = Progress{};
      const auto path = line.find("program");
      if (path != line.end() && path->is_string()) progress->program = path->get<std::string>();
      const auto digits = print->get<std::string>();
      progress->print = std::strtoull(digits.c_str(), nullptr, 16);
    } else if (progress) {
      if (const auto number = line.find("line"); number != line.end() && number->is_number_unsigned())
        progress->line = number->get<std::uint32_t>();
      if (line.contains("ended")) progress->ended = true;
      if (const auto ground = ground_of(line)) progress->ground = ground;
    }
  }
  return progress;
}

}  // namespace ypsi
