#include "core/book/material.h"

#include <algorithm>

namespace ypsi {
namespace {

template <class Materials>
auto find_material(Materials& all, const std::string& name) {
  return std::find_if(all.begin(), all.end(), [&](const Material& m) { return m.name == name; });
}

}  // namespace

Material material_named(const std::vector<Material>& all, const std::string& name) {
  const auto found = find_material(all, name);
  return found != all.end() ? *found : Material{.name = name};
}

Material& describe_material(std::vector<Material>& all, const std::string& name) {
  const auto found = find_material(all, name);
  return found != all.end() ? *found : all.emplace_back(Material{.name = name});
}

void name_material(std::vector<Material>& all, const std::string& name) {
  const auto unnamed = find_material(all, std::string());
  if (unnamed != all.end() && find_material(all, name) == all.end()) unnamed->name = name;
}

}  // namespace ypsi
