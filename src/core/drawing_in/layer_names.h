#pragma once
// What both readers of drawings need: layers by name and colour, what is passed by, and text as UTF-8.
#include <map>
#include <string>

#include "core/drawing_in/drawing.h"

namespace ypsi {

/// Layers while a drawing is read: one for each name and colour.
class LayerNames {
 public:
  /// Its place among the drawing's layers; a new one where it is new. `colour`: its own, empty: the layer's.
  std::size_t of(Drawing& drawing, const std::string& name, const std::string& colour);

 private:
  std::map<std::pair<std::string, std::string>, std::size_t> known_;
};

/// A layer that has several colours is several, each named with its colour. `usual`: colours of layers by name.
void name_layers(Drawing& drawing, const std::map<std::string, std::string>& usual);

void note_passed(std::vector<PassedBy>& all, const std::string& what, std::uint32_t source, std::size_t times = 1);

/// Text as it is where it is UTF-8, else taken as ISO 8859-1; "\U+00B0" as that character.
std::string as_utf8(const std::string& text);

}  // namespace ypsi
