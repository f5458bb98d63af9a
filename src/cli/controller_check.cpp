#include "cli/controller_check.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "cli/calc.h"
#include "link/lines/can_do.h"

namespace ypsi::cli {
namespace {

using link::CanDo;

struct Words {
  CanDo what;
  const char *key, *can, *cannot;
};
constexpr Words all_words[] = {
    {CanDo::tells_place, "tells_place", "tells where it stands", "tells no place: it is reckoned from what it took"},
    {CanDo::holds_on_path, "holds_on_path", "a hold slows down on the path and keeps the place",
     "no hold that keeps the place: what it has taken is done first"},
    {CanDo::ends_jogs, "ends_jogs", "a jog ends when it is let go", "jogs go in short steps"},
    {CanDo::stops_by_line, "stops_by_line", "stops over its line", "no stop over its line: only its emergency stop"},
    {CanDo::keeps_place, "keeps_place", "keeps its place after a stop", "after a stop it is homed anew"},
    {CanDo::has_limits, "has_limits", "refuses by itself what would pass a limit",
     "no limits of its own: each block is checked before it is sent"},
    {CanDo::homes_by_line, "homes_by_line", "homes over its line", "its owner homes it and says so"},
    {CanDo::probes, "probes", "probes", "does not probe"},
    {CanDo::takes_settings, "takes_settings", "takes steps per mm over its line", "its owner types steps per mm there"},
    {CanDo::resumes_after_loss, "resumes_after_loss", "a program can go on after the line was lost",
     "after a lost line a program begins again"}};

}  // namespace

int check_controller(std::string_view text, bool as_json, std::ostream& out) {
  const auto read = link::read_controller(text);
  if (!read) {
    out << error_json(read.error()).dump(1, ' ', false, nlohmann::json::error_handler_t::replace) << "\n";
    return 2;
  }
  nlohmann::ordered_json told{{"name", read->name}};
  std::string lines = fmt::format("{}: a sound description\n", read->name);
  for (const auto& [what, can] : link::what_it_can_do(*read))
    for (const Words& words : all_words)
      if (words.what == what) {
        told[words.key] = can;
        lines += fmt::format("  {} {}\n", can ? "+" : "-", can ? words.can : words.cannot);
      }
  out << (as_json ? told.dump(1, ' ', false, nlohmann::ordered_json::error_handler_t::replace) + "\n" : lines);
  return 0;
}

}  // namespace ypsi::cli
