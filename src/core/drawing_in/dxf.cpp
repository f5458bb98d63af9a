// DXF by dxflib, from groups that were looked through: entities are collected with their blocks, and inserted where
// they stand. Source: DXF reference, ENTITIES and BLOCKS.
#include <dl_creationadapter.h>
#include <dl_dxf.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>
#include <sstream>
#include <utility>
#include <variant>

#include "core/drawing_in/curves.h"
#include "core/drawing_in/drawing.h"
#include "core/drawing_in/dxf_groups.h"
#include "core/drawing_in/layer_names.h"

namespace ypsi {
namespace {

constexpr double dxf_degree = std::numbers::pi / 180;
constexpr int deepest_block = 16;
constexpr std::size_t most_inserted = 2'000'000;

/// $INSUNITS (DXF reference, HEADER).
struct DxfUnit {
  int code;
  double mm;
  const char* words;
};
constexpr DxfUnit dxf_units[] = {{1, 25.4, "inches"},    {2, 304.8, "feet"},   {4, 1, "millimetres"},
                                 {5, 10, "centimetres"}, {6, 1000, "metres"},  {8, 25.4e-6, "microinches"},
                                 {9, 0.0254, "mils"},    {10, 914.4, "yards"}, {13, 0.001, "micrometres"},
                                 {14, 100, "decimetres"}};

struct DxfVertex {
  PlanPoint at;
  double bulge = 0;
};
struct DxfPolyline {
  std::vector<DxfVertex> vertices;
  bool closed = false;
};
struct DxfInsert {
  std::string block;
  Affine at;
  int columns = 1, rows = 1;
  double column_way = 0, row_way = 0;
};
struct DxfText {
  std::string text;
  PlanPoint at;
};
struct DxfItem {
  std::string layer, colour;
  std::uint32_t line = 0;
  bool on_paper = false;  ///< rather than in the model
  std::variant<DxfPolyline, EllipseArc, Spline, DxfInsert, DxfText> what;
};
struct DxfBlock {
  PlanPoint base;
  std::vector<DxfItem> items;
};

class Collector final : public DL_CreationAdapter {
 public:
  std::vector<DxfItem> items;
  std::map<std::string, DxfBlock> blocks;
  std::map<std::string, std::string> layer_colours;
  std::vector<std::string> hidden_layers;
  std::vector<PassedBy> passed_by;
  int insunits = 0, measurement = -1;

