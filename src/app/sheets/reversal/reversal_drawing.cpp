#include "app/sheets/reversal/reversal_drawing.h"

#include <algorithm>

#include "app/drawing/draft.h"

namespace ypsi::app {
namespace {
constexpr double blade_field_px = 100, stock_px = 120, thick_px = 18;
}

ReversalDrawing::ReversalDrawing(const QString& name, const ReversalWords& words, QWidget* parent)
    : QWidget(parent), words_(words) {
  setObjectName(name + "-drawing");
  setAccessibleName(tr("The square as it is and turned over"));
  setMinimumHeight(280);
  const auto field = [&](const char* part, const QString& what, int decimals) {
    auto* f = new LengthField(name + part, what, this);
    f->set_decimals(decimals);
    f->setFixedWidth(static_cast<int>(blade_field_px));
    return f;
  };
  length_ = field("-length", words.along, 0);
  first_ = field("-first", words.first, 3);
  turned_ = field("-turned", words.turned, 3);
}

void ReversalDrawing::set_words(const ReversalWords& words) {
  words_ = words;
  for (auto [f, what] : {std::pair{length_, words.along}, {first_, words.first}, {turned_, words.turned}}) {
    f->setToolTip(what);
    f->setAccessibleName(what);
  }
  update();
}

void ReversalDrawing::show(double length, std::optional<double> first, std::optional<double> turned, LengthUnit unit) {
  for (auto* f : {length_, first_, turned_}) f->set_unit(unit);
  length_->show_value(length);
  first_->show_value(first);
  turned_->show_value(turned);
  update();
}

QPointF ReversalDrawing::corner(bool turned) const {
  // The blade's inner edge; turned over, the stock lies on its other side.
  return {turned ? width() - std::max(100.0, width() * 0.22) : std::max(170.0, width() * 0.32), height() - 66.0};
}

void ReversalDrawing::resizeEvent(QResizeEvent*) {
  for (const bool turned : {false, true}) {
    const QPointF c = corner(turned);
    put_on_drawing(*(turned ? turned_ : first_), {c.x(), c.y() - blade() - 14 - length_->height() / 2.0});
  }
  const QPointF c = corner(false);
  put_on_drawing(*length_, {c.x() - 58 - blade_field_px / 2, c.y() - blade() / 2});
}

void ReversalDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  for (const bool turned : {false, true}) {
    const QPointF c = corner(turned);
    const double side = turned ? 1 : -1;
    // Stock along X, blade along Y; the indicator runs along the blade's right edge.
    draft.box(QRectF(turned ? c.x() - thick_px : c.x() - stock_px, c.y(), stock_px, thick_px), theme().ink,
              theme().stock, 1.4);
    draft.box(QRectF(c.x() - thick_px, c.y() - blade(), thick_px, blade()), theme().ink, theme().paper, 1.4);
    draft.text({c.x() + side * 30 - (turned ? 20 : 40), c.y() + 40}, turned ? words_.other_way : tr("as it is"),
               theme().ink, 12, true, Qt::AlignHCenter);
    draft.line({c.x() + 12, c.y() - 10}, {c.x() + 12, c.y() - blade()}, theme().teal, 2);
    draft.arrow_head({c.x() + 12, c.y() - blade()}, {0, -1}, theme().teal, 12);
    draft.text({c.x(), c.y() - blade() - 50}, words_.leaves, theme().second_ink, 11, false, Qt::AlignHCenter);
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(theme().teal_soft);
    painter.drawEllipse(QPointF(c.x() + 16, c.y() - 16), 7, 7);
    painter.setBrush(Qt::NoBrush);
    draft.text({c.x() + 30, c.y() - 12}, tr("set to zero here"), theme().second_ink, 11);
  }
  if (words_.stands) {
    const double bed = corner(false).y() + thick_px;
    draft.line({40, bed}, {width() - 20.0, bed}, theme().ink, 1.6);
    draft.hatch(QRectF(40, bed, width() - 60.0, 7), theme().second_ink);
  }
  const QPointF c = corner(false);
  const double x = c.x() - thick_px - 18;
  draft.line({x, c.y()}, {x, c.y() - blade()}, theme().second_ink);
  draft.arrow_head({x, c.y()}, {0, 1}, theme().second_ink);
  draft.arrow_head({x, c.y() - blade()}, {0, -1}, theme().second_ink);
}

}  // namespace ypsi::app
