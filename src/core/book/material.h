#pragma once
// What is known of a material by its name, whichever sheet it was said on. Lengths mm.
#include <string>
#include <vector>

namespace ypsi {

/// A material: a plate of two layers, a cap over a core, or of one piece.
struct Material {
  std::string name{};                       ///< the owner's; empty: what has no name yet
  double cap_mm = 0;                        ///< thickness of the cap, >= 0; 0: of one piece
  double total_mm = 0;                      ///< of the whole plate, as its maker says, >= cap_mm; 0: not said
  std::string cap_colour{}, core_colour{};  ///< "#b8533a"; empty: not said
  bool operator==(const Material&) const = default;
};

/// The one of that name; one of one piece where nothing was said of it.
Material material_named(const std::vector<Material>& all, const std::string& name);
/// The one of that name, added where nothing was said of it.
Material& describe_material(std::vector<Material>& all, const std::string& name);
/// What had no name is called `name` from now on; what was said of another of that name stays.
void name_material(std::vector<Material>& all, const std::string& name);

}  // namespace ypsi