  void setVariableInt(const std::string& key, int value, int) override {
    if (key == "$INSUNITS") insunits = value;
    if (key == "$MEASUREMENT") measurement = value;
  }
  void addLayer(const DL_LayerData& l) override {
    constexpr int frozen = 1;
    const int colour = getAttributes().getColor();
    layer_colours[l.name] = fmt::format("colour {}", std::abs(colour));
    if (l.off || colour < 0 || (l.flags & frozen)) hidden_layers.push_back(l.name);
  }
  void addBlock(const DL_BlockData& b) override {
    finish();
    block_ = &blocks[b.name];
    *block_ = {};
    block_->base = {b.bpx, b.bpy};
  }
  void endBlock() override {
    finish();
    block_ = nullptr;
  }
  void addLine(const DL_LineData& l) override { add(DxfPolyline{{{{l.x1, l.y1}}, {{l.x2, l.y2}}}, false}); }
  void addArc(const DL_ArcData& a) override {
    if (!(a.radius > 0) || !flat("arc")) return;
    double sweep = std::fmod(a.angle2 - a.angle1, 360);
    if (sweep <= 0) sweep += 360;
    add(mapped({{a.cx, a.cy}, a.radius, {0, a.radius}, a.angle1 * dxf_degree, (a.angle1 + sweep) * dxf_degree}, ocs()));
  }
  void addCircle(const DL_CircleData& c) override {
    if (!(c.radius > 0) || !flat("circle")) return;
    add(mapped({{c.cx, c.cy}, c.radius, {0, c.radius}, 0, 2 * std::numbers::pi}, ocs()));
  }
  void addEllipse(const DL_EllipseData& e) override {
    const PlanPoint major(e.mx, e.my);
    if (!(std::abs(major) > 0) || !(e.ratio > 0) || !flat("ellipse")) return;
    const double side = mirrored() ? -1 : 1;
    double sweep = std::fmod(e.angle2 - e.angle1, 2 * std::numbers::pi);
    if (sweep <= 1e-12) sweep += 2 * std::numbers::pi;
    add(EllipseArc{{e.cx, e.cy}, major, PlanPoint(0, side) * major * e.ratio, e.angle1, e.angle1 + sweep});
  }
  void addPolyline(const DL_PolylineData& p) override {
    finish();
    constexpr int closed = 1, mesh = 16, polyface = 64;
    if (!flat("polyline")) return;
    if (p.flags & (mesh | polyface)) return pass("mesh");
    polyline_ = begun(DxfPolyline{{}, (p.flags & closed) != 0});
    polyline_map_ = ocs();
  }
  void addVertex(const DL_VertexData& v) override {
    if (!polyline_) return;
    const double side = std::abs(polyline_map_.mirror) > 0 ? -1 : 1;
    std::get<DxfPolyline>(polyline_->what).vertices.push_back({polyline_map_({v.x, v.y}), side * v.bulge});
  }
  void addSpline(const DL_SplineData& s) override {
    finish();
    Spline spline;
    spline.degree = static_cast<int>(s.degree);
    spline_ = begun(std::move(spline));
  }
  void addKnot(const DL_KnotData& k) override {
    if (spline_) std::get<Spline>(spline_->what).knots.push_back(k.k);
  }
  void addControlPoint(const DL_ControlPointData& c) override {
    if (!spline_) return;
    auto& s = std::get<Spline>(spline_->what);
    s.controls.emplace_back(c.x, c.y);
    s.weights.push_back(c.w);
  }
  void endEntity() override { finish(); }
  void endSequence() override { finish(); }
  void addInsert(const DL_InsertData& i) override {
    if (!flat("block")) return;
    constexpr int most = 1000;
    const Affine turned{std::polar(1.0, i.angle * dxf_degree)},
        scaled{PlanPoint((i.sx + i.sy) / 2), PlanPoint((i.sx - i.sy) / 2)};
    Affine at = turned.after(scaled);
    at.shift = {i.ipx, i.ipy};
    add(DxfInsert{i.name, ocs().after(at), std::clamp(i.cols, 1, most), std::clamp(i.rows, 1, most), i.colSp, i.rowSp});
  }
  void addText(const DL_TextData& t) override { add(DxfText{as_utf8(t.text), ocs()({t.ipx, t.ipy})}); }
  void addMTextChunk(const std::string& text) override { chunks_ += text; }
  void addMText(const DL_MTextData& t) override {
    add(DxfText{as_utf8(std::exchange(chunks_, {}) + t.text), ocs()({t.ipx, t.ipy})});
  }
  /// What was begun is whole.
  void finish() {
    if (polyline_) put(std::move(*polyline_));
    if (spline_) put(std::move(*spline_));
    polyline_.reset();
    spline_.reset();
  }

 private:
  /// Which way the entity's own plan looks.
  std::array<double, 3> normal() {
    std::array<double, 3> way{0, 0, 1};
    if (getExtrusion()) getExtrusion()->getDirection(way.data());
    return way;
  }
  bool mirrored() { return normal()[2] < 0; }
  /// Whether it lies in the plan; else it is passed by.
  bool flat(const char* what) {
    const auto way = normal();
    const bool in_plan = std::hypot(way[0], way[1]) <= 1e-6 * std::fabs(way[2]);
    if (!in_plan) pass(fmt::format("tilted {}", what));
    return in_plan;
  }
  /// Of an entity's own plan, which is seen from below where it is mirrored (DXF reference, arbitrary axis).
  Affine ocs() { return mirrored() ? Affine{0, -1, 0} : Affine{}; }

  std::uint32_t line() { return static_cast<std::uint32_t>(std::max(0, getAttributes().getHandle())); }
  void pass(const std::string& what) { note_passed(passed_by, what, line()); }

