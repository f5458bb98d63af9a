#pragma once
#include <ostream>
#include <string_view>

namespace ypsi::cli {
/// Says whether `text` is a sound description of a controller, what goes over its line and what its owner will do by
/// hand. Returns the exit code: 0 sound, 2 not usable.
int check_controller(std::string_view text, bool as_json, std::ostream& out);
}  // namespace ypsi::cli
