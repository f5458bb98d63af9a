#include "app/sheets/references/plate_section.h"

#include <algorithm>

#include "app/drawing/draft.h"

namespace ypsi::app {
namespace {
constexpr double section_field_px = 92, lip_px = 16, plate_px = 26;
}

PlateSection::PlateSection(QWidget* parent) : QWidget(parent) {
  setObjectName("plate-section");
  setAccessibleName(tr("Section through tool, plate, stock and bed"));
  setMinimumHeight(300);
  const auto field = [this](const char* name, const QString& what, int decimals) {
    auto* f = new LengthField(name, what, this);
    f->set_decimals(decimals);
    f->setFixedWidth(static_cast<int>(section_field_px));
    return f;
  };
  thickness_ = field("plate-thickness", tr("Thickness of the plate"), 3);
  wall_x_ = field("plate-wall-x", tr("Wall of the corner plate towards X; 0 for a flat plate"), 3);
  wall_y_ = field("plate-wall-y", tr("Wall of the corner plate towards Y; 0 for a flat plate"), 3);
  tool_ = field("plate-tool", tr("Diameter of the tool that touches"), 2);
  stock_ = field("plate-stock", tr("Thickness of the stock"), 2);
}

void PlateSection::show(const TouchPlate& plate, double tool_diameter, double stock_thickness, LengthUnit unit) {
  has_walls_ = plate.wall_x > 0 || plate.wall_y > 0;
  for (auto* f : {thickness_, wall_x_, wall_y_, tool_, stock_}) f->set_unit(unit);
  thickness_->show_value(plate.thickness > 0 ? std::optional(plate.thickness) : std::nullopt);
  wall_x_->show_value(plate.wall_x);
  wall_y_->show_value(plate.wall_y);
  tool_->show_value(tool_diameter > 0 ? std::optional(tool_diameter) : std::nullopt);
  stock_->show_value(stock_thickness > 0 ? std::optional(stock_thickness) : std::nullopt);
  update();
}

PlateSection::Places PlateSection::places() const {
  const double bed = height() - 40.0, stock = std::clamp(height() * 0.24, 54.0, 110.0);
  const double left = std::max(70.0, width() * 0.14), right = width() * 0.46;
  return {left, right, bed, bed - stock, bed - stock - plate_px, left + (right - left) * 0.3};
}

QRectF PlateSection::corner() const {
  const double side = std::clamp(width() * 0.16, 70.0, 120.0);
  return {width() - side - 30, height() / 2.0 - side + 10, side, side};
}

void PlateSection::place_fields() {
  const Places p = places();
  const double high = stock_->height();
  const auto put = [](LengthField* f, double x, double y) { put_on_drawing(*f, {x + section_field_px / 2, y}); };
  put(thickness_, p.right + 14, p.plate_top + 10);
  put(stock_, p.right + 14, (p.stock_top + p.bed) / 2);
  put(tool_, p.tool_x + 60, p.plate_top - 82);
  const QRectF c = corner();
  // Beside each other where there is room, else one below the other.
  const double x = std::max(c.left() - lip_px - section_field_px / 2 - 6, p.right + 22 + section_field_px),
               y = c.right() - section_field_px + 30, low = std::min(c.bottom() + 58, height() - 8 - 1.5 * high);
  put(wall_x_, x, low);
  put(wall_y_, y, x + section_field_px + 6 > y ? low + high + 4 : low);
}

void PlateSection::resizeEvent(QResizeEvent*) {
  place_fields();
}

void PlateSection::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const Places p = places();
  draft.text({8, 16}, tr("Section, from the front"), theme().second_ink, 11);
  const QRectF bed(20, p.bed, p.right + 20, 14), stock(p.left, p.stock_top, p.right - p.left, p.bed - p.stock_top);
  draft.box(bed, theme().ink, theme().paper, 1.4);
  draft.hatch(bed, theme().second_ink, 8);
  draft.text({24, p.bed + 30}, tr("bed"), theme().second_ink, 11);
  draft.box(stock, theme().ink, theme().stock, 1.4);
  draft.hatch(stock, theme().rule);
  draft.text({stock.left() + 10, stock.bottom() - 10}, tr("stock"), theme().ink, 11);
  const double plate_right = p.left + (p.right - p.left) * 0.62,
               plate_left = has_walls_ ? p.left - lip_px : p.left + 10;
  draft.box(QRectF(plate_left, p.plate_top, plate_right - plate_left, plate_px), theme().ink, theme().teal_soft, 1.4);
  if (has_walls_)
    draft.box(QRectF(plate_left, p.plate_top, lip_px, plate_px + 26), theme().ink, theme().teal_soft, 1.4);
  draft.text({plate_right - 8, p.plate_top + 17}, tr("plate"), theme().ink, 11, false, Qt::AlignRight);
  draft.tool_elevation({p.tool_x, p.plate_top - 34}, 22, 62, 40);
  draft.line({p.tool_x, p.plate_top - 30}, {p.tool_x, p.plate_top - 4}, theme().red, 1.4, Qt::DashLine);
  draft.arrow_head({p.tool_x, p.plate_top - 3}, {0, 1}, theme().red, 8);
  draft.line({p.tool_x + 12, p.plate_top - 80}, {p.tool_x + 58, p.plate_top - 82}, theme().second_ink);
  const auto dimension = [&](double x, double from, double to) {
    draft.line({x, from}, {x, to}, theme().second_ink);
    draft.arrow_head({x, from}, {0, -1}, theme().second_ink);
    draft.arrow_head({x, to}, {0, 1}, theme().second_ink);
  };
  draft.line({plate_right, p.plate_top}, {p.right + 12, p.plate_top}, theme().rule);
  draft.line({p.right, p.stock_top}, {p.right + 12, p.stock_top}, theme().rule);
  dimension(p.right + 6, p.plate_top, p.stock_top);
  dimension(p.right + 6, p.stock_top, p.bed);

  const QRectF c = corner();
  draft.text({c.left() - lip_px, 16}, tr("Plan of the corner"), theme().second_ink, 11);
  draft.box(c, theme().ink, theme().stock, 1.4);
  const double lip = has_walls_ ? lip_px : 0;
  // Front left: the plate's walls hang outside the stock.
  QRectF plate(c.left() - lip, c.bottom() - c.height() * 0.62 + lip, c.width() * 0.62 + lip, c.height() * 0.62);
  QColor shade = theme().teal_soft;
  shade.setAlpha(200);
  draft.box(plate, theme().ink, shade, 1.4);
  draft.tool_plan({plate.left() + plate.width() * 0.45, plate.top() + plate.height() * 0.5}, 8);
  draft.zero(c.bottomLeft());
  draft.line({c.left() - lip / 2, c.bottom() + lip + 6}, {c.left() - lip / 2, c.bottom() + 42}, theme().second_ink);
  draft.line({c.left() + c.width() * 0.5, c.bottom() + lip / 2}, {c.right() - 10, c.bottom() + 42}, theme().second_ink);
  draft.text({c.left() - lip_px - section_field_px / 2, c.bottom() + 88}, tr("wall X"), theme().second_ink, 11);
  draft.text({c.right() - section_field_px + 36, c.bottom() + 88}, tr("wall Y"), theme().second_ink, 11);
}

}  // namespace ypsi::app
