#include "core/drawing_in/svg_style.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <pugixml.hpp>

#include "core/drawing_in/svg_text.h"

namespace ypsi {
namespace {

std::string_view stripped(std::string_view text) {
  constexpr std::string_view blanks = " \t\r\n";
  const auto from = text.find_first_not_of(blanks);
  if (from == std::string_view::npos) return {};
  return text.substr(from, text.find_last_not_of(blanks) - from + 1);
}

void set(SvgStyle& style, std::string_view name, std::string_view value) {
  value = stripped(value.substr(0, value.find('!')));
  if (value == "inherit" || value.empty()) return;
  if (name == "stroke") style.stroke = plain_colour(value);
  if (name == "fill") style.fill = plain_colour(value);
  if (name == "display" && value == "none") style.shown = false;
  if (name == "visibility") style.visible = value == "visible";
}

/// "stroke: red; fill: none"
void set_all(SvgStyle& style, std::string_view properties) {
  while (!properties.empty()) {
    const auto end = std::min(properties.find(';'), properties.size());
    const std::string_view one = properties.substr(0, end);
    if (const auto colon = one.find(':'); colon != std::string_view::npos)
      set(style, stripped(one.substr(0, colon)), one.substr(colon + 1));
    properties.remove_prefix(std::min(end + 1, properties.size()));
  }
}

bool has_class(std::string_view classes, std::string_view wanted) {
  while (!classes.empty()) {
    classes = stripped(classes);
    const auto end = std::min(classes.find_first_of(" \t\r\n"), classes.size());
    if (classes.substr(0, end) == wanted) return true;
    classes.remove_prefix(end);
  }
  return false;
}

bool chosen(const pugi::xml_node& node, std::string_view selector) {
  if (selector == "*") return true;
  if (selector.starts_with('#')) return node.attribute("id").value() == selector.substr(1);
  const auto dot = selector.find('.');
  if (dot == std::string_view::npos) return node.name() == selector;
  return (dot == 0 || node.name() == selector.substr(0, dot)) &&
         has_class(node.attribute("class").value(), selector.substr(dot + 1));
}

}  // namespace

void SvgSheet::add(std::string_view css) {
  while (true) {
    const auto open = css.find('{');
    if (open == std::string_view::npos) return;
    const auto close = std::min(css.find('}', open), css.size());
    std::string_view selectors = css.substr(0, open);
    if (const auto remark = selectors.rfind("*/"); remark != std::string_view::npos)
      selectors.remove_prefix(remark + 2);
    const std::string_view properties = css.substr(open + 1, close - open - 1);
    while (!selectors.empty()) {
      const auto end = std::min(selectors.find(','), selectors.size());
      const std::string_view one = stripped(selectors.substr(0, end));
      if (!one.empty() && one.find_first_of(" >+~:[@") == std::string_view::npos)
        rules_.push_back({std::string(one), std::string(properties)});
      selectors.remove_prefix(std::min(end + 1, selectors.size()));
    }
    css.remove_prefix(std::min(close + 1, css.size()));
  }
}

SvgStyle SvgSheet::of(const pugi::xml_node& node, const SvgStyle& inherited) const {
  SvgStyle style = inherited;
  for (const char* name : {"stroke", "fill", "display", "visibility"})
    if (const auto attribute = node.attribute(name)) set(style, name, attribute.value());
  for (const Rule& rule : rules_)
    if (chosen(node, rule.selector)) set_all(style, rule.properties);
  if (const auto own = node.attribute("style")) set_all(style, own.value());
  return style;
}

std::string plain_colour(std::string_view colour) {
  std::string word(stripped(colour));
  std::transform(word.begin(), word.end(), word.begin(),
                 [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
  constexpr std::array<std::pair<std::string_view, std::string_view>, 16> names{{{"black", "#000000"},
                                                                                 {"silver", "#c0c0c0"},
                                                                                 {"gray", "#808080"},
                                                                                 {"white", "#ffffff"},
                                                                                 {"maroon", "#800000"},
                                                                                 {"red", "#ff0000"},
                                                                                 {"purple", "#800080"},
                                                                                 {"fuchsia", "#ff00ff"},
                                                                                 {"green", "#008000"},
                                                                                 {"lime", "#00ff00"},
                                                                                 {"olive", "#808000"},
                                                                                 {"yellow", "#ffff00"},
                                                                                 {"navy", "#000080"},
                                                                                 {"blue", "#0000ff"},
                                                                                 {"teal", "#008080"},
                                                                                 {"aqua", "#00ffff"}}};
  for (const auto& [name, value] : names)
    if (word == name) return std::string(value);
  constexpr std::size_t short_form = 4;
  if (word.size() == short_form && word[0] == '#') return {'#', word[1], word[1], word[2], word[2], word[3], word[3]};
  if (word.starts_with("rgb(") && word.ends_with(')')) {
    constexpr std::size_t before = 4;
    const auto parts = svg_numbers(std::string_view(word).substr(before, word.size() - before - 1));
    if (parts && parts->size() == 3) {
      const auto byte = [&](std::size_t i) { return static_cast<int>(std::clamp((*parts)[i], 0.0, 255.0)); };
      return fmt::format("#{:02x}{:02x}{:02x}", byte(0), byte(1), byte(2));
    }
  }
  return word;
}

}  // namespace ypsi
