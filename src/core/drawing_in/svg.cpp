// SVG by pugixml: shapes with the transforms of all that they stand in, by layer and colour, in mm with Y up. Source:
// SVG 1.1 (second edition), chapters 5, 7, 8 and 9; CSS 2.1, 4.3.2 (96 px to an inch).
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numbers>
#include <pugixml.hpp>
#include <set>

#include "core/drawing_in/curves.h"
#include "core/drawing_in/drawing.h"
#include "core/drawing_in/layer_names.h"
#include "core/drawing_in/svg_style.h"
#include "core/drawing_in/svg_text.h"

namespace ypsi {
namespace {

constexpr double mm_per_px = 25.4 / 96;
constexpr int deepest_element = 200, deepest_use = 16;
constexpr std::size_t most_elements = 2'000'000;

/// What holds for an element by those that it stands in.
struct Around {
  Affine map;
  SvgStyle style;
  std::string layer;
  int depth = 0, uses = 0;
};

class SvgReader {
 public:
  SvgReader(Drawing& into, const DrawingSetting& setting) : into_(into), setting_(setting) {}

  Result<void> read(const pugi::xml_node& root) {
    number(root);
    Around top;
    if (auto ok = page(root, top); !ok) return ok;
    top.style = sheet_.of(root, {});
    return children(root, top);
  }

 private:
  /// Numbers of the elements in the order of the file, ids, style sheets.
  void number(const pugi::xml_node& root) {
    struct Walk : pugi::xml_tree_walker {
      SvgReader* reader = nullptr;
      std::uint32_t n = 0;
      bool for_each(pugi::xml_node& node) override {
        if (node.type() != pugi::node_element) return true;
        reader->numbers_[node.internal_object()] = ++n;
        if (const auto id = node.attribute("id")) reader->ids_.emplace(id.value(), node);
        if (!std::strcmp(node.name(), "style"))
          for (const auto& text : node.children()) reader->sheet_.add(text.value());
        return true;
      }
    } walk;
    walk.reader = this;
    numbers_[root.internal_object()] = ++walk.n;
    pugi::xml_node all = root;
    all.traverse(walk);
  }

  tl::unexpected<Error> damaged(const pugi::xml_node& node, const std::string& what) const {
    const char* id = node.attribute("id").value();
    const std::string where = fmt::format("{} {}{}", node.name(), source(node), *id ? fmt::format(" ({})", id) : "");
    return fail("damaged",
                fmt::format("In the drawing, {} of {} cannot be read. Mend it, or write the file anew.", what, where),
                where);
  }
  std::uint32_t source(const pugi::xml_node& node) const {
    const auto at = numbers_.find(node.internal_object());
    return at == numbers_.end() ? 0 : at->second;
  }

  /// A length among an element's attributes, px; percent of `whole`.
  Result<double> px(const pugi::xml_node& node, const char* name, double usual, double whole) const {
    const auto attribute = node.attribute(name);
    if (!attribute || !*attribute.value() || !std::strcmp(attribute.value(), "auto")) return usual;
    const auto length = svg_length(attribute.value());
    if (!length) return damaged(node, fmt::format("{}=\"{:.40}\"", name, attribute.value()));
    return length->percent ? length->px / 100 * whole : length->px;
  }

