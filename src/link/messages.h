#pragma once
// What the lines of the link mean, as JSON; docs/link.md describes each. Reading throws nlohmann::json::exception on
// another shape; the one caller turns that into a line passed over.
#include <nlohmann/json.hpp>

#include "core/procedures/bench.h"
#include "core/procedures/machine_link.h"

namespace ypsi::link {

using nlohmann::json;

/// Who answers: told in the handshake.
struct Identity {
  std::string name, version;
  std::vector<std::string> axes, capabilities;
  int look_ahead = 0;      ///< blocks that it holds beyond what moves
  std::uint32_t boot = 0;  ///< counts its power-ups
  bool can(std::string_view capability) const;
};

json to_json(const Identity& identity);
Identity identity_from(const json& in);
/// None where the word is none of the state's: "ready", "moving", "not_homed" and so on.
std::optional<MachineState> state_of_word(std::string_view word);
json to_json(const MachineStatus& status);
MachineStatus status_from(const json& in);
json to_json(const Surroundings& surroundings);
Surroundings surroundings_from(const json& in);
std::string plate_word(PlatePlace place);
PlatePlace plate_place_from(const json& in);
json to_json(const CutFeature& feature);
CutFeature feature_from(const json& in);
json to_json(const StrokePoint& point);
StrokePoint stroke_from(const json& in);
json to_json(const Error& error);
Error error_from(const json& in);

int whole_from(const json& in);
/// One line of text, ASCII alone, whatever is in it.
std::string text_of(const json& object);
Axis axis_from(const json& in);

}  // namespace ypsi::link