  template <class What>
  DxfItem begun(What what) {
    DxfItem item;
    item.layer = as_utf8(getAttributes().getLayer());
    constexpr int by_layer = 256, by_block = 0;
    const int colour = getAttributes().getColor(), real = getAttributes().getColor24();
    if (real >= 0)
      item.colour = fmt::format("#{:06x}", static_cast<unsigned>(real) & 0xffffffU);
    else if (colour != by_layer && colour != by_block)
      item.colour = fmt::format("colour {}", std::abs(colour));
    item.line = line();
    item.on_paper = getAttributes().isInPaperSpace();
    item.what = std::move(what);
    return item;
  }
  template <class What>
  void add(What what) {
    finish();
    put(begun(std::move(what)));
  }
  void put(DxfItem item) {
    if (item.on_paper && !block_) return note_passed(passed_by, "paper space", item.line);
    (block_ ? block_->items : items).push_back(std::move(item));
  }

  DxfBlock* block_ = nullptr;
  std::optional<DxfItem> polyline_, spline_;
  Affine polyline_map_;
  std::string chunks_;
};

/// Puts items where they stand, blocks within blocks, and makes contours of them.
class Placer {
 public:
  Placer(const Collector& from, double tolerance, Drawing& into) : from_(from), tolerance_(tolerance), into_(into) {}

  Result<void> place(const std::vector<DxfItem>& items, const Affine& map, const std::string& parent_layer, int depth) {
    for (const DxfItem& item : items)
      if (auto ok = place(item, map, parent_layer, depth); !ok) return ok;
    return {};
  }

 private:
  Result<void> place(const DxfItem& item, const Affine& map, const std::string& parent_layer, int depth) {
    // What a block has on layer 0 is on the layer where the block is put.
    const std::string& layer = item.layer == "0" && !parent_layer.empty() ? parent_layer : item.layer;
    if (std::find(from_.hidden_layers.begin(), from_.hidden_layers.end(), layer) != from_.hidden_layers.end()) {
      note_passed(into_.passed_by, "layer switched off: " + layer, item.line);
      return {};
    }
    if (const auto* insert = std::get_if<DxfInsert>(&item.what)) return place(*insert, item.line, map, layer, depth);
    if (auto ok = one_more(item.line); !ok) return ok;
    if (const auto* words = std::get_if<DxfText>(&item.what)) {
      into_.texts.push_back({names_.of(into_, layer, item.colour), words->text, map(words->at), item.line});
      return {};
    }
    DrawnContour c;
    c.source = item.line;
    if (const auto* p = std::get_if<DxfPolyline>(&item.what)) trace(*p, map, c);
    if (const auto* e = std::get_if<EllipseArc>(&item.what)) {
      const EllipseArc arc = mapped(*e, map);
      c.points.push_back(arc.at(arc.t0));
      add_arc(c.points, arc, tolerance_);
      c.closed = std::fabs(arc.t1 - arc.t0) > 2 * std::numbers::pi - 1e-9;
      if (c.closed) c.points.back() = c.points.front();
    }
    if (const auto* s = std::get_if<Spline>(&item.what)) {
      if (!is_sound(*s)) {
        note_passed(into_.passed_by, "spline without its control points", item.line);
        return {};
      }
      Spline moved = *s;
      for (PlanPoint& p : moved.controls) p = map(p);
      add_spline(c.points, moved, tolerance_);
      c.closed = std::abs(c.points.front() - c.points.back()) <= tolerance_;
      if (c.closed) c.points.back() = c.points.front();
    }
    if (c.points.size() < 2) return {};
    c.layer = names_.of(into_, layer, item.colour);
    points_ += c.points.size();
    into_.contours.push_back(std::move(c));
    return {};
  }

  Result<void> one_more(std::uint32_t line) {
    if (++placed_ <= most_inserted && points_ <= most_drawn_points) return {};
    return fail("too_large", "This drawing holds more than can be cut in a lifetime; its blocks multiply each other.",
                fmt::format("line {}", line));
  }