  /// The page: how large, in which unit, and Y turned up.
  Result<void> page(const pugi::xml_node& root, Around& top) {
    const auto box = svg_numbers(root.attribute("viewBox").value());
    if (!box || (!box->empty() && box->size() != 4)) return damaged(root, "viewBox");
    const bool has_box = box->size() == 4 && (*box)[2] > 0 && (*box)[3] > 0;
    const auto width = svg_length(root.attribute("width").value()),
               height = svg_length(root.attribute("height").value());
    view_width_ = has_box ? (*box)[2] : width && !width->percent ? width->px : 0;
    view_height_ = has_box ? (*box)[3] : height && !height->percent ? height->px : 0;
    double sx = 1, sy = 1;
    if (has_box && width && height && !width->percent && !height->percent) {
      sx = width->px / (*box)[2];
      sy = height->px / (*box)[3];
      // Unless it says otherwise it is stretched both ways alike, so that all of it is seen.
      if (std::strncmp(root.attribute("preserveAspectRatio").value(), "none", 4) != 0) sx = sy = std::min(sx, sy);
    } else if (has_box && width && !width->percent) {
      sx = sy = width->px / (*box)[2];
    } else if (has_box && height && !height->percent) {
      sx = sy = height->px / (*box)[3];
    }
    if (!(sx > 0) || !(sy > 0)) return damaged(root, "the size");
    const bool real = (width && width->absolute) || (height && height->absolute);
    double unit = mm_per_px;
    into_.unit_mm = mm_per_px * sx;
    if (setting_.unit_mm) {
      // The owner says what one of the file's own units is.
      unit = *setting_.unit_mm / sx;
      into_.unit_mm = *setting_.unit_mm;
      into_.unit_from = UnitFrom::owner;
      into_.unit_words = "as its owner said";
    } else if (real) {
      into_.unit_words = fmt::format("the page is {:.64} by {:.64}", root.attribute("width").value(),
                                     root.attribute("height").value());
    } else {
      into_.unit_from = UnitFrom::usual;
      into_.unit_words = "the page names no real unit; 96 of its units taken as an inch";
    }
    const double left = has_box ? (*box)[0] : 0, bottom = has_box ? (*box)[1] + (*box)[3] : view_height_;
    top.map = from_matrix(unit * sx, 0, 0, -unit * sy, -unit * sx * left, unit * sy * bottom);
    return {};
  }

  Result<void> children(const pugi::xml_node& node, const Around& around) {
    for (const pugi::xml_node& child : node.children())
      if (child.type() == pugi::node_element)
        if (auto ok = element(child, around); !ok) return ok;
    return {};
  }

  Result<void> element(const pugi::xml_node& node, const Around& outside) {
    if (outside.depth >= deepest_element) return damaged(node, "the nesting");
    if (++elements_ > most_elements || points_ > most_drawn_points)
      return fail("too_large", "This drawing holds more than can be cut in a lifetime.",
                  fmt::format("{} {}", node.name(), source(node)));
    const std::string_view name = node.name();
    static const std::set<std::string_view> aside{"defs",     "symbol",   "style", "title",          "desc",
                                                  "metadata", "clipPath", "mask",  "pattern",        "marker",
                                                  "filter",   "script",   "view",  "linearGradient", "radialGradient"};
    if (aside.count(name) || name.find(':') != std::string_view::npos) return {};
    Around here = outside;
    ++here.depth;
    here.style = sheet_.of(node, outside.style);
    if (!here.style.shown) {
      note_passed(into_.passed_by, "hidden", source(node));
      return {};
    }
    if (const auto attribute = node.attribute("transform")) {
      const auto map = svg_transform(attribute.value());
      if (!map) return damaged(node, "transform");
      here.map = outside.map.after(*map);
    }
    if (name == "g" || name == "a" || name == "switch" || name == "svg") return group(node, here);
    if (name == "use") return use(node, here);
    if (name == "text") return text(node, here);
    if (name == "image" || name == "foreignObject") {
      note_passed(into_.passed_by, std::string(name), source(node));
      return {};
    }
    return shape(node, here);
  }

  Result<void> group(const pugi::xml_node& node, Around& here) {
    // Drawing programs mark their layers; else what stands at the top by its own name is one.
    const auto layer = node.attribute("inkscape:groupmode");
    const auto label = node.attribute("inkscape:label");
    if (!std::strcmp(layer.value(), "layer"))
      here.layer = label ? label.value() : node.attribute("id").value();
    else if (here.layer.empty() && here.depth == 1)
      here.layer = label ? label.value() : node.attribute("id").value();
    if (!std::strcmp(node.name(), "svg")) {
      const auto x = px(node, "x", 0, view_width_), y = px(node, "y", 0, view_height_);
      const auto box = svg_numbers(node.attribute("viewBox").value());
      if (!x || !y || !box) return damaged(node, "the place");
      const auto width = px(node, "width", view_width_, view_width_),
                 height = px(node, "height", view_height_, view_height_);
      if (!width || !height) return damaged(node, "the size");
      Affine into;
      into.shift = {*x, *y};
      if (box->size() == 4 && (*box)[2] > 0 && (*box)[3] > 0) {
        const double s = std::min(*width / (*box)[2], *height / (*box)[3]);
        if (!(s > 0)) return damaged(node, "the size");
        into.turn = s;
        into.shift +=
            PlanPoint(*width - s * (*box)[2], *height - s * (*box)[3]) / 2.0 - s * PlanPoint((*box)[0], (*box)[1]);
      }
      here.map = here.map.after(into);
    }
    return children(node, here);
  }

