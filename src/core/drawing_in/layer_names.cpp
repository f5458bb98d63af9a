#include "core/drawing_in/layer_names.h"

#include <algorithm>
#include <charconv>
#include <nlohmann/json.hpp>

namespace ypsi {
namespace {

void append_utf8(std::string& text, unsigned code) {
  const auto put = [&](unsigned byte) { text += static_cast<char>(byte); };
  if (code < 0x80U) {
    put(code);
  } else if (code < 0x800U) {
    put(0xC0U | (code >> 6U));
    put(0x80U | (code & 0x3FU));
  } else {
    put(0xE0U | ((code >> 12U) & 0x0FU));
    put(0x80U | ((code >> 6U) & 0x3FU));
    put(0x80U | (code & 0x3FU));
  }
}

bool is_utf8(const std::string& text) {
  try {
    return !nlohmann::json(text).dump().empty();
  } catch (const nlohmann::json::type_error&) {
    return false;
  }
}

}  // namespace

std::size_t LayerNames::of(Drawing& drawing, const std::string& name, const std::string& colour) {
  const auto [at, is_new] = known_.try_emplace({name, colour}, drawing.layers.size());
  if (is_new) drawing.layers.push_back({name, colour});
  return at->second;
}

void name_layers(Drawing& drawing, const std::map<std::string, std::string>& usual) {
  std::map<std::string, std::size_t> colours;
  for (const DrawnLayer& l : drawing.layers) ++colours[l.name];
  for (DrawnLayer& l : drawing.layers) {
    const std::string name = l.name;
    if (colours[name] > 1 && !l.colour.empty()) l.name = name.empty() ? l.colour : name + ", " + l.colour;
    if (const auto known = usual.find(name); l.colour.empty() && known != usual.end()) l.colour = known->second;
    if (l.name.empty()) l.name = l.colour.empty() ? "drawing" : l.colour;
  }
}

void note_passed(std::vector<PassedBy>& all, const std::string& what, std::uint32_t source, std::size_t times) {
  const auto known = std::find_if(all.begin(), all.end(), [&](const PassedBy& p) { return p.what == what; });
  if (known != all.end())
    known->times += times;
  else
    all.push_back({what, source, times});
}

std::string as_utf8(const std::string& text) {
  const bool sound = is_utf8(text);
  std::string out;
  for (std::size_t i = 0; i < text.size(); ++i) {
    constexpr std::string_view escape = "\\U+";
    constexpr std::size_t digits = 4;
    unsigned code = 0;
    if (text.compare(i, escape.size(), escape) == 0 && i + escape.size() + digits <= text.size()) {
      const char* from = text.data() + i + escape.size();
      if (std::from_chars(from, from + digits, code, 16).ptr == from + digits && (code < 0xD800U || code > 0xDFFFU)) {
        append_utf8(out, code);
        i += escape.size() + digits - 1;
        continue;
      }
    }
    if (sound)
      out += text[i];
    else
      append_utf8(out, static_cast<unsigned char>(text[i]));
  }
  return out;
}

}  // namespace ypsi
