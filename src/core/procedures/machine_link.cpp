#include "core/procedures/machine_link.h"

#include <fmt/format.h>

namespace ypsi {

const char* axis_key(Axis axis) {
  static constexpr const char* keys[] = {"x", "y", "z"};
  return keys[index(axis)];
}

std::string axis_setting(Axis axis, std::string_view what) {
  return fmt::format("axis.{}.{}", axis_key(axis), what);
}

}  // namespace ypsi