  Result<void> place(const DxfInsert& insert, std::uint32_t line, const Affine& map, const std::string& layer,
                     int depth) {
    const auto block = from_.blocks.find(insert.block);
    if (block == from_.blocks.end()) {
      note_passed(into_.passed_by, "block that is not there: " + as_utf8(insert.block), line);
      return {};
    }
    if (depth >= deepest_block)
      return fail("too_large", "Blocks stand within blocks without an end.", fmt::format("line {}", line));
    for (int row = 0; row < insert.rows; ++row)
      for (int column = 0; column < insert.columns; ++column) {
        if (auto ok = one_more(line); !ok) return ok;
        // Rows and columns run along the insert's own turned axes, and are not stretched with it.
        const PlanPoint along = insert.at.way({1, 0});
        const PlanPoint unit = std::abs(along) > 0 ? along / std::abs(along) : PlanPoint(1);
        Affine at = insert.at;
        at.shift += unit * PlanPoint(column * insert.column_way, row * insert.row_way);
        Affine base;
        base.shift = -block->second.base;
        if (auto ok = place(block->second.items, map.after(at.after(base)), layer, depth + 1); !ok) return ok;
      }
    return {};
  }

  void trace(const DxfPolyline& p, const Affine& map, DrawnContour& c) const {
    const std::size_t n = p.vertices.size();
    for (std::size_t i = 0; i < n; ++i) {
      const DxfVertex& v = p.vertices[i];
      if (c.points.empty()) c.points.push_back(map(v.at));
      if (i + 1 == n && !p.closed) break;
      const DxfVertex& to = p.vertices[(i + 1) % n];
      if (to.at == v.at) continue;
      if (v.bulge == 0)
        c.points.push_back(map(to.at));
      else
        add_arc(c.points, mapped(bulged(v.at, to.at, v.bulge), map), tolerance_);
    }
    c.closed = c.points.size() > 2 && (p.closed || std::abs(c.points.front() - c.points.back()) <= tolerance_);
    if (c.closed) c.points.back() = c.points.front();
  }

  const Collector& from_;
  double tolerance_;
  Drawing& into_;
  LayerNames names_;
  std::size_t placed_ = 0, points_ = 0;
};

void say_unit(const Collector& read, const DrawingSetting& setting, Drawing& into) {
  if (setting.unit_mm) {
    into.unit_mm = *setting.unit_mm;
    into.unit_from = UnitFrom::owner;
    into.unit_words = "as its owner said";
    return;
  }
  for (const DxfUnit& u : dxf_units)
    if (u.code == read.insunits) {
      into.unit_mm = u.mm;
      into.unit_words = fmt::format("$INSUNITS says {}", u.words);
      return;
    }
  into.unit_from = UnitFrom::usual;
  into.unit_mm = read.measurement == 0 ? dxf_units[0].mm : 1;
  into.unit_words = read.measurement == 0
                        ? "the file names no unit; it was made with inch settings ($MEASUREMENT), taken as inches"
                        : "the file names no unit; taken as millimetres";
}

}  // namespace

Result<Drawing> read_dxf(std::string_view bytes, const DrawingSetting& setting) {
  auto groups = look_through_dxf(bytes);
  if (!groups) return tl::make_unexpected(groups.error());
  Collector collected;
  {
    std::istringstream in(groups->text);
    DL_Dxf reader;
    if (!reader.in(in, &collected)) return fail("damaged", "This DXF file cannot be read.");
  }
  collected.finish();
  Drawing drawing;
  drawing.format = "DXF";
  drawing.passed_by = std::move(groups->passed_by);
  for (const PassedBy& p : collected.passed_by) note_passed(drawing.passed_by, p.what, p.source, p.times);
  say_unit(collected, setting, drawing);
  Affine to_mm;
  to_mm.turn = drawing.unit_mm;
  Placer placer(collected, setting.tolerance_mm, drawing);
  if (auto ok = placer.place(collected.items, to_mm, {}, 0); !ok) return tl::make_unexpected(ok.error());
  name_layers(drawing, collected.layer_colours);
  if (drawing.contours.empty() && drawing.texts.empty() && drawing.passed_by.empty())
    return fail("empty", "There is no drawing in this file.");
  return drawing;
}

}  // namespace ypsi
