#pragma once
// What of CSS tells whether and in which colour a shape of an SVG file is drawn: presentation attributes, style
// attributes, and style sheets with simple selectors (an element's name, a class, an id). Source: SVG 1.1, chapter 6.
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace pugi {
class xml_node;
}

namespace ypsi {

struct SvgStyle {
  std::string stroke = "none", fill = "black";
  bool shown = true;    ///< display; what is not shown takes its children along
  bool visible = true;  ///< visibility
};

class SvgSheet {
 public:
  /// Takes in the rules of a style element; what it does not understand is passed over.
  void add(std::string_view css);
  /// The style of a node whose parent has `inherited`.
  SvgStyle of(const pugi::xml_node& node, const SvgStyle& inherited) const;

 private:
  struct Rule {
    std::string selector;  ///< "path", ".cut", "#frame"
    std::string properties;
  };
  std::vector<Rule> rules_;
};

/// "#ff0000" for "red", "#f00", "rgb(255, 0, 0)" and "#FF0000"; another word as it is, in lower case.
std::string plain_colour(std::string_view colour);

}  // namespace ypsi