  Result<void> use(const pugi::xml_node& node, Around& here) {
    const auto plain = node.attribute("href");
    std::string_view to = plain ? plain.value() : node.attribute("xlink:href").value();
    if (!to.starts_with('#')) {
      note_passed(into_.passed_by, "use of another file", source(node));
      return {};
    }
    const auto found = ids_.find(std::string(to.substr(1)));
    if (found == ids_.end()) {
      note_passed(into_.passed_by, "use of what is not there", source(node));
      return {};
    }
    if (++here.uses > deepest_use) return damaged(node, "a use within itself");
    const auto x = px(node, "x", 0, view_width_), y = px(node, "y", 0, view_height_);
    if (!x || !y) return damaged(node, "the place");
    Affine into;
    into.shift = {*x, *y};
    here.map = here.map.after(into);
    if (!std::strcmp(found->second.name(), "symbol")) return children(found->second, here);
    return element(found->second, here);
  }

  Result<void> text(const pugi::xml_node& node, const Around& here) {
    std::string words;
    for (const auto& part : node.select_nodes(".//text()")) words += part.node().value();
    words.erase(0, std::min(words.find_first_not_of(" \t\r\n"), words.size()));
    words.erase(words.find_last_not_of(" \t\r\n") + 1);
    const auto places = [&](const char* name) {
      const auto all = svg_numbers(node.attribute(name).value());
      return all && !all->empty() ? all->front() : 0.0;
    };
    into_.texts.push_back({layer_of(here), words, here.map({places("x"), places("y")}), source(node)});
    return {};
  }

  std::size_t layer_of(const Around& here) {
    return names_.of(into_, here.layer, here.style.stroke != "none" ? here.style.stroke : here.style.fill);
  }

  Result<void> shape(const pugi::xml_node& node, const Around& here) {
    const std::string_view name = node.name();
    if (!here.style.visible || (here.style.stroke == "none" && here.style.fill == "none")) {
      note_passed(into_.passed_by, "without line or fill", source(node));
      return {};
    }
    std::vector<SvgSubpath> all;
    const auto lengths = [&](std::initializer_list<std::pair<const char*, double>> names,
                             std::vector<double>& values) -> Result<void> {
      for (const auto& [attribute, whole] : names) {
        const auto v = px(node, attribute, 0, whole);
        if (!v) return tl::make_unexpected(v.error());
        values.push_back(*v);
      }
      return {};
    };
    const double w = view_width_, h = view_height_, diagonal = std::hypot(w, h) / std::numbers::sqrt2;
    std::vector<double> v;
    const auto ring = [&](PlanPoint centre, double rx, double ry) {
      SvgSubpath path{{}, true};
      const EllipseArc arc = mapped({centre, rx, PlanPoint(0, ry), 0, 2 * std::numbers::pi}, here.map);
      path.points.push_back(arc.at(0));
      add_arc(path.points, arc, setting_.tolerance_mm);
      path.points.back() = path.points.front();
      all.push_back(std::move(path));
    };
    if (name == "path") {
      auto read = svg_path(node.attribute("d").value(), here.map, setting_.tolerance_mm);
      if (!read) return damaged(node, "the path (d)");
      all = std::move(*read);
    } else if (name == "line") {
      if (auto ok = lengths({{"x1", w}, {"y1", h}, {"x2", w}, {"y2", h}}, v); !ok) return ok;
      all.push_back({{here.map({v[0], v[1]}), here.map({v[2], v[3]})}, false});
    } else if (name == "polyline" || name == "polygon") {
      const auto places = svg_numbers(node.attribute("points").value());
      if (!places || places->size() % 2 != 0) return damaged(node, "points");
      SvgSubpath path;
      for (std::size_t i = 0; i + 1 < places->size(); i += 2)
        path.points.push_back(here.map({(*places)[i], (*places)[i + 1]}));
      path.closed = name == "polygon" && path.points.size() > 2;
      if (path.closed && path.points.back() != path.points.front()) path.points.push_back(path.points.front());
      if (path.points.size() > 1) all.push_back(std::move(path));
    } else if (name == "rect") {
      if (auto ok = lengths({{"x", w}, {"y", h}, {"width", w}, {"height", h}, {"rx", w}, {"ry", h}}, v); !ok) return ok;
      if (v[2] < 0 || v[3] < 0) return damaged(node, "a size below zero");
      if (v[2] > 0 && v[3] > 0) {
        if (!node.attribute("rx")) v[4] = v[5];
        if (!node.attribute("ry")) v[5] = v[4];
        const double rx = std::clamp(v[4], 0.0, v[2] / 2), ry = std::clamp(v[5], 0.0, v[3] / 2);
        const std::string d =
            rx > 0 && ry > 0
                ? fmt::format(
                      "M{} {}H{}A{} {} 0 0 1 {} {}V{}A{} {} 0 0 1 {} {}H{}A{} {} 0 0 1 {} {}V{}A{} {} 0 0 1 {} {}Z",
                      v[0] + rx, v[1], v[0] + v[2] - rx, rx, ry, v[0] + v[2], v[1] + ry, v[1] + v[3] - ry, rx, ry,
                      v[0] + v[2] - rx, v[1] + v[3], v[0] + rx, rx, ry, v[0], v[1] + v[3] - ry, v[1] + ry, rx, ry,
                      v[0] + rx, v[1])
                : fmt::format("M{} {}H{}V{}H{}Z", v[0], v[1], v[0] + v[2], v[1] + v[3], v[0]);
        if (auto read = svg_path(d, here.map, setting_.tolerance_mm)) all = std::move(*read);
      }
    } else if (name == "circle") {
      if (auto ok = lengths({{"cx", w}, {"cy", h}, {"r", diagonal}}, v); !ok) return ok;
      if (v[2] < 0) return damaged(node, "a radius below zero");
      if (v[2] > 0) ring({v[0], v[1]}, v[2], v[2]);
    } else if (name == "ellipse") {
      if (auto ok = lengths({{"cx", w}, {"cy", h}, {"rx", w}, {"ry", h}}, v); !ok) return ok;
      if (v[2] < 0 || v[3] < 0) return damaged(node, "a radius below zero");
      if (v[2] > 0 && v[3] > 0) ring({v[0], v[1]}, v[2], v[3]);
    } else {
      note_passed(into_.passed_by, std::string(name), source(node));
    }
    for (SvgSubpath& path : all) {
      points_ += path.points.size();
      into_.contours.push_back({layer_of(here), std::move(path.points), path.closed, source(node)});
    }
    return {};
  }

  Drawing& into_;
  const DrawingSetting& setting_;
  SvgSheet sheet_;
  LayerNames names_;
  std::map<const void*, std::uint32_t> numbers_;
  std::map<std::string, pugi::xml_node> ids_;
  double view_width_ = 0, view_height_ = 0;
  std::size_t elements_ = 0, points_ = 0;
};

}  // namespace

Result<Drawing> read_svg(std::string_view bytes, const DrawingSetting& setting) {
  pugi::xml_document document;
  const auto parsed = document.load_buffer(bytes.data(), bytes.size());
  if (!parsed) {
    const auto at = static_cast<std::size_t>(std::max<std::ptrdiff_t>(parsed.offset, 0));
    const auto line =
        1 + std::count(bytes.begin(), bytes.begin() + static_cast<std::ptrdiff_t>(std::min(at, bytes.size())), '\n');
    return fail("damaged",
                fmt::format("This SVG file cannot be read: {} in line {}. It is damaged or cut off; write it anew.",
                            parsed.description(), line),
                fmt::format("line {}", line));
  }
  const pugi::xml_node root = document.document_element();
  if (std::strcmp(root.name(), "svg") != 0 && std::strcmp(root.name(), "svg:svg") != 0)
    return fail("not_a_drawing", "This is an XML file, but not an SVG drawing.");
  Drawing drawing;
  drawing.format = "SVG";
  if (auto ok = SvgReader(drawing, setting).read(root); !ok) return tl::make_unexpected(ok.error());
  name_layers(drawing, {});
  if (drawing.contours.empty() && drawing.texts.empty() && drawing.passed_by.empty())
    return fail("empty", "There is no drawing in this file.");
  return drawing;
}

}  // namespace ypsi
